import { z } from 'zod';
import { readDepartmentPlan } from '$lib/server/accounts/department-plan';
import { api, query } from '$lib/server/doors/http';
import { inOrder, Known, Window } from '$lib/server/platform/schemas';

const Query = z.object({ scenario: Known, department: Known, ...Window }).superRefine(inOrder);

export const GET = api(async ({ db, user, event }) => {
	const q = query(event.url, Query);
	return readDepartmentPlan(db, user, q.scenario, q.department, q.from, q.to);
});
