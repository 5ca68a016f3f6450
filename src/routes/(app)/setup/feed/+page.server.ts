import { listRuns } from '$lib/server/ledger/feed';
import { openMonths } from '$lib/server/ledger/months';
import { mustMay } from '$lib/server/platform/auth/policy';
import { page } from '$lib/server/doors/http';
import { readPlanning } from '$lib/server/ledger/map';
import { companyState } from '$lib/server/company/structure';

export const load = ({ locals }) =>
	page({ locals }, async (context) => {
		const { structure, actuals } = await companyState(context.db);
		mustMay(context.user, 'run feeds', structure.departments);
		return {
			runs: await listRuns(context),
			openMonths: await openMonths(context),
			planning: await readPlanning(context),
			dimensionNames: [...structure.dimensions.values()].map(({ dimension }) => ({
				code: dimension.code,
				name: dimension.name
			})),
			loaded: actuals.last >= 0 ? { first: actuals.first, last: actuals.last } : null
		};
	});
