import { mustMay } from '$lib/server/platform/auth/policy';
import { changesBetween, proposeClose } from '$lib/server/scenarios/close';
import { page } from '$lib/server/doors/http';
import { scenarioEntries } from '$lib/server/scenarios/list';
import { getScenario, visibleScenarios } from '$lib/server/scenarios/scenarios';
import { selectionFrom } from '$lib/server/scenarios/selection';
import { companyState } from '$lib/server/company/structure';

export const load = ({ locals, url }) =>
	page({ locals }, async (context) => {
		const { structure, rateSets } = await companyState(context.db);
		mustMay(context.user, 'see scenarios', structure.departments);
		const s = await selectionFrom(context, url);
		const scenarios = await visibleScenarios(context);
		const current = scenarios.find((x) => x.code === s.scenario);
		const origin =
			current?.origin && scenarios.some((x) => x.code === current.origin)
				? await getScenario(context.db, current.origin)
				: null;
		return {
			list: await scenarioEntries(context),
			rateSets: rateSets.map(({ code, name, actuals }) => ({ code, name, actuals })),
			users: await context.db('user').orderBy('name').select('email', 'name').where({ disabled: 0 }),
			proposal: context.user.role === 'analyst' ? await proposeClose(context) : null,
			changes:
				current && origin && current.kind !== 'actuals'
					? { against: origin.name, ...(await changesBetween(context.db, current, origin)) }
					: null
		};
	});
