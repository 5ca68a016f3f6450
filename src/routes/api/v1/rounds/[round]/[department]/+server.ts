import { z } from 'zod';
import { SUBMISSION_ACTIONS } from '$lib/core/rounds/submission';
import { takes } from '$lib/server/doors/http';
import { Known, Prose } from '$lib/server/platform/schemas';
import { moveSubmission } from '$lib/server/rounds/submissions';

const Move = z.strictObject({
	action: z.enum(SUBMISSION_ACTIONS).exclude(['edit']),
	comment: Prose(4000).default(''),
	/** The figures' mark, as shown; needed to approve. */
	mark: Known.nullable().default(null)
});

export const POST = takes(
	{ may: 'move submissions', body: Move },
	async ({ context, event, input: { action, comment, mark } }) => {
		const { round, department } = event.params as { round: string; department: string };
		return { state: await moveSubmission(context, { round, department }, action, comment, mark) };
	}
);
