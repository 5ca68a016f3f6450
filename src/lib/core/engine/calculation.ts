/**
 * One evaluator over blocks. A block is a set of rows (coordinates) on an axis of periods, with lines;
 * driver models, schedules, tables of assumptions and the planned accounts are all blocks.
 */
import type { Expr } from '../formula/ast';
import { createArena } from './machine/arena';
import { atOnce } from '../steps';
import type { Axis } from './axis';
import { join, spreadChanges, type Dirt } from './order/changes';
import { CycleError, type Component } from './order/graph';
import { sumInto } from './inflow';
import { retime } from './retime';
import { nanosecondsFor, RETIMING } from './machine/cost';
import { wholeLife } from './life';
import { Machine, scratchCells, TILE_CELLS } from './machine/machine';
import { besideId, isHelper, Network, type Node } from './network';
import { partAround, type Part } from './order/part';
import { planPasses, type Pass } from './order/passes';
import { ModelError, type BlockSpec, type Surroundings } from './spec';
import { cellAt, setCell, type Cell, type Matrix } from './values';

/** Most cells of all lines together: half a gigabyte. */
export const MOST_CELLS = 64_000_000;
const TILE_ROWS = 1024;
/** Periods outside the axis that a life is taken to have: fifteen years of months. */
const BEYOND = 180;
const EVERYTHING: Dirt = { from: 0, lo: 0, hi: Infinity };

export class Calculation {
	readonly axis: Axis;
	readonly network: Network;
	private readonly passes: Pass[];
	/** One for each kind of periods. */
	private readonly machines: Machine[];
	private changed = new Map<number, Dirt>();
	/** By line: what recalculations may have changed since everything was calculated. */
	private readonly reached = new Map<number, Dirt>();
	private times = 0;
	/** At which time everything was calculated last, and by line when it may have changed after it. */
	private wholeAt = 0;
	private readonly changedAt: Float64Array;
	/** What the last changes touched: whoever moves a driver again and again touches the same. */
	private touched: Touched | null = null;
	/** What has been left out so far, because nobody needed it. */
	private owed = new Map<Component, Dirt>();

	/**
	 * @throws ModelError when a reference leads nowhere, a line that cannot be summed would have to be,
	 * or lines need their own result
	 */
	constructor(surroundings: Axis | Surroundings, specs: readonly BlockSpec[]) {
		const around: Surroundings = 'axis' in surroundings ? surroundings : { axis: surroundings };
		this.axis = around.axis;
		this.network = new Network(around, specs);
		this.passes = this.order();
		this.changedAt = new Float64Array(this.network.lines.length);
		const registers = Math.max(
			0,
			...this.network.nodes.map((n) => ('program' in n ? n.program.views.length : 0))
		);
		const { cells } = this.network;
		if (cells > MOST_CELLS)
			throw new ModelError(
				specs[0]?.id ?? '',
				'',
				`All lines together would have ${cells} cells; at most ${MOST_CELLS} can be calculated. Use fewer rows, months or lines.`
			);
		const { axes } = this.network;
		const arena = createArena(cells + axes.length * scratchCells(registers, cells), around.memory);
		this.network.place(arena);
		this.machines = axes.map((axis) => new Machine(this.network.lines, axis, arena, cells));
	}

	private order(): Pass[] {
		try {
			return planPasses(this.network);
		} catch (e) {
			if (!(e instanceof CycleError)) throw e;
			throw this.cycle(e.path);
		}
	}

	private cycle(path: readonly number[]): ModelError {
		const { nodes, lines } = this.network;
		const names = path
			.map((n) => this.network.nameOf(nodes[n].target))
			.filter((name, i, all) => name !== null && name !== all[i - 1]);
		if (names.length === 1 || names[0] !== names.at(-1)) names.push(names[0]);
		const first = path.map((n) => lines[nodes[n].target]).find((l) => !isHelper(l.code)) ?? lines[0];
		return new ModelError(
			first.block,
			first.code,
			`These need each other's result in the same month: ${names.join(' → ')}. Break the circle, for instance with opening() or lag().`
		);
	}

