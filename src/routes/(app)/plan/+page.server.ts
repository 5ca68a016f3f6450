import { readDepartmentPlan } from '$lib/server/accounts/department-plan';
import { page } from '$lib/server/doors/http';
import { selectionFrom } from '$lib/server/scenarios/selection';
import { rowsToText } from '$lib/core/views/row-text';

export const load = ({ locals, url }) =>
	page({ locals }, async (db, user) => {
		const s = await selectionFrom(db, user, url);
		if (!s.scenario) return { plan: null, rows: rowsToText([]) };
		const { rows, ...plan } = await readDepartmentPlan(db, user, s.scenario, s.department, s.from, s.to);
		return { plan, rows: rowsToText(rows) };
	});
