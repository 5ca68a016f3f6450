/** The states of one department's part in a round, and who may move it on. */

export const SUBMISSION_STATES = [
	'not started',
	'drafting',
	'submitted',
	'in review',
	'returned',
	'approved'
] as const;
export type SubmissionState = (typeof SUBMISSION_STATES)[number];

export const SUBMISSION_ACTIONS = [
	'edit',
	'submit',
	'withdraw',
	'review',
	'return',
	'approve',
	'reopen'
] as const;
export type SubmissionAction = (typeof SUBMISSION_ACTIONS)[number];

interface Step {
	from: readonly SubmissionState[];
	to: SubmissionState;
	/** Whose move it is. */
	by: 'owner' | 'reviewer';
	/** A comment must be given. */
	reason: boolean;
}

const STEPS: Record<SubmissionAction, Step> = {
	edit: { from: ['not started', 'drafting', 'returned'], to: 'drafting', by: 'owner', reason: false },
	submit: { from: ['not started', 'drafting', 'returned'], to: 'submitted', by: 'owner', reason: false },
	withdraw: { from: ['submitted'], to: 'drafting', by: 'owner', reason: true },
	review: { from: ['submitted'], to: 'in review', by: 'reviewer', reason: false },
	return: { from: ['submitted', 'in review'], to: 'returned', by: 'reviewer', reason: true },
	approve: { from: ['submitted', 'in review'], to: 'approved', by: 'reviewer', reason: false },
	reopen: { from: ['approved'], to: 'returned', by: 'reviewer', reason: true }
};

export interface SubmissionRights {
	owner: boolean;
	reviewer: boolean;
}

/** The moves that are open to someone with these rights. */
export function movesFrom(state: SubmissionState, rights: SubmissionRights): SubmissionAction[] {
	return SUBMISSION_ACTIONS.filter((action) => {
		const step = STEPS[action];
		return step.from.includes(state) && rights[step.by];
	});
}

/** Whether the department's plan may be written in this state. */
export function isEditable(state: SubmissionState): boolean {
	return STEPS.edit.from.includes(state);
}

/** The next state, or why the move cannot be made. */
export function move(
	state: SubmissionState,
	action: SubmissionAction,
	rights: SubmissionRights,
	comment: string
): { state: SubmissionState } | { refused: string } {
	const step = STEPS[action];
	if (!step.from.includes(state))
		return { refused: `A plan that is ${state} cannot be moved by “${action}”.` };
	if (!rights[step.by])
		return {
			refused:
				step.by === 'owner'
					? 'Only those who plan this department may do that.'
					: 'Only a reviewer of this department may do that.'
		};
	if (step.reason && comment.trim() === '') return { refused: 'Say why, in a sentence.' };
	return { state: step.to };
}
