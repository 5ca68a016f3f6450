import { mustMay } from '$lib/server/auth/policy';
import { readProfiles } from '$lib/server/db/rows';
import { page } from '$lib/server/http';
import { companyState } from '$lib/server/structure';

export const load = ({ locals }) =>
	page({ locals }, async (db, user) => {
		const { structure } = await companyState(db);
		mustMay(user, 'see driver models', structure.departments);
		return { profiles: await readProfiles(db) };
	});
