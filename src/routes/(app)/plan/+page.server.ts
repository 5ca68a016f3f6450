import { readDepartmentPlan } from '$lib/server/department-plan';
import { page } from '$lib/server/http';
import { selectionFrom } from '$lib/server/selection';

export const load = ({ locals, url }) =>
	page({ locals }, async (db, user) => {
		const s = await selectionFrom(db, user, url);
		return {
			plan: s.scenario ? await readDepartmentPlan(db, user, s.scenario, s.department, s.from, s.to) : null
		};
	});
