/** Seasonal profiles of the company: kept, renamed, changed, removed. */
import { codeFor } from '../../core/company/code';
import type { Profile } from '../../core/inputs/schema';
import { profileToRow, readProfiles } from '../company/subjects/profiles';
import { note } from '../company/journal';
import { notFound, Refusal } from '../platform/refusal';
import { companyFor } from '../company/structure';
import { asOne, type Context } from '../platform/context';

export const MOST_PROFILES = 200;

export type ProfileInput = Omit<Profile, 'code'> & { code: string | null };

/**
 * Adds a profile (code null) or changes one.
 * @returns its code
 * @throws Refusal 404, 409 for a name that is taken, 422 for another number of weights than a year has periods
 */
export async function putProfile(context: Context, input: ProfileInput): Promise<string> {
	let code = input.code ?? '';
	await changeProfiles(context, (profiles, perYear) => {
		if (input.weights.length !== perYear)
			throw new Refusal(422, `A profile has ${perYear} weights, one a period of the year.`);
		if (profiles.some((p) => p.code !== input.code && p.name === input.name))
			throw new Refusal(409, `There is a profile named “${input.name}” already.`);
		if (input.code === null) {
			if (profiles.length >= MOST_PROFILES)
				throw new Refusal(422, `There are ${MOST_PROFILES} profiles already; remove one first.`);
			code = codeFor(
				input.name,
				'-',
				profiles.map((p) => p.code),
				'profile'
			);
			return [...profiles, { ...input, code }];
		}
		const at = profiles.findIndex((p) => p.code === input.code);
		if (at < 0) throw notFound(`The profile “${input.code}”`);
		return profiles.with(at, { ...input, code });
	});
	return code;
}

/** What was spread by it stays as it is. @throws Refusal 404 */
export async function removeProfile(context: Context, code: string): Promise<void> {
	await changeProfiles(context, (profiles) => {
		if (!profiles.some((p) => p.code === code)) throw notFound(`The profile “${code}”`);
		return profiles.filter((p) => p.code !== code);
	});
}

async function changeProfiles(
	context: Context,
	change: (profiles: Profile[], perYear: number) => Profile[]
): Promise<void> {
	const { user } = context;
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const { calendar } = await companyFor(within, 'change driver models');
		const before = await readProfiles(trx);
		const after = change(before, calendar.periodsPerYear);
		await trx('profile').delete();
		if (after.length) await trx('profile').insert(after.map(profileToRow));
		const words = (list: readonly Profile[], code: string) => {
			const profile = list.find((p) => p.code === code);
			return profile ? JSON.stringify(profile) : '';
		};
		const codes = [...new Set([...before, ...after].map((p) => p.code))];
		await note(
			trx,
			codes
				.filter((code) => words(before, code) !== words(after, code))
				.map((code) => ({
					user: user.email,
					kind: 'profile',
					scenario: '',
					about: { what: 'profile' as const, code },
					before: words(before, code),
					after: words(after, code),
					why: ''
				}))
		);
	});
}
