import { listRuns } from '$lib/server/ledger/feed';
import { openMonths } from '$lib/server/ledger/months';
import { mustMay } from '$lib/server/platform/auth/policy';
import { page } from '$lib/server/doors/http';
import { readMap } from '$lib/server/ledger/map';
import { companyState } from '$lib/server/company/structure';

export const load = ({ locals }) =>
	page({ locals }, async (db, user) => {
		const { structure, actuals } = await companyState(db);
		mustMay(user, 'run feeds', structure.departments);
		return {
			runs: await listRuns(db, user),
			openMonths: await openMonths(db, user),
			planning: (await readMap(db, user)).planning,
			dimensionNames: [...structure.dimensions.values()].map(({ dimension }) => ({
				code: dimension.code,
				name: dimension.name
			})),
			loaded: actuals.last >= 0 ? { first: actuals.first, last: actuals.last } : null
		};
	});
