/**
 * One evaluator over blocks. A block is a set of rows (coordinates) on a common axis of periods, with lines;
 * driver models, tables of assumptions and the planned accounts are all blocks.
 */
import type { Expr } from '../formula/ast';
import { walk } from '../formula/ast';
import { gatherIndex, reduceShape, sharedDimensions, type Shape } from './align';
import { CycleError, orderComponents, type Component, type Edge } from './graph';
import { compile, run, Scratch, type Linker, type Program, type Source } from './program';
import { BLANK, NUMBER, blankPeriods, cellAt, marksOf, newMatrix, type Cell, type Matrix } from './values';

export interface Axis {
	/** Period ordinal of index 0. */
	first: number;
	/** Number of periods. */
	length: number;
	/** Index of the first open period; those before it are closed. */
	open: number;
	/** For each index, the index of its fiscal year's first period (may be negative). */
	yearStart: Int32Array;
}

export interface RuleSpec {
	/** Rows to which it applies: from (included) to (excluded). All when absent. */
	rows?: [number, number];
	/** First period index calculated. */
	from: number;
	expr: Expr;
}

/** Rows of other blocks' lines summed into this one's (postings). */
export interface InflowSpec {
	block: string;
	line: string;
	/** For each source row the target row, −1 for none. */
	index: Int32Array;
}

export interface LineSpec {
	code: string;
	/** Given values; cells not covered by a rule keep them. */
	seed?: Matrix;
	rules?: RuleSpec[];
	inflows?: InflowSpec[];
	/** Whether it may be summed over members. */
	additive: boolean;
}

export interface BlockSpec extends Shape {
	id: string;
	lines: LineSpec[];
}

interface Line {
	block: string;
	code: string;
	matrix: Matrix;
	additive: boolean;
}

type Node = { target: number; rows: [number, number]; from: number } & (
	| { kind: 'program'; program: Program; expr: Expr }
	| { kind: 'inflow'; sources: { line: number; index: Int32Array }[] }
);

/** A model that cannot be calculated: names the block and line, and says why. */
export class ModelError extends Error {
	constructor(
		readonly block: string,
		readonly line: string,
		message: string
	) {
		super(message);
	}
}

/** Tiles of about this many cells keep all registers of a program in the processor's cache. */
const TILE_CELLS = 8192;
/** Block of planning accounts by department, which `account("…")` reads. */
const ACCOUNTS_BLOCK = 'ledger';

export class Calculation {
	private readonly blocks = new Map<string, BlockSpec>();
	private readonly lines: Line[] = [];
	private readonly lineIndex = new Map<string, number>();
	private readonly nodes: Node[] = [];
	private readonly writers: number[][] = [];
	private components: Component[] = [];
	private componentOf: Int32Array = new Int32Array(0);
	private reads: Edge[][] = [];
	private readers: number[][] | null = null;
	private readonly scratch = new Scratch();
	private hidden = 0;

	/**
	 * @throws ModelError when a reference leads nowhere, a line that cannot be summed would have to be,
	 * or lines need their own result
	 */
	constructor(
		readonly axis: Axis,
		specs: readonly BlockSpec[]
	) {
		for (const spec of specs) this.addBlock(spec);
		for (const spec of specs) for (const line of spec.lines) this.addNodes(spec, line);
		this.order();
	}

	private addBlock(spec: BlockSpec): void {
		this.blocks.set(spec.id, spec);
		for (const line of spec.lines)
			this.addLine(
				spec,
				line.code,
				line.additive,
				line.seed ?? newMatrix(spec.rows.length, this.axis.length)
			);
	}

	private addLine(block: BlockSpec, code: string, additive: boolean, matrix: Matrix): number {
		const index = this.lines.length;
		this.lines.push({ block: block.id, code, matrix, additive });
		this.lineIndex.set(`${block.id}\u0000${code}`, index);
		this.writers.push([]);
		return index;
	}

	private addNode(node: Node): void {
		this.writers[node.target].push(this.nodes.length);
		this.nodes.push(node);
	}

