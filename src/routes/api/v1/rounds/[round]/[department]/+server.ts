import { z } from 'zod';
import { SUBMISSION_ACTIONS } from '$lib/core/collect/submission';
import { api, body } from '$lib/server/http';
import { moveSubmission } from '$lib/server/submissions';

const Move = z.strictObject({
	action: z.enum(SUBMISSION_ACTIONS).exclude(['edit']),
	comment: z.string().max(4000).default(''),
	/** The figures' mark, as shown; needed to approve. */
	mark: z.string().nullable().default(null)
});

export const POST = api(async ({ db, user, event }) => {
	const { action, comment, mark } = await body(event, Move);
	const { round, department } = event.params as { round: string; department: string };
	return { state: await moveSubmission(db, user, { round, department }, action, comment, mark) };
});
