import { inOwnWriting } from '$lib/server/doors/writing';
import { PLAN_PERIODS } from '$lib/core/views/written';
import { z } from 'zod';
import { asked } from '$lib/server/doors/http';
import { inCalendar, inOrder, Known, Money, Window } from '$lib/server/platform/schemas';
import { readTargets } from '$lib/server/accounts/targets';

const Query = inCalendar((calendar) =>
	z.object({ scenario: Known, money: Money.optional(), ...Window(calendar) }).superRefine(inOrder)
);

export const GET = asked(Query, async ({ context, input: { scenario, from, to, money } }) =>
	inOwnWriting(await readTargets(context, scenario, from, to, money), PLAN_PERIODS)
);
