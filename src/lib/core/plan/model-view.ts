/** A driver model's figures as a page shows them: each line rolled up over its rows, and the rows of opened lines. */
import { rollUp, type RollupLine } from '../engine/rollup';
import { cellAt, type Cell } from '../engine/values';
import { parseFormula } from '../formula/parse';
import { rowKey, type Line, type ModelDefinition } from '../model/schema';
import type { Plan } from './scenario';
import { treeOf } from './structure';
import { rowName } from './trace';

export interface ModelRowView {
	key: string;
	name: string;
	cells: Cell[];
	total: Cell;
}
export interface LineView {
	line: Line;
	cells: Cell[];
	total: Cell;
	/** Rows of the model; only for lines that were asked to be opened. */
	rows: ModelRowView[] | null;
}
export interface ModelFigures {
	lines: LineView[];
	rowCount: number;
	/** Cells among those shown that hold an error. */
	errors: number;
}

export interface ModelSpan {
	model: string;
	/** First and last period (ordinals). */
	from: number;
	to: number;
	/** Lines whose rows are wanted. */
	open: readonly string[];
	/** Dimension → member; rows under it are kept. */
	where: Readonly<Record<string, string>>;
}

/** The plan must have the model. */
export function modelFigures(plan: Plan, query: ModelSpan): ModelFigures {
	const { definition } = plan.models.get(query.model)!;
	const { calculation } = plan;
	const rows = calculation.block(query.model).rows;
	const kept = rows.flatMap((row, i) => (inFilter(plan, definition, row, query.where) ? [i] : []));
	const months = query.to - query.from + 1;
	const { axis } = calculation;

	const rowsIndex = new Int32Array(rows.length).fill(-1);
	for (const r of kept) rowsIndex[r] = 0;
	const lines = rollupLines(definition);
	const at = (p: number) => p - query.from;
	const byMonth = Int32Array.from({ length: axis.length }, (_, t) => {
		const m = at(axis.first + t);
		return m >= 0 && m < months ? m : -1;
	});
	const matrixOf = (line: string) => calculation.matrix(query.model, line);
	const totals = rollUp(matrixOf, lines, { rows: rowsIndex, groups: 1, periods: byMonth, buckets: months });
	const once = byMonth.map((m) => (m < 0 ? -1 : 0));
	const grand = rollUp(matrixOf, lines, { rows: rowsIndex, groups: 1, periods: once, buckets: 1 });
	const each = new Int32Array(rows.length).fill(-1);
	kept.forEach((r, i) => (each[r] = i));
	const perRow = query.open.length
		? rollUp(matrixOf, lines, { rows: each, groups: kept.length, periods: once, buckets: 1 })
		: null;

	let errors = 0;
	const cells = (read: (p: number) => Cell): Cell[] =>
		Array.from({ length: months }, (_, i) => {
			const cell = read(query.from + i);
			if (typeof cell === 'string') errors++;
			return cell;
		});
	const inputs = definition.dimensions.length > 0;
	const view: LineView[] = definition.lines.map((line) => ({
		line,
		cells: cells((p) => cellAt(totals.get(line.code)!, 0, at(p))),
		total: cellAt(grand.get(line.code)!, 0, 0),
		rows:
			inputs && query.open.includes(line.code)
				? kept.map((r, i) => ({
						key: rowKey(rows[r]),
						name: rowName(plan, query.model, rowKey(rows[r])),
						cells: cells((p) => calculation.cell(query.model, line.code, r, p)),
						total: cellAt(perRow!.get(line.code)!, i, 0)
					}))
				: null
	}));

	return { lines: view, rowCount: kept.length, errors };
}

/** How each line of a model rolls up; by formula it is the line's own. */
export function rollupLines(definition: ModelDefinition): RollupLine[] {
	return definition.lines.map((l) => ({
		...l.rollup,
		code: l.code,
		expr: l.formula === undefined ? null : parseFormula(l.formula).expr
	}));
}

/** A dimension that the model has not, or a member that is not there, filters nothing. */
function inFilter(
	plan: Plan,
	definition: ModelDefinition,
	row: readonly string[],
	where: Readonly<Record<string, string>>
): boolean {
	return Object.entries(where).every(([dimension, under]) => {
		const member = row[definition.dimensions.indexOf(dimension)];
		const tree = treeOf(plan.structure, dimension);
		return member === undefined || tree === undefined || tree.within(member, under);
	});
}
