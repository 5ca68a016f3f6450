import { readDepartmentPlan } from '$lib/server/accounts/department-plan';
import { page } from '$lib/server/doors/http';
import { selectionFrom } from '$lib/server/scenarios/selection';
import { rowsToText } from '$lib/core/views/row-text';

export const load = ({ locals, url }) =>
	page({ locals }, async (context) => {
		const s = await selectionFrom(context, url);
		if (!s.scenario) return { plan: null, rows: rowsToText([]) };
		const { scenario, department, from, to, money } = s;
		const { rows, ...plan } = await readDepartmentPlan(context, scenario, department, from, to, null, money);
		return { plan, rows: rowsToText(rows) };
	});
