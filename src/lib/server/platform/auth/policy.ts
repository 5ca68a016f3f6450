/** Answers "may this user do this here". Every page and API route asks here, and nowhere else. */
import type { Tree } from '../../../core/company/tree';
import type { Department } from '../../../core/company/schema';
import type { SubmissionRights } from '../../../core/rounds/submission';
import type { Shown } from './roles';
import { Refusal } from '../refusal';
import type { User } from './sessions';

/** Things that concern the whole company. */
export type Action =
	| 'run feeds'
	| 'map ledger accounts'
	| 'manage people'
	| 'change accounts'
	| 'change departments'
	| 'set exchange rates'
	| 'take the company'
	| 'change the company'
	| 'see driver models'
	| 'change driver models'
	| 'see schedules'
	| 'read schedules'
	| 'change schedules'
	| 'see individual pay'
	| 'close months'
	| 'see scenarios'
	| 'change scenarios'
	| 'manage rounds'
	| 'plan figures'
	| 'write notes'
	| 'move submissions';

/** All of the company, rather than a part: the role covers every root department. */
export function coversAll(user: User, departments: Tree<Department>): boolean {
	return departments.roots.every((root) => user.departments.includes(root.code));
}

export function may(user: User, action: Action, departments: Tree<Department>): boolean {
	switch (action) {
		case 'see driver models':
		case 'see scenarios':
			return user.role === 'analyst' || (user.role !== 'contributor' && coversAll(user, departments));
		case 'plan figures':
			return user.role === 'analyst' || user.role === 'contributor';
		case 'write notes':
		case 'move submissions':
			return user.role !== 'viewer';
		case 'see individual pay':
			return user.pay;
		// Rows of the departments that somebody reads.
		case 'read schedules':
			return true;
		default:
			return user.role === 'analyst';
	}
}

export function mustMay(user: User, action: Action, departments: Tree<Department>): void {
	if (!may(user, action, departments))
		throw new Refusal(403, `Your role (${user.role}) may not ${action}. Ask an analyst.`);
}

/** Whether a scenario is there for a user at all. */
export function maySeeScenario(
	user: User,
	{ visibility, people, owner }: Shown,
	departments: Tree<Department>
): boolean {
	if (visibility === 'all') return true;
	if (visibility === 'people') return owner === user.email || people.includes(user.email);
	return user.role === 'analyst' || (user.role !== 'contributor' && coversAll(user, departments));
}

/** Whether figures of a department, with all under it, may be read. */
export function mayRead(user: User, department: string, departments: Tree<Department>): boolean {
	return user.role === 'analyst' || user.departments.some((root) => departments.within(department, root));
}

export function mustRead(user: User, department: string, departments: Tree<Department>): void {
	if (!departments.get(department)) throw new Refusal(404, `There is no department “${department}”.`);
	if (!mayRead(user, department, departments))
		throw new Refusal(403, `You may not see the figures of ${departments.get(department)!.name}.`);
}

/** The departments a user may open, topmost first. */
export function readableRoots(user: User, departments: Tree<Department>): Department[] {
	if (user.role === 'analyst') return departments.roots;
	return departments.all.filter(
		(d) =>
			user.departments.includes(d.code) &&
			!departments
				.ancestors(d.code)
				.slice(1)
				.some((a) => user.departments.includes(a.code))
	);
}

/** A user's part in a department's submission. An analyst may also act for the owner. */
export function submissionRights(
	user: User,
	department: string,
	departments: Tree<Department>
): SubmissionRights {
	const within = mayRead(user, department, departments);
	return {
		owner: within && (user.role === 'contributor' || user.role === 'analyst'),
		reviewer: within && (user.role === 'reviewer' || user.role === 'analyst')
	};
}
