/** What of a scenario one of its blocks is made of: to calculate that block elsewhere, without all the others. */
import { ownerOf } from '../blocks/schedule/personal';
import { ACCOUNTS_BLOCK } from '../engine/spec';
import type { Series } from '../inputs/series';
import { calculatedLines } from './calculated-lines';
import type { ScenarioData } from './data';
import type { Plan } from './plan';

/**
 * The figures of the block, and of all that its formulas read however far, are the same to the last bit; other blocks are
 * there by their names alone. Whole where planned accounts are read: everything is posted to them.
 */
export function partFor(plan: Plan, data: ScenarioData, block: string): ScenarioData {
	const leading = plan.calculation.blocksLeadingTo(block);
	return leading.has(ACCOUNTS_BLOCK) ? data : narrowed(plan, data, leading);
}

/**
 * The figures of the block are the same to the last bit, and stay so whatever is typed in it. What it reads and does not reach
 * comes as values; whole where it reads accounts to which, however far, it is posted.
 * @param plan calculated from `data`
 */
export function partAround(plan: Plan, data: ScenarioData, block: string): ScenarioData {
	const own = new Set([...plan.blocks.keys()].filter((code) => ownerOf(code) === ownerOf(block)));
	const { blocks, given, behind } = plan.calculation.partAround(own);
	if (blocks.has(ACCOUNTS_BLOCK)) return data;
	const accounts = behind.flatMap((line) => (line.block === ACCOUNTS_BLOCK ? accountOf(line.code) : []));
	return {
		...narrowed(plan, data, blocks),
		given: {
			blocks: calculatedLines(
				plan,
				given.flatMap(({ block, code }) => (plan.blocks.has(block) ? { block, line: code } : []))
			),
			accounts: [...new Set(accounts)]
		}
	};
}

/** The account of which a line of planned accounts is a part, such as what is typed in it. */
const accountOf = (line: string): string => line.slice(line.indexOf(':') + 1);

/** What is typed, kept and adjusted in these blocks alone. */
function narrowed(plan: Plan, data: ScenarioData, blocks: ReadonlySet<string>): ScenarioData {
	const within = (series: readonly Series[]) => series.filter((s) => blocks.has(s.block));
	return {
		...data,
		part: [...plan.blocks.keys()].filter((code) => blocks.has(code)),
		series: within(data.series),
		derived: within(data.derived ?? []),
		bases: [],
		// Rows of a schedule are read with what they come to.
		schedules: data.schedules?.map((s) =>
			blocks.has(s.definition.code) ? s : { definition: s.definition, rows: [] }
		),
		// Where the past begins is where all periods are counted from.
		history: { first: data.history.first, accounts: new Map() },
		adjustments: data.adjustments?.flatMap((adjustment) => {
			const steps = adjustment.steps.flatMap((step) => {
				const lines = step.lines.filter((l) => blocks.has(l.block));
				return lines.length ? [{ ...step, lines }] : [];
			});
			return steps.length ? [{ ...adjustment, steps }] : [];
		})
	};
}
