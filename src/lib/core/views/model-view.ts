/** A driver model's figures as a page shows them: the rows of an arrangement, each rolled up in its line's own way. */
import type { Span } from '../calendar/spans';
import { rollUps, totalsBy, type RollupLine } from '../engine/rollup';
import { cellAt, ERROR_TEXT, isFault, MIXED, type Cell, type Matrix } from '../engine/values';
import { walk } from '../formula/ast';
import { FUNCTIONS } from '../formula/functions';
import { parseFormula } from '../formula/parse';
import { rowKey } from '../engine/row-key';
import { passesOf } from './passes';
import { retiredOf } from '../company/retired';
import type { ModelDefinition } from '../blocks/driver-model/schema';
import {
	entriesOf,
	fitting,
	keptRows,
	nodesOf,
	type Arrangement,
	type Entry,
	type Node
} from './arrangement';
import { currenciesIn } from '../scenario/mixed';
import type { Plan } from '../scenario/plan';

export interface ModelQuery extends Partial<Arrangement> {
	model: string;
	/** One column each, in the model’s own periods, for every entry across; they may overlap. */
	spans: readonly Span[];
	/** Leaves out rows without any figure. */
	hideEmpty?: boolean;
	/** Only so many rows come with figures; those after them have no cells. Nothing while empty rows are left out. */
	rowsWithCells?: number;
}

/** What the cells of a row stand for under one entry across. */
export interface Target {
	line: string;
	/** The model's row, where it is just one: there a month can be typed. */
	row: string | null;
}

export interface ViewRow {
	/** Path to the row; opens it. */
	key: string;
	label: string;
	depth: number;
	/** The line that the row stands for as a whole. */
	heads: string | null;
	/** Null where there is nothing under it. */
	open: boolean | null;
	/** Dimension → member on the path. */
	where: Readonly<Record<string, string>>;
	/** How many of the model's rows it takes together. */
	count: number;
	/** One an entry across; null for a heading that has no figures of its own. */
	targets: (Target | null)[];
	/** Entry by entry, each with one cell a span. */
	cells: Cell[];
	/** What was typed, in the same places, where adjustments have made something else of it; absent where none has. */
	typed?: Cell[];
}

export interface ModelFigures {
	/** The arrangement as it fits the model. */
	arrangement: Arrangement;
	across: { key: string; label: string }[];
	rows: ViewRow[];
	/** Rows of the model that the filters keep. */
	rowCount: number;
	/** Cells among those shown that hold an error. */
	errors: number;
}

/** What a query shows, before any figure is read: it stays the same while only figures change. */
export interface Layout {
	arrangement: Arrangement;
	nodes: readonly Node[];
	entries: readonly Entry[];
	rowCount: number;
}

/** The plan must have the model. */
export function layoutOf(plan: Plan, query: ModelQuery): Layout {
	const { definition } = plan.models.get(query.model)!;
	const { rows } = plan.calculation.block(query.model);
	const model = { definition, rows, without: restingRows(plan, definition, query.spans) };
	const arrangement = fitting(definition, query);
	return {
		arrangement,
		nodes: nodesOf(model, plan.structure, arrangement),
		entries: entriesOf(model, plan.structure, arrangement),
		rowCount: keptRows(model, plan.structure, arrangement.where).length
	};
}

/** Rows with a retired member that hold nothing in the periods shown, neither typed nor calculated. */
export function restingRows(plan: Plan, definition: ModelDefinition, spans: readonly Span[]): Set<number> {
	const found = new Set<number>();
	const retired = definition.dimensions.map((d) => retiredOf(plan.structure, d));
	if (retired.every((members) => members.size === 0)) return found;
	const { calculation } = plan;
	const { first, length } = calculation.axisOf(definition.code);
	const matrices = definition.lines.map((l) => calculation.matrix(definition.code, l.code));
	const holds = (row: number) =>
		spans.some(({ from, to }) => {
			for (let t = Math.max(0, from - first); t <= Math.min(length - 1, to - first); t++)
				if (matrices.some((matrix) => (cellAt(matrix, row, t) ?? 0) !== 0)) return true;
			return false;
		});
	for (const [r, row] of calculation.block(definition.code).rows.entries())
		if (row.some((member, at) => retired[at].has(member)) && !holds(r)) found.add(r);
	return found;
}

/**
 * The plan must have the model.
 * @param touched one byte a row of the model: only what takes in one of the rows that are not 0 is given; all by default
 */
