/** What must hold of how an account in a department gets its plan. */
import { planFault } from '../../company/chart';
import type { ModelDefinition } from '../driver-model/schema';
import type { BasisEntry } from '../../inputs/basis';
import type { Structure } from '../../company/structure';

/** One mistake: which part of the entry, and what is wrong. */
export interface BasisFault {
	column: 'account' | 'department' | 'of_account' | 'driver';
	message: string;
}

/** Whether a line of a driver model can carry an account: what cannot be summed over members cannot. */
export const carriesAccounts = (definition: ModelDefinition, line: ModelDefinition['lines'][number]) =>
	line.rollup.members === 'sum' || definition.dimensions.length === 0;

/** @param definitions the scenario's models */
export function basisFaults(
	{ account, department, basis }: BasisEntry,
	{ accounts, departmentRow }: Structure,
	definitions: readonly ModelDefinition[]
): BasisFault[] {
	const faults: BasisFault[] = [];
	const say = (column: BasisFault['column'], message: string | null) => {
		if (message !== null) faults.push({ column, message });
	};
	say('account', planFault(accounts, account));
	if (!departmentRow.has(department))
		say('department', `“${department}” is no department that takes figures.`);
	if (basis.kind === 'percent-of') say('of_account', planFault(accounts, basis.account));
	if (basis.kind === 'driver') {
		const [model, code] = basis.driver.split('.');
		const definition = definitions.find((d) => d.code === model);
		const line = definition?.lines.find((l) => l.code === code);
		if (!definition || !line) say('driver', `“${basis.driver}” is no line of a driver model (model.line).`);
		else if (!carriesAccounts(definition, line))
			say(
				'driver',
				`“${basis.driver}” is no line that an account can be planned by: over members it does not add up.`
			);
	}
	return faults;
}