	/** Calculates everything. */
	calculate(): this {
		atOnce(this.calculating());
		return this;
	}
	/** The same in steps, between which other work may be done; nothing may be read before the last. */
	*calculating(): Generator<void, void> {
		const { lines, writers } = this.network;
		lines.forEach((line, i) => {
			if (writers[i].length) line.matrix.errors = false;
		});
		this.begin();
		for (const pass of this.passes) {
			this.runPass(pass, null);
			yield;
		}
	}

	/** All values are new. */
	private begin(): void {
		this.changed.clear();
		this.reached.clear();
		this.touched = null;
		this.owed.clear();
		this.wholeAt = ++this.times;
	}

	/** Counts calculations: two equal numbers, and no value is another one. */
	get revision(): number {
		return this.times;
	}
	/** The revision at which a line's values may have changed last. */
	revisionOf(block: string, line: string): number {
		return Math.max(this.wholeAt, this.changedAt[this.network.find(block, line)]);
	}

	/**
	 * Sets one input cell; what depends on it is calculated by `recalculate`. `period` is an index on the axis
	 * (0 for a column); null makes it blank.
	 * @throws ModelError when a formula computes the cell
	 */
	setInput(block: string, line: string, row: number, period: number, value: number | null): void {
		const at = this.network.find(block, line);
		if (this.writerOf(at, row, period))
			throw new ModelError(block, line, `${block}.${line} is computed there and cannot be typed.`);
		setCell(this.network.lines[at].matrix, row, period, value);
		this.changed.set(at, join(this.changed.get(at), { from: period, lo: row, hi: row + 1 }));
	}

	/**
	 * Changes many inputs of a line at once; `change` may write to all cells from the period index on, in the rows
	 * lo (included) to hi (excluded). Cells that a formula computes are computed again by `recalculate`.
	 */
	changeInputs(
		block: string,
		line: string,
		dirt: { from: number; lo: number; hi: number },
		change: (matrix: Matrix) => void
	): void {
		const at = this.network.find(block, line);
		change(this.network.lines[at].matrix);
		this.changed.set(at, join(this.changed.get(at), dirt));
	}

	/** Blocks that a block is made of, whatever of it is asked for; itself among them. */
	blocksLeadingTo(block: string): ReadonlySet<string> {
		const { nodes, lines } = this.network;
		const reads = new Map<string, Set<string>>();
		for (const node of nodes) {
			const own = lines[node.target].block;
			const others = reads.get(own) ?? new Set();
			reads.set(own, others);
			for (const { line } of this.network.readsOf(node)) others.add(lines[line].block);
		}
		// What is added to a set while it is gone through is gone through as well.
		const found = new Set([block]);
		for (const each of found) for (const other of reads.get(each) ?? []) found.add(other);
		return found;
	}

	/** What has to be calculated while inputs of nothing but these blocks change, and what is read for it. */
	partAround(blocks: ReadonlySet<string>): Part {
		return partAround(this.network, blocks);
	}

	/** All that these lines are made of, themselves among it: what has to be calculated to have them. */
	leadingTo(lines: Iterable<TouchedLine>): ReadonlySet<Component> {
		const { network } = this;
		const wanted = new Set([...lines].map(({ block, code }) => network.find(block, code)));
		const found = new Set<Component>();
		for (const { components } of this.passes.toReversed())
			for (const component of components.toReversed()) {
				const nodes = component.nodes.map((n) => network.nodes[n]);
				if (!nodes.some((node) => wanted.has(node.target))) continue;
				found.add(component);
				for (const node of nodes) for (const { line } of network.readsOf(node)) wanted.add(line);
			}
		return found;
	}

