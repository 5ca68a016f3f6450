/** Lines of driver models that a basis may name. */
import { carriesAccounts } from '../../core/blocks/accounts/check-basis';
import type { PlanRow } from '../../core/views/plan-rows';
import type { Plan } from '../../core/scenario/plan';
import { may } from '../platform/auth/policy';
import type { User } from '../platform/auth/sessions';

export interface BasisDriver {
	/** `model.line` */
	code: string;
	name: string;
}

/** All that an account can be planned by; for those who may not see driver models only those in use in these rows. */
export function driversOf(plan: Plan, user: User, rows: readonly PlanRow[]): BasisDriver[] {
	const all = [...plan.models.values()].flatMap(({ definition }) =>
		definition.lines
			.filter((l) => carriesAccounts(definition, l))
			.map((l) => ({ code: `${definition.code}.${l.code}`, name: `${definition.name}: ${l.label}` }))
	);
	if (may(user, 'see driver models', plan.structure.departments)) return all;
	const used = new Set(
		rows.flatMap(({ origin }) =>
			origin?.kind === 'basis' && origin.basis.kind === 'driver' ? [origin.basis.driver] : []
		)
	);
	return all.filter((d) => used.has(d.code));
}
