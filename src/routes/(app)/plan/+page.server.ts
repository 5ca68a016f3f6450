import { readDepartmentPlan } from '$lib/server/accounts/department-plan';
import { page } from '$lib/server/doors/http';
import { selectionFrom } from '$lib/server/scenarios/selection';
import { rowsToText } from '$lib/core/views/row-text';

export const load = ({ locals, url }) =>
	page({ locals }, async (context) => {
		const s = await selectionFrom(context, url);
		if (!s.scenario) return { plan: null, rows: rowsToText([]) };
		const { rows, ...plan } = await readDepartmentPlan(context, s.scenario, s.department, s.from, s.to);
		return { plan, rows: rowsToText(rows) };
	});
