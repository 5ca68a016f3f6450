/** What of a scenario one of its blocks is made of: to calculate that block elsewhere, without all the others. */
import { ACCOUNTS_BLOCK } from '../engine/spec';
import type { Series } from '../inputs/series';
import type { ScenarioData } from './data';
import type { Plan } from './plan';

/**
 * The figures of the block, and of all that its formulas read however far, are the same to the last bit; other blocks are
 * there by their names alone. Whole where planned accounts are read: everything is posted to them.
 */
export function partFor(plan: Plan, data: ScenarioData, block: string): ScenarioData {
	const leading = plan.calculation.blocksLeadingTo(block);
	if (leading.has(ACCOUNTS_BLOCK)) return data;
	const within = (series: readonly Series[]) => series.filter((s) => leading.has(s.block));
	return {
		...data,
		part: [...plan.blocks.keys()].filter((code) => leading.has(code)),
		series: within(data.series),
		derived: within(data.derived ?? []),
		bases: [],
		// Rows of a schedule are read with what they come to.
		schedules: data.schedules?.map((s) =>
			leading.has(s.definition.code) ? s : { definition: s.definition, rows: [] }
		),
		// Where the past begins is where all periods are counted from.
		history: { first: data.history.first, accounts: new Map() },
		adjustments: data.adjustments?.flatMap((adjustment) => {
			const steps = adjustment.steps.flatMap((step) => {
				const lines = step.lines.filter((l) => leading.has(l.block));
				return lines.length ? [{ ...step, lines }] : [];
			});
			return steps.length ? [{ ...adjustment, steps }] : [];
		})
	};
}
