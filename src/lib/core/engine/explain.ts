/** Where a figure comes from, as data: the rule that applied, what was put in, and the parts of a sum. */
import { walk, type Expr } from '../formula/ast';
import { NONE } from '../formula/check';
import { sharedDimensions } from './align';
import type { Axis } from './axis';
import type { Calculation } from './calculation';
import { wholeAccount } from './network';
import { rollUp, type Grouping, type RollupLine } from './rollup';
import { ACCOUNTS_BLOCK, attributeColumn, foreignBlock } from './spec';
import { cellAt, type Cell } from './values';

/** One cell of a block; `period` is an ordinal, of the block that reads it where its own has other periods. */
export interface CellRef {
	block: string;
	line: string;
	row: number;
	period: number;
}

/** A reference of a formula with the value that was put in. `row` is −1 where rows were summed. */
export interface OperandValue extends CellRef {
	expr: Expr;
	value: Cell;
}

export type CellExplanation = { value: Cell } & (
	| { kind: 'input' }
	| { kind: 'formula'; expr: Expr; rule: number; operands: OperandValue[] }
	/** Rows of other lines that flow in. */
	| { kind: 'sum'; parts: (CellRef & { value: Cell })[] }
);

export function explainCell(calculation: Calculation, ref: CellRef): CellExplanation {
	const { block, line, row, period } = ref;
	const value = calculation.cell(block, line, row, period);
	const rule = calculation.ruleAt(block, line, row, period);
	if (rule)
		return {
			value,
			kind: 'formula',
			...rule,
			operands: operandsAt(calculation, block, rule.expr, row, period)
		};
	const parts = inflowsAt(calculation, ref);
	return parts ? { value, kind: 'sum', parts } : { value, kind: 'input' };
}

function inflowsAt(calculation: Calculation, ref: CellRef): (CellRef & { value: Cell })[] | null {
	const { network } = calculation;
	const t = ref.period - calculation.axisOf(ref.block).first;
	const node = network.writers[network.find(ref.block, ref.line)]
		.map((n) => network.nodes[n])
		.find((n) => n.kind === 'inflow' && n.from <= t && t < n.to);
	if (node?.kind !== 'inflow') return null;
	return node.sources.flatMap(({ line, rows, into }) => {
		const { block, code, matrix } = network.lines[line];
		const own = block.split('#')[0];
		return [...rows].flatMap((row, k) =>
			into[k] === ref.row
				? [{ block: own, line: code, row, period: ref.period, value: cellAt(matrix, row, t) }]
				: []
		);
	});
}

/** Each reference of a formula with its value at one cell. `period` is an ordinal. */
export function operandsAt(
	calculation: Calculation,
	block: string,
	expr: Expr,
	row: number,
	period: number
): OperandValue[] {
	const { network } = calculation;
	const own = calculation.block(block);
	const axis = network.axisOf(own);
	const found: OperandValue[] = [];
	const add = (at: Expr, from: string, code: string, when: number, to = own) => {
		const { line, index } = network.source(to, from, code);
		const sourceRow = index ? index[row] : row;
		const { matrix } = network.lines[line];
		const t = when - axis.first;
		const outside = !matrix.timeless && (t < 0 || t >= axis.length);
		const other = network.block(from);
		const summed = from !== block && sharedDimensions(other, to).length < other.dimensions.length;
		found.push({
			expr: at,
			block: from,
			line: code,
			row: summed ? -1 : sourceRow,
			period: when,
			value: outside || sourceRow < 0 ? null : cellAt(matrix, sourceRow, t)
		});
	};
	const visit = (e: Expr, shift: number, scenario: string | null): void => {
		const of = (id: string) => (scenario === null ? id : foreignBlock(scenario, id));
		switch (e.kind) {
			case 'reference': {
				if (e.block === null && e.line === NONE) return;
				const attribute =
					e.block !== null && own.dimensions.includes(e.block) && !network.blocks.has(e.block);
				if (attribute) add(e, block, attributeColumn(e.block!, e.line), period);
				else add(e, of(e.block ?? block), e.line, period - shift);
				return;
			}
			case 'negate':
			case 'percent':
				return visit(e.arg, shift, scenario);
			case 'binary':
				visit(e.left, shift, scenario);
				return visit(e.right, shift, scenario);
			case 'call': {
				const [a, b] = e.args;
				const periods = b?.kind === 'number' ? b.value : 1;
				if (e.name === 'account') return add(e, of(ACCOUNTS_BLOCK), textOf(a), period - shift);
				if (e.name === 'scenario') return visit(b, shift, textOf(a));
				if (e.name === 'lag') return visit(a, shift + periods, scenario);
				if (e.name === 'year_ago') {
					const further = b ? periods : 0;
					const then = Math.max(0, Math.min(period - axis.first - shift - further, axis.length - 1));
					const before = periodsYearAgo(axis, then);
					if (before) return before.forEach((t) => visit(a, period - axis.first - t, scenario));
					return visit(a, shift + further + axis.yearBack[then], scenario);
				}
				if (e.name === 'opening') return visit(a, shift + 1, scenario);
				if (e.name === 'lead') return visit(a, shift - periods, scenario);
				const over =
					e.name === 'total' ? e.args.slice(1).map((d) => (d.kind === 'reference' ? d.line : '')) : [];
				const whole = e.name === 'total' ? wholeAccount(a, over, own.dimensions) : null;
				if (whole) return add(e, whole.block, whole.code, period - shift, { ...own, dimensions: [] });
				if (e.name === 'at' || e.name === 'total') return visit(a, shift, scenario);
				for (const arg of e.args) visit(arg, shift, scenario);
			}
		}
	};
	visit(expr, 0, null);
	return found;
}
/** The periods that lie in the year before one, where that is not one of them; null where it is. */
function periodsYearAgo({ yearAgo, length, firstDay, lastDay }: Axis, t: number): number[] | null {
	if (!yearAgo) return null;
	const [first, last] = [yearAgo.firstDay[t], yearAgo.lastDay[t]];
	return Array.from({ length }, (_, s) => s).filter((s) => lastDay[s] >= first && firstDay[s] <= last);
}
const textOf = (e: Expr | undefined) => (e?.kind === 'text' ? e.value : '');