	/**
	 * Calculates what depends on inputs set since the last time; nothing else can have changed.
	 * @param only what `leadingTo` answered: the rest is owed, and calculated when this is called without
	 * @returns the lines that may hold other values now
	 */
	recalculate(only: ReadonlySet<Component> | null = null): ReadonlySet<TouchedLine> {
		if (!this.changed.size && (only !== null || !this.owed.size)) return new Set();
		this.times++;
		const same =
			this.touched !== null &&
			this.touched.only === only &&
			(only !== null || !this.owed.size) &&
			sameChanges(this.touched.changed, this.changed);
		if (!same) this.touched = this.touchedBy(only);
		const { lines, dirt, passes, named } = this.touched!;
		for (const line of lines) this.changedAt[line] = this.times;
		this.changed.clear();
		for (const pass of passes) this.runPass(pass, dirt);
		return named;
	}

	/** To be told where inputs that were set hold again what they held when all was calculated last. */
	unchanged(): void {
		this.changed.clear();
	}

	/** What depends on the inputs that have changed. */
	private touchedBy(only: ReadonlySet<Component> | null): Touched {
		const changed = new Map(this.changed);
		const all = spreadChanges(this.network, this.passes, changed);
		for (const [component, own] of this.owed) all.set(component, join(all.get(component), own));
		this.owed.clear();
		const dirt = new Map<Component, Dirt>();
		for (const [component, own] of all)
			(only === null || only.has(component) ? dirt : this.owed).set(component, own);
		const lines = new Set<number>();
		const reach = (line: number, own: Dirt) => {
			this.reached.set(line, join(this.reached.get(line), own));
			lines.add(line);
		};
		for (const [line, own] of changed) reach(line, own);
		for (const [{ nodes }, own] of dirt) for (const n of nodes) reach(this.network.nodes[n].target, own);
		return {
			changed,
			only,
			dirt,
			lines: Int32Array.from(lines),
			passes: this.passes.filter((pass) => pass.components.some((c) => dirt.has(c))),
			named: new Set([...lines].map((line) => this.network.lines[line]))
		};
	}

	/** `dirt` says which components, from when on and in which rows; all of everything when null. */
	private runPass({ components, tiled, block }: Pass, dirt: ReadonlyMap<Component, Dirt> | null): void {
		const own = this.network.block(block);
		const rows = own.rows.length;
		const all: Dirt = { from: 0, lo: 0, hi: Math.max(rows, 1) };
		if (!tiled) {
			for (const component of components) {
				const own = dirt ? dirt.get(component) : all;
				if (own)
					this.runComponent(component, own.lo, dirt ? own.hi : Infinity, own.from, this.endOf(component));
			}
			return;
		}
		let whole: Dirt | undefined;
		if (dirt)
			for (const c of components) {
				const own = dirt.get(c);
				if (own) whole = join(whole, own);
			}
		else whole = all;
		if (!whole) return;
		const end = this.network.axisOf(own).length;
		const width = whole.hi - whole.lo;
		const chunk = width <= TILE_ROWS ? width : Math.ceil(width / Math.ceil(width / TILE_ROWS));
		const span = Math.max(1, Math.floor(TILE_CELLS / chunk));
		for (let lo = whole.lo; lo < whole.hi; lo += chunk) {
			const hi = Math.min(whole.hi, lo + chunk);
			for (let from = whole.from; from < end; from += span) {
				const to = Math.min(end, from + span);
				for (const component of components) {
					const own = dirt ? dirt.get(component) : all;
					if (own && own.from < to) this.runComponent(component, lo, hi, Math.max(from, own.from), to);
				}
			}
		}
	}

	/** Nodes that need each other have the same periods. */
	private endOf({ nodes }: Component): number {
		const { network } = this;
		return network.axes[network.nodes[nodes[0]].axis].length;
	}