export function modelFigures(
	plan: Plan,
	query: ModelQuery,
	layout = layoutOf(plan, query),
	touched?: Uint8Array
): ModelFigures {
	const { definition } = plan.models.get(query.model)!;
	const { rows: coordinates } = plan.calculation.block(query.model);
	const { entries } = layout;
	const nodes = touched ? layout.nodes.filter((n) => n.rows.some((r) => touched[r])) : layout.nodes;
	const blanks = query.spans.map(() => null);

	const withCells = query.hideEmpty ? Infinity : (query.rowsWithCells ?? Infinity);
	// Rows without cells are not rolled up either.
	const read = reader(plan, definition, nodes.slice(0, withCells), entries, query.spans);
	const several = currenciesIn(plan, query.model);
	const divided = dividedBy(entries, coordinates.length);
	let errors = 0;
	const rows = nodes.flatMap((node, n): ViewRow[] => {
		const under = divided(node);
		const alone = under.map((rows) => (rows.length === 1 ? rows[0] : null));
		const targets = entries.map((entry, e): Target | null => {
			const line = node.line ?? entry.line;
			return line && { line: line.code, row: alone[e] === null ? null : rowKey(coordinates[alone[e]]) };
		});
		const cells =
			n < withCells
				? entries.flatMap((entry, e) => {
						const line = targets[e]?.line;
						if (line === undefined) return blanks;
						const cells = read(node, e, line, under[e]);
						return several(line, under[e]) ? cells.map((cell) => cell && ERROR_TEXT[MIXED]) : cells;
					})
				: [];
		const typed = n >= withCells ? null : typedUnder(plan, query.model, targets, alone, query.spans, cells);
		if (query.hideEmpty && !node.opens && cells.every((c) => c === null)) return [];
		for (const cell of cells) if (isFault(cell)) errors++;
		return [
			{
				key: node.key,
				label: node.label,
				depth: node.depth,
				heads: node.headsLine ? node.line!.code : null,
				open: node.opens ? node.open : null,
				where: node.where,
				count: node.rows.length,
				targets,
				cells,
				...(typed ? { typed } : {})
			}
		];
	});
	return {
		arrangement: layout.arrangement,
		across: entries.map(({ key, label }) => ({ key, label })),
		rows,
		rowCount: layout.rowCount,
		errors
	};
}

/** What is typed in a cell of a line, without adjustments. `t` is an index of the model’s periods. */
export function typedCell(plan: Plan, model: string, line: string, row: number, t: number): Cell {
	const under = plan.inputs.typed(model, line, row, t);
	return under === undefined
		? plan.calculation.cell(model, line, row, t + plan.calculation.axisOf(model).first)
		: under;
}

/** The cells with what was typed in them; null when that is what they show. */
function typedUnder(
	plan: Plan,
	model: string,
	targets: readonly (Target | null)[],
	rows: readonly (number | null)[],
	spans: readonly Span[],
	cells: readonly Cell[]
): Cell[] | null {
	if (!plan.inputs.any) return null;
	const axis = plan.calculation.axisOf(model);
	let differs = false;
	const typed = cells.map((cell, i) => {
		const e = Math.floor(i / spans.length);
		const [target, row] = [targets[e], rows[e]];
		const { from, to } = spans[i % spans.length];
		if (!target || row === null || from !== to) return cell;
		const under = plan.inputs.typed(model, target.line, row, from - axis.first);
		if (under === undefined || under === cell) return cell;
		differs = true;
		return under;
	});
	return differs ? typed : null;
}

/** The rows of a node under each entry; entries with rows of their own have none in common. */
function dividedBy(entries: readonly Entry[], rowCount: number): (node: Node) => (readonly number[])[] {
	if (entries.every((e) => e.rows === null)) return ({ rows }) => entries.map(() => rows);
	const entryOf = new Int32Array(rowCount).fill(-1);
	entries.forEach((e, i) => e.rows?.forEach((r) => (entryOf[r] = i)));
	return ({ rows }) => {
		const own = entries.map((): number[] => []);
		for (const r of rows) own[entryOf[r]]?.push(r);
		return entries.map((e, i) => (e.rows === null ? rows : own[i]));
	};
}

/** A node's figures under an entry, one a span. @param under its rows there */
type Read = (node: Node, entry: number, line: string, under: readonly number[]) => Cell[];

/**
 * Figures of nodes × entries × spans. Nodes of one depth share no rows, unless they hold the same ones, so that each
 * depth is rolled up at once; spans that overlap go to different roll-ups.
 */
