/** The stages of the work as a user sees them, with what is waiting. */
import type { Department } from '../../core/company/schema';
import type { Tree } from '../../core/company/tree';
import { isOff } from '../company/modules';
import { companyState } from '../company/structure';
import { may, mayRead, type Action } from '../platform/auth/policy';
import type { User } from '../platform/auth/sessions';
import { visibleScenarios } from '../scenarios/scenarios';
import * as stored from '../platform/db/stored';
import { SubmissionRow } from '../company/subjects/rounds';
import type { Context } from '../platform/context';

const StateRow = SubmissionRow.pick({ department: true, state: true });

export const ACTIONS: readonly Action[] = [
	'run feeds',
	'map ledger accounts',
	'manage people',
	'change accounts',
	'change departments',
	'set exchange rates',
	'take the company',
	'change the company',
	'see driver models',
	'change driver models',
	'see schedules',
	'read schedules',
	'change schedules',
	'see individual pay',
	'close months',
	'see scenarios',
	'change scenarios',
	'manage rounds'
];

export function actionsOf(user: User, departments: Tree<Department>): Record<string, boolean> {
	return Object.fromEntries(ACTIONS.map((a) => [a, may(user, a, departments)]));
}

export async function stagesFor(context: Context, departments: Tree<Department>) {
	const { db, user } = context;
	const stages: { href: string; name: string; note: string }[] = [];
	const add = (href: string, name: string, note = '') => stages.push({ href, name, note });
	if (may(user, 'run feeds', departments)) add('/setup', 'Set up');
	if (may(user, 'see driver models', departments)) add('/drivers', 'Drivers');
	add('/plan', 'Plan');
	const seen = (await visibleScenarios(context)).map((s) => s.code);
	const rows = (
		await stored.rows(
			StateRow,
			db('submission')
				.join('round', 'round.code', 'submission.round')
				.whereIn('round.scenario', seen)
				.select('department', 'state')
		)
	).filter((s) => mayRead(user, s.department, departments));
	const inside = rows.filter((s) => ['submitted', 'in review', 'approved'].includes(s.state)).length;
	const { company } = await companyState(db);
	if (!isOff(company, 'collecting') && user.role !== 'viewer' && (rows.length || user.role === 'analyst'))
		add('/collect', 'Collect', rows.length ? `${inside} of ${rows.length} in` : '');
	if (may(user, 'see scenarios', departments)) add('/forecast', 'Forecast');
	add('/compare', 'Compare');
	return stages;
}
