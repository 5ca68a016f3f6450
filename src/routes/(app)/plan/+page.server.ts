import { readDepartmentPlan } from '$lib/server/department-plan';
import { page } from '$lib/server/http';
import { selectionFrom } from '$lib/server/selection';
import { rowsToText } from '$lib/ui/row-text';

export const load = ({ locals, url }) =>
	page({ locals }, async (db, user) => {
		const s = await selectionFrom(db, user, url);
		if (!s.scenario) return { plan: null, rows: rowsToText([]) };
		const { rows, ...plan } = await readDepartmentPlan(db, user, s.scenario, s.department, s.from, s.to);
		return { plan, rows: rowsToText(rows) };
	});