	private runComponent({ nodes, step }: Component, lo: number, hi: number, from: number, to: number): void {
		if (step === Infinity) {
			this.runNode(this.network.nodes[nodes[0]], lo, hi, from, to);
			return;
		}
		for (let t = from; t < to; t += step) {
			const end = Math.min(to, t + step);
			for (const n of nodes) this.runNode(this.network.nodes[n], lo, hi, t, end);
		}
	}

	private runNode(node: Node, lo: number, hi: number, from: number, to: number): void {
		const begin = Math.max(from, node.from);
		const end = Math.min(to, node.to);
		if (begin >= end) return;
		const { lines } = this.network;
		const target = lines[node.target].matrix;
		switch (node.kind) {
			case 'inflow':
				return sumInto(target, node.sources, lines, Math.max(0, lo), Math.min(hi, target.rows), begin, end);
			case 'life':
				return wholeLife(node, target, lines, this.network.axes[node.axis], lo, hi);
			case 'retime': {
				const { source, weight, how, meeting } = node;
				const by = weight === null ? null : lines[weight].matrix;
				const last = Math.min(hi, target.rows);
				return retime(target, lines[source].matrix, by, how, meeting, Math.max(0, lo), last, begin, end);
			}
			case 'program': {
				const { runs, mask, program } = node;
				const machine = this.machines[node.axis];
				if (mask) {
					const first = Math.max(lo, runs[0][0]);
					const last = Math.min(hi, runs[runs.length - 1][1]);
					if (first < last) machine.run(program, target, mask, first, last, begin, end);
					return;
				}
				for (const [a, b] of runs) {
					const first = Math.max(lo, a);
					const last = Math.min(hi, b);
					if (first < last) machine.run(program, target, null, first, last, begin, end);
				}
			}
		}
	}

	has(block: string, line: string): boolean {
		return this.network.has(block, line);
	}
	block(id: string): BlockSpec {
		return this.network.block(id);
	}
	/** A line's values; do not write to them. */
	matrix(block: string, line: string): Matrix {
		return this.network.lines[this.network.find(block, line)].matrix;
	}
	/** One cell; `period` is an ordinal. Null also outside the axis. */
	cell(block: string, line: string, row: number, period: number): Cell {
		const { first, length } = this.axisOf(block);
		const t = period - first;
		const matrix = this.matrix(block, line);
		if (row < 0 || row >= matrix.rows) return null;
		return matrix.timeless || (t >= 0 && t < length) ? cellAt(matrix, row, t) : null;
	}

	/** A block’s periods. */
	axisOf(block: string): Axis {
		return this.network.axisOf(this.network.block(block));
	}

	/** A block’s first open period (an ordinal). */
	openOf(block: string): number {
		const { first, open } = this.axisOf(block);
		return first + open;
	}

	/**
	 * One cell in the periods of another block, where something there reads it so; null where nothing does. `period` is
	 * an ordinal of the other block.
	 */
	cellIn(other: string, block: string, line: string, row: number, period: number): Cell {
		const { network } = this;
		const to = network.axes.indexOf(this.axisOf(other));
		if (network.axes[to] === this.axisOf(block)) return this.cell(block, line, row, period);
		const beside = besideId(block, to);
		return network.has(beside, line) ? this.cell(beside, line, row, period) : null;
	}

	private writerOf(line: number, row: number, t: number): Node | null {
		for (const n of this.network.writers[line]) {
			const node = this.network.nodes[n];
			const column = node.kind === 'life';
			if (!column && (t < node.from || t >= node.to)) continue;
			if (node.runs.some(([from, to]) => from <= row && row < to)) return node;
		}
		return null;
	}

	/** Whether a cell may be set: no formula or posting gives it. `period` is an ordinal. */
	isInput(block: string, line: string, row: number, period: number): boolean {
		return !this.writerOf(this.network.find(block, line), row, period - this.axisOf(block).first);
	}

