/** What must hold of an adjustment before anything is calculated under it. */
import { planFault } from '../company/chart';
import { LEDGER_BLOCK } from '../blocks/accounts/schema';
import type { AdjustmentDefinition } from '../inputs/schema';
import type { ModelDefinition } from '../blocks/driver-model/schema';
import { takesTyping } from '../blocks/driver-model/scope';
import { treeOf, type Structure } from '../company/structure';

/** One mistake: in which step (`steps.1.lines`), and what is wrong. */
export interface AdjustmentFault {
	column: string;
	message: string;
}

/** @param definitions the scenario's models */
export function adjustmentFaults(
	{ steps }: AdjustmentDefinition,
	structure: Structure,
	definitions: readonly ModelDefinition[]
): AdjustmentFault[] {
	const faults: AdjustmentFault[] = [];
	const { calendar, accounts } = structure;
	steps.forEach((step, i) => {
		const say = (part: string, message: string) => faults.push({ column: `steps.${i + 1}.${part}`, message });
		for (const { block, line } of step.lines) {
			const model = definitions.find((d) => d.code === block);
			const own = model?.lines.find((l) => l.code === line);
			const fault = block === LEDGER_BLOCK ? planFault(accounts, line) : null;
			if (fault) say('lines', fault);
			else if (block !== LEDGER_BLOCK && !own) say('lines', `there is no line “${block}.${line}”`);
			else if (own && !takesTyping(own))
				say(
					'lines',
					`${block}.${line} is computed; an adjustment changes what is typed. Adjust what it is computed from`
				);
			const dimensions = block === LEDGER_BLOCK ? ['department'] : (model?.dimensions ?? []);
			for (const dimension of Object.keys(step.where))
				if ((model || block === LEDGER_BLOCK) && !dimensions.includes(dimension))
					say(
						'where',
						`${block === LEDGER_BLOCK ? 'accounts have' : `the model “${model!.name}” has`} no dimension “${dimension}”, so the step would change nothing there`
					);
		}
		for (const [dimension, member] of Object.entries(step.where))
			if (treeOf(structure, dimension) && !treeOf(structure, dimension)!.get(member))
				say('where', `there is no ${dimension} “${member}”`);
		const [from, to] = [step.from, step.to].map((m) => (m === undefined ? undefined : calendar.parse(m)));
		for (const part of ['from', 'to'] as const)
			if (step[part] !== undefined && calendar.parse(step[part]) === null)
				say(part, `“${step[part]}” is no month such as 2026-10`);
		if (typeof from === 'number' && typeof to === 'number' && to < from)
			say('to', `${step.to} lies before ${step.from}`);
	});
	return faults;
}
