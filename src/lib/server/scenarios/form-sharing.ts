/** Who may change forms of models and schedules in a scenario, and where else the same form is used. */
import type { Scenario } from '../../core/scenario/schema';
import type { User } from '../platform/auth/sessions';
import { usersOfForm, type FormKind } from '../company/subjects/forms-in-use';
import type { Context } from '../platform/context';
import { visibleScenarios } from './scenarios';

/** Why they are not changed there by somebody; empty where they are. @param what “Driver models” */
export function changesReason(user: User, scenario: Scenario, what: string): string {
	if (user.role !== 'analyst') return `${what} are changed by analysts.`;
	if (scenario.kind === 'actuals') return `Actuals have no ${what.toLowerCase()}.`;
	return scenario.locked ? `“${scenario.name}” is locked.` : '';
}

/** Other open scenarios that use the same form. */
export async function sharedWith(
	context: Context,
	kind: FormKind<unknown>,
	scenario: string,
	code: string
): Promise<{ code: string; name: string }[]> {
	const same = await usersOfForm(context.db, kind, scenario, code);
	return (await visibleScenarios(context))
		.filter((s) => s.code !== scenario && !s.locked && same.has(s.code))
		.map((s) => ({ code: s.code, name: s.name }));
}