	private addNodes(block: BlockSpec, spec: LineSpec): void {
		const target = this.find(block.id, spec.code);
		const rows: [number, number] = [0, block.rows.length];
		if (spec.inflows?.length) {
			const sources = spec.inflows.map((f) => ({ line: this.find(f.block, f.line), index: f.index }));
			this.addNode({ kind: 'inflow', target, rows, from: this.axis.open, sources });
		}
		for (const rule of spec.rules ?? []) {
			if (!spec.seed) blankPeriods(this.lines[target].matrix, 0, rule.from);
			const program = compile(rule.expr, this.linker(block, spec.code));
			this.addNode({
				kind: 'program',
				target,
				rows: rule.rows ?? rows,
				from: rule.from,
				program,
				expr: rule.expr
			});
		}
	}

	private linker(block: BlockSpec, line: string): Linker {
		const resolve = (blockId: string | null, code: string) => {
			try {
				return this.source(block, blockId ?? block.id, code);
			} catch (e) {
				throw e instanceof ModelError ? new ModelError(block.id, line, e.message) : e;
			}
		};
		return {
			reference: (e) => resolve(e.block, e.line),
			account: (code) => resolve(ACCOUNTS_BLOCK, code),
			hoist: (expr) => {
				const index = this.addLine(
					block,
					`#${this.hidden++}`,
					true,
					newMatrix(block.rows.length, this.axis.length)
				);
				const program = compile(expr, this.linker(block, line));
				this.addNode({
					kind: 'program',
					target: index,
					rows: [0, block.rows.length],
					from: 0,
					program,
					expr
				});
				return index;
			}
		};
	}

	/** Where a line of `from` block is read, lined up with the rows of `to`. */
	private source(to: BlockSpec, from: string, code: string): Source {
		const block = this.blocks.get(from);
		if (!block) throw new ModelError(to.id, code, `There is no model “${from}”.`);
		const line = this.lineIndex.get(`${from}\u0000${code}`);
		if (line === undefined) throw new ModelError(to.id, code, `There is no line “${code}” in “${from}”.`);
		if (from === to.id) return { line, index: null };
		const shared = sharedDimensions(block, to);
		if (shared.length === block.dimensions.length) return { line, index: gatherIndex(to, block) };
		if (!this.lines[line].additive)
			throw new ModelError(
				to.id,
				code,
				`${from}.${code} cannot be summed over ${block.dimensions.filter((d) => !shared.includes(d)).join(' and ')}; its roll-up over members is not a sum.`
			);
		return this.reduced(to, block, line, shared);
	}

	/** A line summed down to shared dimensions, made once and shared by all that read it so. */
	private reduced(to: BlockSpec, block: BlockSpec, line: number, shared: string[]): Source {
		const id = `${block.id}#${shared.join('|')}`;
		const { shape, index } = reduceShape(block, shared);
		const spec: BlockSpec = this.blocks.get(id) ?? { id, ...shape, lines: [] };
		this.blocks.set(id, spec);
		const key = `${id}\u0000${this.lines[line].code}`;
		let target = this.lineIndex.get(key);
		if (target === undefined) {
			target = this.addLine(spec, this.lines[line].code, true, newMatrix(spec.rows.length, this.axis.length));
			const rows: [number, number] = [0, spec.rows.length];
			this.addNode({ kind: 'inflow', target, rows, from: 0, sources: [{ line, index }] });
		}
		return { line: target, index: gatherIndex(to, spec) };
	}

	private find(block: string, line: string): number {
		const index = this.lineIndex.get(`${block}\u0000${line}`);
		if (index === undefined) throw new ModelError(block, line, `There is no line “${line}” in “${block}”.`);
		return index;
	}

