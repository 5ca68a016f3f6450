import { z } from 'zod';
import { readDepartmentPlan } from '$lib/server/accounts/department-plan';
import { asked } from '$lib/server/doors/http';
import { inCalendar, inOrder, Known, Window } from '$lib/server/platform/schemas';

const Query = inCalendar((calendar) =>
	z
		.object({ scenario: Known, department: Known, like: Known.optional(), ...Window(calendar) })
		.superRefine(inOrder)
);

export const GET = asked(Query, ({ db, user, input: q }) =>
	readDepartmentPlan(db, user, q.scenario, q.department, q.from, q.to, q.like)
);