	/** The rule that gave a cell, or null when it was typed or given. `period` is an ordinal. */
	ruleAt(block: string, line: string, row: number, period: number): { expr: Expr; rule: number } | null {
		const node = this.writerOf(this.network.find(block, line), row, period - this.axisOf(block).first);
		return node?.kind === 'program' ? { expr: node.expr, rule: node.rule } : null;
	}

	/**
	 * Where a line may hold other values than when everything was calculated last: the rows lo (included) to hi
	 * (excluded, at most all) from a period index on; null where nothing can have changed.
	 */
	reachOf(block: string, line: string): Readonly<Dirt> | null {
		return this.reached.get(this.network.find(block, line)) ?? null;
	}

	/** All values, to be taken up by a calculation of the same making elsewhere. */
	results(): CalculationResults {
		return this.network.lines.map(({ matrix: { values, marks, errors } }) => ({
			values: values.slice(),
			marks: marks?.slice() ?? null,
			errors
		}));
	}

	/** Takes up what a calculation of the same making has computed elsewhere. */
	adopt(results: CalculationResults): this {
		this.network.lines.forEach(({ matrix }, i) => {
			matrix.values.set(results[i].values);
			matrix.marks = results[i].marks;
			matrix.errors = results[i].errors;
		});
		this.begin();
		return this;
	}

	/** A bound on the time of a full calculation, in nanoseconds of an ordinary machine. */
	get cost(): number {
		return this.network.nodes.reduce((time, node) => time + this.costOf(node, EVERYTHING), 0);
	}
	/** The same of what has to be calculated for what has changed since the last time. */
	get costOfChanges(): number {
		const dirt = spreadChanges(this.network, this.passes, this.changed);
		for (const [component, own] of this.owed) dirt.set(component, join(dirt.get(component), own));
		let time = 0;
		for (const [{ nodes }, own] of dirt)
			for (const n of nodes) time += this.costOf(this.network.nodes[n], own);
		return time;
	}
	private costOf(node: Node, { from, lo, hi }: Dirt): number {
		const { lines, axes } = this.network;
		const { length } = axes[node.axis];
		const rows = node.runs.reduce((n, [a, b]) => n + Math.max(0, Math.min(hi, b) - Math.max(lo, a)), 0);
		const periods =
			node.kind === 'life'
				? // What is summed up to a date is gone through before the axis alone.
					(node.part === 'whole' ? length : 0) + Math.min(BEYOND, length * 3)
				: Math.max(0, node.to - Math.max(from, node.from));
		if (node.kind === 'retime') return rows * periods * RETIMING;
		if (node.kind === 'inflow') return node.sources.reduce((n, s) => n + s.rows.length, 0) * periods;
		const isTimeless = (line: number) => lines[line].matrix.timeless === true;
		return rows * periods * nanosecondsFor(node.program.instructions, length, isTimeless);
	}
}

/** Inputs that have changed, by line, and all that has to be calculated for it. */
interface Touched {
	changed: ReadonlyMap<number, Dirt>;
	only: ReadonlySet<Component> | null;
	dirt: ReadonlyMap<Component, Dirt>;
	/** Places of lines that may hold other values then, and which they are. */
	lines: Int32Array;
	named: ReadonlySet<TouchedLine>;
	passes: readonly Pass[];
}
function sameChanges(a: ReadonlyMap<number, Dirt>, b: ReadonlyMap<number, Dirt>): boolean {
	if (a.size !== b.size) return false;
	for (const [line, { from, lo, hi }] of a) {
		const other = b.get(line);
		if (!other || other.from !== from || other.lo !== lo || other.hi !== hi) return false;
	}
	return true;
}

/** A line by its block and code. */
export interface TouchedLine {
	readonly block: string;
	readonly code: string;
}

/** One line's values after a calculation. */
export type CalculationResults = { values: Float64Array; marks: Uint8Array | null; errors: boolean }[];
