/** Lines of other scenarios that formulas read. */
import type { Period } from '../calendar/calendar';
import type { AnyCalendarSpec } from '../calendar/spec';
import type { Axis } from '../engine/axis';
import { foreignBlock, type BlockSpec, ACCOUNTS_BLOCK } from '../engine/spec';
import { BLANK, marksOf, newMatrix, type Matrix } from '../engine/values';
import { walk, type Expr } from '../formula/ast';
import { parseFormula } from '../formula/parse';
import { formulasIn, type Forms } from '../blocks/kinds';
import type { Structure } from '../company/structure';
import { departmentUnits, Exchange } from '../currency/exchange';
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
export function linesOf(plan: Plan, references: readonly ForeignReference[]): OtherLines {
	const blocks: OtherLines['blocks'] = new Map();
	const { calculation } = plan;
	const take = (block: string, line: string): void => {
		if (!calculation.has(block, line)) return;
		const spec = calculation.block(block);
		const { calendar } = plan.blocks.get(block)!;
		const have = blocks.get(block) ?? {
			calendar: calendar.spec,
			first: calculation.axisOf(block).first,
			dimensions: spec.dimensions,
			rows: spec.rows,
			lines: new Map()
		};
		blocks.set(block, have);
		if (have.lines.has(line)) return;
		const { additive = true, overTime = 'sum', units } = spec.lines.find((l) => l.code === line) ?? {};
		have.lines.set(line, {
			additive,
			overTime,
			matrix: calculation.matrix(block, line),
			units: units ? (overTime === 'last' ? 'closing' : 'average') : null
		});
		// What it is carried to periods of another kind by.
		if (typeof overTime === 'object' && 'weight' in overTime) take(block, overTime.weight);
		else if (typeof overTime === 'object')
			walk(overTime.expr, (e) => {
				if (e.kind === 'reference' && e.block === null) take(block, e.line);
			});
	};
	for (const { block, line } of references) take(block, line);
	return { blocks, rates: plan.rates };
}

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
		return [...blocks].map(([id, { calendar, first, dimensions, rows, lines }]) => ({
			id: foreignBlock(scenario, id),
			axis: periods(calendar),
			dimensions,
			rows,
			lines: [...lines].map(([code, { additive, overTime, matrix, units }]) => ({
				code,
				additive,
				overTime,
				units: units && departmentUnits(structure, exchange, departmentsOf({ dimensions, rows }), units),
				seed: moved(matrix, first, periods(calendar))
			}))
		}));
	});
}

const departmentsOf = ({ dimensions, rows }: Pick<BlockSpec, 'dimensions' | 'rows'>): string[] => {
	const place = dimensions.indexOf('department');
	return rows.map((row) => row[place]);
};

/** Values on another axis; blank where there are none. Errors stay errors. */
function moved(source: Matrix, first: Period, axis: Axis): Matrix {
	if (source.timeless) return { ...source };
	const matrix = newMatrix(source.rows, axis.length);
	const marks = marksOf(matrix).fill(BLANK);
	matrix.errors = source.errors;
	for (let t = 0; t < axis.length; t++) {
		const s = axis.first + t - first;
		if (s < 0 || s >= source.periods) continue;
		const [to, from] = [t * source.rows, s * source.rows];
		matrix.values.set(source.values.subarray(from, from + source.rows), to);
		if (source.marks) marks.set(source.marks.subarray(from, from + source.rows), to);
		else marks.fill(0, to, to + source.rows);
	}
	return matrix;
}
