/** How a user reads and writes: kept with the user, whatever the machine. */
import { z } from 'zod';
import * as stored from './db/stored';
import type { Context } from './context';

export const Preferences = z.strictObject({
	/** Decimal sign, in what is shown and what is typed. */
	decimal: z.enum(['.', ',']).default('.'),
	negative: z.enum(['minus', 'brackets']).default('minus'),
	/** Height of a grid's rows. */
	density: z.enum(['roomy', 'dense']).default('roomy')
});
export type Preferences = z.infer<typeof Preferences>;

const PreferenceRow = z.object({ name: stored.text, value: stored.text });

export async function preferencesOf(context: Context): Promise<Preferences> {
	const { db, user } = context;
	const rows = await stored.rows(
		PreferenceRow,
		db('preference').where({ user: user.email }).select('name', 'value')
	);
	// One that is no longer known, or no longer has this value, falls back to the usual.
	const parsed = Preferences.partial().safeParse(Object.fromEntries(rows.map((r) => [r.name, r.value])));
	return Preferences.parse(parsed.success ? parsed.data : {});
}

export async function setPreferences(context: Context, change: Partial<Preferences>): Promise<void> {
	const { db, user } = context;
	for (const [name, value] of Object.entries(change))
		await db('preference')
			.insert({ user: user.email, name, value })
			.onConflict(['user', 'name'])
			.merge(['value']);
}