	private order(): void {
		this.reads = this.nodes.map((node) => {
			const edges: Edge[] = [];
			const addEdges = (line: number, lag: number, rows: [number, number] | null) => {
				for (const writer of this.writers[line]) {
					const w = this.nodes[writer].rows;
					if (rows === null || (w[0] < rows[1] && rows[0] < w[1])) edges.push({ to: writer, lag });
				}
			};
			if (node.kind === 'program')
				for (const read of node.program.reads) {
					// What is calculated from the first open period on cannot change the closed ones.
					const lag = read.lag ?? (node.from >= this.axis.open ? Infinity : 1);
					addEdges(read.line, lag, read.sameRows ? node.rows : null);
				}
			else for (const { line } of node.sources) addEdges(line, 0, null);
			return edges;
		});
		try {
			this.components = orderComponents(this.reads);
		} catch (e) {
			if (!(e instanceof CycleError)) throw e;
			const names = e.path
				.map((n) => this.lines[this.nodes[n].target])
				.filter((line) => !line.code.startsWith('#') && !line.block.includes('#'))
				.map((line) =>
					line.block === ACCOUNTS_BLOCK ? `account ${line.code}` : `${line.block}.${line.code}`
				)
				.filter((name, i, all) => name !== all[i - 1]);
			if (names.length === 1) names.push(names[0]);
			const first = e.path.map((n) => this.lines[this.nodes[n].target]).find((l) => !l.code.startsWith('#'))!;
			throw new ModelError(
				first.block,
				first.code,
				`These need each other's result in the same month: ${names.join(' → ')}. Break the circle, for instance with opening() or lag().`
			);
		}
		this.componentOf = new Int32Array(this.nodes.length);
		this.components.forEach((c, i) => c.nodes.forEach((n) => (this.componentOf[n] = i)));
	}

	/** Calculates everything. */
	calculate(): this {
		for (const line of this.lines)
			if (this.writers[this.find(line.block, line.code)].length) line.matrix.errors = false;
		for (const component of this.components) this.runComponent(component, 0);
		return this;
	}

	/** Sets one input cell, without calculating. `period` is an index on the axis; null makes it blank. */
	setInput(block: string, line: string, row: number, period: number, value: number | null): void {
		const { matrix } = this.lines[this.find(block, line)];
		const i = period * matrix.rows + row;
		matrix.values[i] = value ?? 0;
		if (value === null) marksOf(matrix)[i] = BLANK;
		else if (matrix.marks) matrix.marks[i] = NUMBER;
	}

	/** Calculates what depends on the given lines, from a period on; nothing else can have changed. */
	recalculate(changed: readonly { block: string; line: string }[], from: number): void {
		const readers = (this.readers ??= this.readersOfLines());
		const dirty = new Set<number>();
		const queue = changed.map((c) => this.find(c.block, c.line));
		// A changed line may itself be partly calculated (a typed value over a basis).
		while (queue.length)
			for (const node of readers[queue.pop()!])
				if (!dirty.has(node)) {
					dirty.add(node);
					queue.push(this.nodes[node].target);
				}
		const affected = [...new Set([...dirty].map((n) => this.componentOf[n]))].sort((a, b) => a - b);
		for (const i of affected) this.runComponent(this.components[i], from);
	}

	private readersOfLines(): number[][] {
		const readers: number[][] = this.lines.map(() => []);
		this.nodes.forEach((node, n) => {
			const lines =
				node.kind === 'program' ? node.program.reads.map((r) => r.line) : node.sources.map((s) => s.line);
			for (const line of new Set(lines)) readers[line].push(n);
		});
		return readers;
	}

	private runComponent({ nodes, step }: Component, from: number): void {
		const end = this.axis.length;
		const [first] = nodes;
		if (nodes.length === 1 && step === Infinity) {
			const node = this.nodes[first];
			const width = Math.max(1, node.rows[1] - node.rows[0]);
			const chunk = Math.max(1, Math.floor(TILE_CELLS / width));
			for (let t = Math.max(from, node.from); t < end; t += chunk)
				this.runNode(node, t, Math.min(end, t + chunk));
			return;
		}
		// From the earliest beginning on, so that no look back falls into a part not yet calculated.
		const start = Math.max(from, Math.min(...nodes.map((n) => this.nodes[n].from)));
		for (let t = start; t < end; t = Math.min(end, t + step))
			for (const n of nodes) {
				const begin = Math.max(t, this.nodes[n].from);
				const to = Math.min(end, t + step);
				if (begin < to) this.runNode(this.nodes[n], begin, to);
			}
	}

