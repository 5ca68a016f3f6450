/** Lines of other scenarios that formulas read. */
import type { AnyCalendarSpec } from '../calendar/spec';
import type { Axis } from '../engine/axis';
import { foreignBlock, type BlockSpec, ACCOUNTS_BLOCK } from '../engine/spec';
import { walk, type Expr } from '../formula/ast';
import { parseFormula } from '../formula/parse';
import { formulasIn, type Forms } from '../blocks/kinds';
import type { Structure } from '../company/structure';
import { Exchange } from '../currency/exchange';
import { calculatedLines, givenBlocks } from './calculated-lines';
import { companyCalendar } from './calendar';
import type { OtherLines } from './data';
import type { Plan } from './plan';

/** A line of another scenario, as formulas name it. */
export interface ForeignReference {
	scenario: string;
	block: string;
	line: string;
}

/** What formulas in these forms read from other scenarios, each once. */
export function foreignReferences(forms: Partial<Forms>): ForeignReference[] {
	const found = new Map<string, ForeignReference>();
	for (const { block, texts } of formulasIn(forms))
		for (const text of texts) {
			const expr = /scenario/i.test(text) ? parseFormula(text).expr : null;
			if (!expr) continue;
			walk(expr, (e) => {
				const reference = referenceOf(e, block);
				if (reference) found.set(Object.values(reference).join('\u0000'), reference);
			});
		}
	return [...found.values()];
}

/** The scenarios that formulas in these forms read, each once. */
export const scenariosRead = (forms: Partial<Forms>): string[] => [
	...new Set(foreignReferences(forms).map((r) => r.scenario))
];

function referenceOf(e: Expr, own: string): ForeignReference | null {
	if (e.kind !== 'call' || e.name !== 'scenario' || e.args[0]?.kind !== 'text') return null;
	const scenario = e.args[0].value;
	const what = e.args[1];
	if (what?.kind === 'reference') return { scenario, block: what.block ?? own, line: what.line };
	const code = what?.kind === 'call' && what.args[0]?.kind === 'text' ? what.args[0].value : null;
	return code === null ? null : { scenario, block: ACCOUNTS_BLOCK, line: code };
}

/** Those lines of one calculated scenario; what it does not have is left out. */
export const linesOf = (plan: Plan, references: readonly ForeignReference[]): OtherLines => ({
	blocks: calculatedLines(plan, references),
	rates: plan.rates
});

/**
 * Lines of other scenarios as blocks of given values, as far as our periods go.
 * @param periods those of a calendar
 */
export function foreignBlocks(
	structure: Structure,
	others: ReadonlyMap<string, OtherLines>,
	periods: (calendar: AnyCalendarSpec) => Axis
): BlockSpec[] {
	return [...others].flatMap(([scenario, { blocks, rates }]) => {
		const exchange = new Exchange(structure.currency, rates, companyCalendar(structure.calendar));
		return givenBlocks(blocks, structure, exchange, periods).map((block) => ({
			...block,
			id: foreignBlock(scenario, block.id)
		}));
	});
}
