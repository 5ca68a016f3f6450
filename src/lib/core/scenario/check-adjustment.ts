/** What must hold of an adjustment before anything is calculated under it. */
import type { Block } from '../blocks/block';
import type { AdjustmentDefinition } from '../inputs/schema';
import { treeOf, type Structure } from '../company/structure';

/** One mistake: in which step (`steps.1.lines`), and what is wrong. */
export interface AdjustmentFault {
	column: string;
	message: string;
}

/** @param blocks those of the scenario */
export function adjustmentFaults(
	{ steps }: AdjustmentDefinition,
	structure: Structure,
	blocks: ReadonlyMap<string, Block>
): AdjustmentFault[] {
	const faults: AdjustmentFault[] = [];
	const { calendar } = structure;
	steps.forEach((step, i) => {
		const say = (part: string, message: string) => faults.push({ column: `steps.${i + 1}.${part}`, message });
		for (const { block, line } of step.lines) {
			const own = blocks.get(block);
			const fault = own ? own.adjustmentFault(line, step) : `there is no line “${block}.${line}”`;
			if (fault) say('lines', fault);
			for (const [key, value] of Object.entries(step.where)) {
				const trait = own?.traits.find((t) => t.code === key);
				const wrong = trait?.fault(value);
				if (wrong) say('where', `${trait!.label}: ${wrong}`);
				if (own && !trait && !own.dimensions.includes(key))
					say('where', `${own.has} no ${unknown(own)} “${key}”, so the step would change nothing there`);
			}
		}
		const kept = new Set(
			step.lines.map((l) => blocks.get(l.block)?.calendar.words.many ?? calendar.words.many)
		);
		if (step.operation === 'shift' && kept.size > 1)
			say(
				'lines',
				`are kept in ${[...kept].join(' and in ')}; move those of one kind in a step of their own`
			);
		const traits = new Set(step.lines.flatMap((l) => blocks.get(l.block)?.traits.map((t) => t.code) ?? []));
		for (const [dimension, member] of Object.entries(step.where))
			if (
				!traits.has(dimension) &&
				treeOf(structure, dimension) &&
				!treeOf(structure, dimension)!.get(member)
			)
				say('where', `there is no ${dimension} “${member}”`);
		const [from, to] = [step.from, step.to].map((m) => (m === undefined ? undefined : calendar.parse(m)));
		for (const part of ['from', 'to'] as const)
			if (step[part] !== undefined && calendar.parse(step[part]) === null)
				say(part, `“${step[part]}” is no ${calendar.words.one} such as ${calendar.words.sample}`);
		if (typeof from === 'number' && typeof to === 'number' && to < from)
			say('to', `${step.to} lies before ${step.from}`);
	});
	return faults;
}

const unknown = ({ traits }: Block) => (traits.length ? 'column or dimension' : 'dimension');