	private runNode(node: Node, from: number, to: number): void {
		const { matrix: target } = this.lines[node.target];
		if (node.kind === 'inflow') return this.inflow(target, node.sources, from, to);
		run(
			node.program,
			{
				target,
				lines: this.lines,
				rowFrom: node.rows[0],
				rowTo: node.rows[1],
				from,
				to,
				yearStart: this.axis.yearStart,
				open: this.axis.open
			},
			this.scratch
		);
	}

	private inflow(target: Matrix, sources: { line: number; index: Int32Array }[], from: number, to: number) {
		target.values.fill(0, from * target.rows, to * target.rows);
		target.marks?.fill(NUMBER, from * target.rows, to * target.rows);
		for (const { line, index } of sources) {
			const { matrix } = this.lines[line];
			for (let t = from; t < to; t++) {
				const s = t * matrix.rows;
				const d = t * target.rows;
				for (let r = 0; r < matrix.rows; r++) {
					const to = index[r];
					if (to < 0) continue;
					target.values[d + to] += matrix.values[s + r];
					if (matrix.errors && matrix.marks && matrix.marks[s + r] > BLANK) {
						marksOf(target)[d + to] = matrix.marks[s + r];
						target.errors = true;
					}
				}
			}
		}
	}

	has(block: string, line: string): boolean {
		return this.lineIndex.has(`${block}\u0000${line}`);
	}
	block(id: string): BlockSpec {
		const block = this.blocks.get(id);
		if (!block) throw new ModelError(id, '', `There is no model “${id}”.`);
		return block;
	}
	/** A line's values; do not write to them. */
	matrix(block: string, line: string): Matrix {
		return this.lines[this.find(block, line)].matrix;
	}
	/** One cell; `period` is an ordinal. Null also outside the axis. */
	cell(block: string, line: string, row: number, period: number): Cell {
		const t = period - this.axis.first;
		return t < 0 || t >= this.axis.length || row < 0 ? null : cellAt(this.matrix(block, line), row, t);
	}

	/** The formula that gave a cell, or null when it was typed or given. `period` is an ordinal. */
	ruleAt(block: string, line: string, row: number, period: number): Expr | null {
		const t = period - this.axis.first;
		for (const n of this.writers[this.find(block, line)]) {
			const node = this.nodes[n];
			if (node.kind === 'program' && node.rows[0] <= row && row < node.rows[1] && t >= node.from)
				return node.expr;
		}
		return null;
	}

	/** Each reference of a formula with its value at one cell: the values that were put in. `period` is an ordinal. */
	operands(block: string, expr: Expr, row: number, period: number) {
		const own = this.block(block);
		const found: { expr: Expr; block: string; line: string; row: number; period: number; value: Cell }[] = [];
		const add = (at: Expr, from: string, code: string, when: number) => {
			const { line, index } = this.source(own, from, code);
			const sourceRow = index ? index[row] : row;
			const t = when - this.axis.first;
			const value =
				t < 0 || t >= this.axis.length || sourceRow < 0
					? null
					: cellAt(this.lines[line].matrix, sourceRow, t);
			found.push({
				expr: at,
				block: from,
				line: code,
				row: this.isSummed(from, own) ? -1 : sourceRow,
				period: when,
				value
			});
		};
		const shifted = new Map<Expr, number>();
		walk(expr, (e) => {
			if (e.kind === 'call' && (e.name === 'lag' || e.name === 'opening')) {
				const n = e.name === 'opening' ? 1 : e.args[1]?.kind === 'number' ? e.args[1].value : 1;
				walk(e.args[0], (inner) => shifted.set(inner, (shifted.get(inner) ?? 0) + n));
			}
		});
		walk(expr, (e) => {
			const when = period - (shifted.get(e) ?? 0);
			if (e.kind === 'reference') add(e, e.block ?? block, e.line, when);
			if (e.kind === 'call' && e.name === 'account' && e.args[0].kind === 'text')
				add(e, ACCOUNTS_BLOCK, e.args[0].value, when);
		});
		return found;
	}

	private isSummed(from: string, own: BlockSpec): boolean {
		const block = this.blocks.get(from)!;
		return from !== own.id && sharedDimensions(block, own).length < block.dimensions.length;
	}
}
