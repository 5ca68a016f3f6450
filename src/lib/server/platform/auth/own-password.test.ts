import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { openDatabase } from '../db/connect';
import { changePassword } from './own-password';
import { hashPassword } from './passwords';
import { digest, openSession, signIn, userOfSession, type User } from './sessions';

const user: User = { email: 'ada@lind.example', name: 'Ada', role: 'analyst', departments: ['a'], pay: true };
const other: User = { ...user, email: 'ben@lind.example', name: 'Ben' };
let db: Knex;
beforeEach(async () => {
	db = await openDatabase(':memory:');
	for (const [position, { departments, ...u }] of [user, other].entries())
		await db('user').insert({
			...u,
			departments: departments.join(';'),
			position,
			password_hash: await hashPassword('the first one')
		});
});
afterEach(() => db.destroy());

describe('one’s own password', () => {
	it('is changed by who knows the present one; other sessions of theirs end, and nobody else’s', async () => {
		const [here, there] = [await openSession(db, user.email), await openSession(db, user.email)];
		const bens = await openSession(db, other.email);
		const ended = await changePassword(
			{ db, user },
			{ present: 'the first one', next: 'the second one' },
			'1.1.1.1',
			here
		);
		expect(ended).toEqual([digest(there)]);
		expect(await userOfSession(db, here)).toMatchObject({ name: 'Ada' });
		expect(await userOfSession(db, there)).toBeNull();
		expect(await userOfSession(db, bens)).toMatchObject({ name: 'Ben' });
		await expect(signIn(db, user.email, 'the first one', '2.2.2.2')).rejects.toMatchObject({ status: 401 });
		await signIn(db, user.email, 'the second one', '2.2.2.2');
		await signIn(db, other.email, 'the first one', '2.2.2.2');
	});
	it('stays as it is for another than the present one, and guessing is counted', async () => {
		const here = await openSession(db, user.email);
		const guess = (n: number) =>
			changePassword({ db, user }, { present: `guess ${n}`, next: 'the second one' }, '3.3.3.3', here);
		for (let n = 0; n < 5; n++)
			await expect(guess(n)).rejects.toMatchObject({ status: 403, faults: [{ column: 'present' }] });
		await expect(guess(5)).rejects.toMatchObject({ status: 429 });
		await signIn(db, user.email, 'the first one', '4.4.4.4');
		expect(await userOfSession(db, here)).not.toBeNull();
	});
});