function reader(
	plan: Plan,
	definition: ModelDefinition,
	nodes: readonly Node[],
	entries: readonly Entry[],
	spans: readonly Span[]
): Read {
	const { calculation } = plan;
	const axis = calculation.axisOf(definition.code);
	const rowCount = calculation.block(definition.code).rows.length;
	const lines = rollupLines(definition);
	const matrixOf = (line: string) => calculation.matrix(definition.code, line);
	const passes = passesOf(axis, spans);
	/** Group of a node at its depth. */
	const groupOf = new Map<string, number>();
	const byDepth = new Map<number, { list: Node[]; lines: Set<string>; single: boolean }>();
	for (const node of nodes) {
		const same = byDepth.get(node.depth) ?? { list: [], lines: new Set<string>(), single: true };
		byDepth.set(node.depth, same);
		if (node.line) same.lines.add(node.line.code);
		if (node.rows.length > 1) same.single = false;
		const key = `${node.depth}${node.group}`;
		if (groupOf.has(key)) continue;
		groupOf.set(key, same.list.length);
		same.list.push(node);
	}
	// One entry takes all rows, so it is rolled up apart from those that divide them.
	const divided = entries.some((e) => e.rows !== null);
	const across = entries.flatMap((e) => (e.line ? [e.line.code] : []));
	const places = (e: number): [kind: 'all' | 'parts', place: number, of: number] =>
		entries[e].rows === null ? ['all', 0, 1] : ['parts', e - 1, entries.length - 1];
	const rolled = new Map<string, Map<string, Matrix>>();
	for (const [depth, { list, lines: own, single }] of byDepth) {
		const wanted = neededFor(lines, [...own, ...across]);
		for (const kind of divided ? (['all', 'parts'] as const) : (['all'] as const)) {
			const of = kind === 'all' ? 1 : entries.length - 1;
			const entryOf = new Int32Array(rowCount);
			if (kind === 'parts') entries.forEach((e, i) => e.rows?.forEach((r) => (entryOf[r] = i - 1)));
			const rows = new Int32Array(rowCount).fill(-1);
			list.forEach((node, g) => {
				for (const r of node.rows) rows[r] = g * of + entryOf[r];
			});
			// Single rows in single months are read as they are.
			const summed = passes.flatMap(({ list: inPass, periods }, p) =>
				single && inPass.every((s) => spans[s].from === spans[s].to)
					? []
					: [{ p, periods, buckets: inPass.length }]
			);
			rollUps(matrixOf, wanted, { rows, groups: list.length * of }, summed).forEach((found, i) =>
				rolled.set(`${depth}/${kind}/${summed[i].p}`, found)
			);
		}
	}
	const passOf = spans.map((_, s) => {
		const pass = passes.findIndex(({ list }) => list.includes(s));
		return { pass, bucket: passes[pass].list.indexOf(s) };
	});
	const matrices = new Map(lines.map((l) => [l.code, matrixOf(l.code)]));
	return (node, e, line, under) => {
		// Nothing is there: a formula that makes 0 of blanks would say otherwise.
		if (!under.length) return spans.map(() => null);
		const single = under.length === 1 ? under[0] : -1;
		const matrix = matrices.get(line)!;
		const [kind, place, of] = places(e);
		const group = groupOf.get(`${node.depth}${node.group}`)! * of + place;
		const totals = passes.map((_, p) => rolled.get(`${node.depth}/${kind}/${p}`)?.get(line));
		return spans.map(({ from, to }, s) => {
			// One row in one month is the cell itself, also where its formula looks to other months.
			if (single >= 0 && from === to) {
				const t = from - axis.first;
				return t >= 0 && t < axis.length ? cellAt(matrix, single, t) : null;
			}
			const { pass, bucket } = passOf[s];
			const found = totals[pass];
			return found ? cellAt(found, group, bucket) : null;
		});
	};
}

/** Lines with those that their roll-up rests on: operands of a formula, weights. */
function neededFor(lines: readonly RollupLine[], wanted: readonly string[]): RollupLine[] {
	const by = new Map(lines.map((l) => [l.code, l]));
	const found = new Set<string>();
	const add = (code: string): void => {
		const line = by.get(code);
		if (!line || found.has(code)) return;
		found.add(code);
		if (line.members.startsWith('weighted:')) add(line.members.slice('weighted:'.length));
		else if ((line.members === 'formula' || line.time === 'formula') && line.expr)
			walk(line.expr, (e) => {
				if (e.kind === 'reference' && e.block === null) add(e.line);
			});
	};
	wanted.forEach(add);
	return lines.filter((l) => found.has(l.code));
}

/** How each line of a model rolls up; by formula it is the line's own. Definitions never change, so it is found once. */
export function rollupLines(definition: ModelDefinition): RollupLine[] {
	let lines = rollups.get(definition);
	if (!lines) {
		lines = definition.lines.map((l) => ({
			...l.rollup,
			code: l.code,
			expr: l.formula === undefined ? null : parseFormula(l.formula).expr
		}));
		rollups.set(definition, lines);
	}
	return lines;
}
const rollups = new WeakMap<ModelDefinition, RollupLine[]>();

/** Whether a line is recomputed from totals by a function that may look from one of them to those before or after it. */
export function looksAcrossTotals(definition: ModelDefinition): boolean {
	const PLAIN = ['logic', 'arithmetic'];
	return rollupLines(definition).some((line) => {
		const expr = totalsBy(line);
		let looks = false;
		if (expr)
			walk(expr, (e) => {
				if (e.kind === 'call' && !PLAIN.includes(FUNCTIONS.get(e.name)?.group ?? '')) looks = true;
			});
		return looks;
	});
}
