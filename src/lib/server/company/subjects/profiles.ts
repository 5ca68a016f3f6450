/** Seasonal profiles: kept shapes of the year. */
import type { Knex } from 'knex';
import { z } from 'zod';
import { Profile } from '../../../core/inputs/schema';
import { insertRows } from '../../platform/db/rows';
import type { Subject } from '../subject';
import * as stored from '../../platform/db/stored';

const FILE = 'profiles.json';

export const PROFILES: Subject<'profiles', Profile[]> = {
	name: 'profiles',
	files: [
		{
			path: FILE,
			says: 'seasonal profiles in order: `code`, `name`, `weights` (one a period, from the first of the fiscal year)'
		}
	],
	read(folder) {
		if (!folder.files.has(FILE)) return [];
		const { periodsPerYear } = folder.calendar;
		const list = folder.json(FILE, z.array(Profile).max(200)) ?? [];
		list.forEach((profile, i) => {
			if (profile.weights.length !== periodsPerYear)
				folder.faults.push({
					file: FILE,
					column: `${i + 1}.weights`,
					message: `there are ${profile.weights.length} weights; ${periodsPerYear} are needed, one a period of the year`
				});
			for (const key of ['code', 'name'] as const)
				if (list.findIndex((p) => p[key] === profile[key]) < i)
					folder.faults.push({
						file: FILE,
						column: `${i + 1}`,
						message: `“${profile[key]}” stands twice`
					});
		});
		return list;
	},
	write(profiles, folder) {
		if (profiles.length) folder.json(FILE, profiles);
	},
	store: (trx, profiles) => insertRows(trx, 'profile', profiles.map(profileToRow)),
	load: readProfiles
};

export const profileToRow = ({ code, name, weights }: Profile, position: number) => ({
	code,
	name,
	weights: JSON.stringify(weights),
	position
});

const ProfileRow = z.object({
	code: stored.text,
	name: stored.text,
	weights: stored.json(Profile.shape.weights)
});

/** Seasonal profiles in their order. */
export async function readProfiles(db: Knex): Promise<Profile[]> {
	return stored.rows(ProfileRow, db('profile').orderBy('position'));
}
