/** How a user reads and writes: kept with the user, whatever the machine. */
import type { Knex } from 'knex';
import { z } from 'zod';
import type { User } from './auth/sessions';
import * as stored from './db/stored';

export const Preferences = z.strictObject({
	/** Decimal sign, in what is shown and what is typed. */
	decimal: z.enum(['.', ',']).default('.'),
	negative: z.enum(['minus', 'brackets']).default('minus'),
	/** Height of a grid's rows. */
	density: z.enum(['roomy', 'dense']).default('roomy')
});
export type Preferences = z.infer<typeof Preferences>;

const PreferenceRow = z.object({ name: stored.text, value: stored.text });

export async function preferencesOf(db: Knex, user: User): Promise<Preferences> {
	const rows = await stored.rows(
		PreferenceRow,
		db('preference').where({ user: user.email }).select('name', 'value')
	);
	// One that is no longer known, or no longer has this value, falls back to the usual.
	const parsed = Preferences.partial().safeParse(Object.fromEntries(rows.map((r) => [r.name, r.value])));
	return Preferences.parse(parsed.success ? parsed.data : {});
}

export async function setPreferences(db: Knex, user: User, change: Partial<Preferences>): Promise<void> {
	for (const [name, value] of Object.entries(change))
		await db('preference')
			.insert({ user: user.email, name, value })
			.onConflict(['user', 'name'])
			.merge(['value']);
}
