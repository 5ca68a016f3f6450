import { mustMay } from '$lib/server/platform/auth/policy';
import { readProfiles } from '$lib/server/company/subjects/profiles';
import { page } from '$lib/server/doors/http';
import { companyState } from '$lib/server/company/structure';

export const load = ({ locals }) =>
	page({ locals, module: 'seasonality' }, async (context) => {
		const { structure } = await companyState(context.db);
		mustMay(context.user, 'see driver models', structure.departments);
		return { profiles: await readProfiles(context.db) };
	});
