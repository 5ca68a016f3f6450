import { mustMay } from '$lib/server/platform/auth/policy';
import { changesBetween, proposeClose } from '$lib/server/scenarios/close';
import { page } from '$lib/server/doors/http';
import { scenarioEntries } from '$lib/server/scenarios/list';
import { getScenario, visibleScenarios } from '$lib/server/scenarios/scenarios';
import { selectionFrom } from '$lib/server/scenarios/selection';
import { companyState } from '$lib/server/company/structure';

export const load = ({ locals, url }) =>
	page({ locals }, async (db, user) => {
		const { structure } = await companyState(db);
		mustMay(user, 'see scenarios', structure.departments);
		const s = await selectionFrom(db, user, url);
		const scenarios = await visibleScenarios(db, user);
		const current = scenarios.find((x) => x.code === s.scenario);
		const origin =
			current?.origin && scenarios.some((x) => x.code === current.origin)
				? await getScenario(db, current.origin)
				: null;
		return {
			list: await scenarioEntries(db, user),
			users: await db('user').orderBy('name').select('email', 'name'),
			proposal: user.role === 'analyst' ? await proposeClose(db, user) : null,
			changes:
				current && origin && current.kind !== 'actuals'
					? { against: origin.name, ...(await changesBetween(db, current, origin)) }
					: null
		};
	});
