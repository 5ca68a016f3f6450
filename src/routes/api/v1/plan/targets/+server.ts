import { z } from 'zod';
import { asked } from '$lib/server/doors/http';
import { inCalendar, inOrder, Known, Window } from '$lib/server/platform/schemas';
import { readTargets } from '$lib/server/accounts/targets';

const Query = inCalendar((calendar) =>
	z.object({ scenario: Known, ...Window(calendar) }).superRefine(inOrder)
);

export const GET = asked(Query, ({ db, user, input: { scenario, from, to } }) =>
	readTargets(db, user, scenario, from, to)
);
