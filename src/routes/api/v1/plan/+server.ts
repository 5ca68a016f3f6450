import { inOwnWriting } from '$lib/server/doors/writing';
import { PLAN_PERIODS } from '$lib/core/views/written';
import { z } from 'zod';
import { readDepartmentPlan } from '$lib/server/accounts/department-plan';
import { asked } from '$lib/server/doors/http';
import { inCalendar, inOrder, Known, Money, Window } from '$lib/server/platform/schemas';

const Query = inCalendar((calendar) =>
	z
		.object({
			scenario: Known,
			department: Known,
			like: Known.optional(),
			money: Money.optional(),
			...Window(calendar)
		})
		.superRefine(inOrder)
);

export const GET = asked(Query, async ({ context, input: q }) =>
	inOwnWriting(
		await readDepartmentPlan(context, q.scenario, q.department, q.from, q.to, q.like, q.money),
		PLAN_PERIODS
	)
);