/** What a total is made of: rows × periods of a line, rolled up in the line's own way. */
export interface TotalExplanation {
	value: Cell;
	/** How parts become the total over members and over time. */
	members: string;
	time: RollupLine['time'];
	/** Each row over all the periods; each period over all the rows. */
	byRow: { row: number; value: Cell }[];
	byPeriod: { period: number; value: Cell }[];
	/** For a total by formula: its formula, and the rolled-up lines that were put in. */
	expr: Expr | null;
	operands: { line: string; value: Cell }[];
}

/**
 * @param lines all lines of the block with their roll-ups
 * @param from,to periods (ordinals, both included)
 */
export function explainTotal(
	calculation: Calculation,
	block: string,
	line: string,
	lines: readonly RollupLine[],
	rows: readonly number[],
	from: number,
	to: number
): TotalExplanation {
	const { axis } = calculation;
	const count = calculation.block(block).rows.length;
	const [first, periods] = [from - axis.first, to - from + 1];
	const own = lines.find((l) => l.code === line)!;
	const valuesFor = (rowsTo: Int32Array, groups: number, each: boolean) => {
		const grouping: Grouping = {
			rows: rowsTo,
			groups,
			periods: Int32Array.from({ length: axis.length }, (_, t) =>
				t < first || t >= first + periods ? -1 : each ? t - first : 0
			),
			buckets: each ? periods : 1
		};
		return rollUp((code) => calculation.matrix(block, code), lines, grouping);
	};
	const together = new Int32Array(count).fill(-1);
	const apart = new Int32Array(count).fill(-1);
	rows.forEach((r, i) => {
		together[r] = 0;
		apart[r] = i;
	});
	const all = valuesFor(together, 1, false);
	const perRow = valuesFor(apart, rows.length, false).get(line)!;
	const perPeriod = valuesFor(together, 1, true).get(line)!;
	const byFormula = own.expr !== null && (own.members === 'formula' || own.time === 'formula');
	const named = new Set<string>();
	if (byFormula)
		walk(own.expr!, (e) => {
			if (e.kind === 'reference' && e.block === null && all.has(e.line)) named.add(e.line);
		});
	return {
		value: cellAt(all.get(line)!, 0, 0),
		members: own.members,
		time: own.time,
		byRow: rows.map((row, i) => ({ row, value: cellAt(perRow, i, 0) })),
		byPeriod: Array.from({ length: periods }, (_, t) => ({
			period: from + t,
			value: cellAt(perPeriod, 0, t)
		})),
		expr: byFormula ? own.expr : null,
		operands: [...named].map((code) => ({ line: code, value: cellAt(all.get(code)!, 0, 0) }))
	};
}
