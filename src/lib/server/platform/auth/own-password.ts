/** Changing one's own password. */
import type { Context } from '../context';
import * as stored from '../db/stored';
import { Refusal } from '../refusal';
import { hashPassword } from './passwords';
import { digest, signIn } from './sessions';

/**
 * Sets another password, for who knows the present one; all other sessions of the user end.
 * @param address from which it is asked: wrong ones are counted as at sign-in
 * @param session the token of the session that stays
 * @returns hashes of the sessions that have ended
 * @throws Refusal 403 for another password than the present one, 429 after too many
 */
export async function changePassword(
	{ db, user }: Context,
	{ present, next }: { present: string; next: string },
	address: string,
	session: string
): Promise<string[]> {
	try {
		await signIn(db, user.email, present, address);
	} catch (e) {
		// Who is signed in stays so; 401 would say that the session has ended.
		if (e instanceof Refusal && e.status === 401)
			throw new Refusal(403, 'This is not your present password.', [
				{ column: 'present', message: 'it is another one' }
			]);
		throw e;
	}
	const password_hash = await hashPassword(next);
	return db.transaction(async (trx) => {
		await trx('user').where({ email: user.email }).update({ password_hash });
		const others = () =>
			trx('session')
				.where({ email: user.email })
				.whereNot({ token_hash: digest(session) });
		const ended = await stored.texts(others().pluck('token_hash'));
		await others().delete();
		return ended;
	});
}
