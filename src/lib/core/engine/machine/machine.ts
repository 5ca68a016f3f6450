/** Runs programs over tiles: a run of rows × a run of periods of one line. */
import { extendCurve } from '../../functions/cohort';
import { irr, npv, xirr, xnpv } from '../../functions/financial';
import type { Arena } from './arena';
import type { Axis } from '../axis';
import type { CashFlowItem, Instruction, Program, WindowFunction } from '../instructions';
import { AGGREGATES, BINARY, type AggregateName, type BinaryName, type View } from './kernels';
import { DIVIDED_BY_ZERO, SCALARS, WRONG_VALUE, type ScalarInfo } from './scalars';
import { BLANK, DIV0, marksOf, NUM, NUMBER, VALUE, type Matrix } from '../values';

/** Tiles of at most this many cells keep what is worked on in the processor's cache. */
export const TILE_CELLS = 4096;
/** A register's memory: a tile, and some room so that registers do not fall on the same lines of the cache. */
const REGISTER_CELLS = TILE_CELLS + 24;

/** How much memory a machine takes from its arena, beside lines of so many cells. */
export const scratchCells = (registers: number, cells: number) =>
	registers * Math.min(REGISTER_CELLS, cells + 24) + 2 * (registers + 1);

/** Scratch memory for registers, taken when first needed. */
class Scratch {
	private readonly values: Float64Array[] = [];
	private readonly marks: Uint8Array[] = [];
	constructor(
		private readonly arena: Arena,
		private readonly size: number
	) {}
	valuesOf(register: number): Float64Array {
		return (this.values[register] ??= this.arena.allocate(this.size));
	}
	marksOf(register: number): Uint8Array {
		return (this.marks[register] ??= new Uint8Array(this.size));
	}
}

/** For each row whether the result is wanted; null for all. */
export type RowMask = Uint8Array | null;

export class Machine {
	private readonly scratch: Scratch;
	private program!: Program;
	private target!: Matrix;
	private mask: RowMask = null;
	private rowFrom = 0;
	/** Rows and periods of the tile, and its first period. */
	private rows = 0;
	private from = 0;
	private periods = 0;

	constructor(
		private readonly lines: readonly { matrix: Matrix }[],
		private readonly axis: Axis,
		private readonly arena: Arena,
		/** No line has more cells than this. */
		cells: number
	) {
		this.scratch = new Scratch(arena, Math.min(REGISTER_CELLS, cells + 24));
	}

	/**
	 * Runs a program over rows × periods (each from included, to excluded) and leaves the result in the target.
	 * It is done in tiles that fit into a register, split also where a look back or ahead leaves the axis.
	 */
	run(
		program: Program,
		target: Matrix,
		mask: RowMask,
		rowFrom: number,
		rowTo: number,
		from: number,
		to: number
	): void {
		this.program = program;
		this.target = target;
		this.mask = mask;
		for (let start = from; start < to;) {
			let end = Math.min(to, start + TILE_CELLS);
			for (const shift of program.shifts) {
				const edge = shift > 0 ? shift : this.axis.length + shift;
				if (edge > start && edge < end) end = edge;
			}
			this.from = start;
			this.periods = end - start;
			const most = Math.max(1, Math.floor(TILE_CELLS / this.periods));
			for (let row = rowFrom; row < rowTo; row += most) {
				this.rowFrom = row;
				this.rows = Math.min(most, rowTo - row);
				this.runTile();
			}
			start = end;
		}
	}

	private runTile(): void {
		const { instructions, views } = this.program;
		const last = instructions.length - 1;
		for (let i = 0; i <= last; i++) {
			const ins = instructions[i];
			const out = views[i];
			const final = i === last && this.mask === null;
			out.marks = null;
			out.errors = false;
			out.owner = null;
			if (!final && (isSteady(ins, views) || this.isColumn(ins))) {
				// What is the same in all periods is worked out once, and read in each of them.
				const { periods } = this;
				this.periods = 1;
				this.execute(ins, out, final, views);
				this.periods = periods;
				out.stride = 0;
			} else this.execute(ins, out, final, views);
		}
		if (this.mask) this.scatter(views[last], this.mask);
	}

	/** Whether it reads a column, which has one value for all periods, for other rows. */
	private isColumn(ins: Instruction): boolean {
		return ins.op === 'gather' && this.lines[ins.line].matrix.timeless === true;
	}

	private execute(ins: Instruction, out: View, final: boolean, views: View[]): void {
		switch (ins.op) {
			case 'const':
				out.values = this.scratch.valuesOf(ins.out);
				out.values[0] = ins.value;
				out.base = out.stride = out.step = 0;
				return;
			case 'blank':
				return this.bindBlank(ins.out, out);
			case 'load':
				return this.bindLine(ins.out, out, this.lines[ins.line].matrix, ins.lag);
			case 'gather':
				return this.gather(ins.out, out, this.lines[ins.line].matrix, ins.index, ins.oneRow);
			case 'ytd':
			case 'calendar_ytd':
			case 'trailing':
			case 'to_date':
				this.bindResult(ins.out, out, final, 1);
				return this.sumWindow(ins.op, out, this.lines[ins.line].matrix, ins.n);
			case 'run_rate':
				this.bindResult(ins.out, out, final, 1);
				return this.runRate(out, this.lines[ins.line].matrix, ins.n);
			case 'period_start':
			case 'period_end':
			case 'days_in_period':
			case 'months_in_period':
				return this.periodFact(ins.op, ins.out, out, final);
			case 'year_back':
				return this.yearBack(ins.lag, ins.out, out, final);
			case 'binary': {
				const a = views[ins.a];
				const b = views[ins.b];
				this.bindResult(ins.out, out, final, a.step || b.step ? 1 : 0);
				const bad = this.arithmetic(ins.fn, out, a, b);
				return this.finish(out, a, b, bad ? ins.fn : null);
			}
			case 'ratio': {
				const a = views[ins.a];
				const b = views[ins.b];
				const c = ins.c < 0 ? null : views[ins.c];
				this.bindResult(ins.out, out, final, a.step || b.step || c?.step ? 1 : 0);
				const zero = this.arithmetic('/', out, a, b);
				this.clearMarks(out);
				if (zero || a.errors || b.errors) this.ratio(out, a, b, c);
				return;
			}
			case 'if': {
				const c = views[ins.c];
				const a = views[ins.a];
				const b = views[ins.b];
				this.bindResult(ins.out, out, final, c.step || a.step || b.step ? 1 : 0);
				return this.choose(out, c, a, b);
			}
			case 'coalesce': {
				const a = views[ins.a];
				const b = views[ins.b];
				this.bindResult(ins.out, out, final, a.step || b.step ? 1 : 0);
				return this.coalesce(out, a, b);
			}
			case 'is_blank': {
				const a = views[ins.a];
				this.bindResult(ins.out, out, final, a.step);
				return this.isBlank(out, a);
			}
			case 'copy': {
				const a = views[ins.a];
				this.bindResult(ins.out, out, final, 1);
				return this.copy(out, a);
			}
			case 'aggregate': {
				const args = ins.args.map((i) => views[i]);
				this.bindResult(ins.out, out, final, args.some((v) => v.step) ? 1 : 0);
				return this.aggregate(ins.fn, out, args);
			}
			case 'scalar': {
				const args = ins.args.map((i) => views[i]);
				this.bindResult(ins.out, out, final, args.some((v) => v.step) ? 1 : 0);
				return this.scalar(SCALARS[ins.fn], out, args);
			}
			case 'cashflow':
				this.bindResult(ins.out, out, final, 1);
				return this.cashflow(ins, out, views);
			case 'cohort':
				this.bindResult(ins.out, out, final, 1);
				return this.cohort(ins, out, views);
		}
	}

	// Views -----------------------------------------------------------------

	private bindLine(register: number, out: View, m: Matrix, lag: number): void {
		const period = this.from - lag;
		if (!m.timeless && (period < 0 || period + this.periods > this.axis.length))
			return this.bindBlank(register, out);
		out.values = m.values;
		out.marks = m.marks;
		out.errors = m.errors;
		out.base = (m.timeless ? 0 : period * m.rows) + this.rowFrom;
		out.stride = m.timeless ? 0 : m.rows;
		out.step = 1;
	}
	private bindBlank(register: number, out: View): void {
		out.values = this.scratch.valuesOf(register);
		out.values[0] = 0;
		out.marks = this.scratch.marksOf(register);
		out.marks[0] = BLANK;
		out.base = out.stride = out.step = 0;
	}
	/** Where a result goes: the target's own memory at the end, else a register's. */
	private bindResult(register: number, out: View, final: boolean, step: 0 | 1): void {
		if (final) {
			out.values = this.target.values;
			out.marks = this.target.marks;
			out.base = this.from * this.target.rows + this.rowFrom;
			out.stride = this.target.rows;
			out.step = 1;
			out.owner = this.target;
			return;
		}
		out.values = this.scratch.valuesOf(register);
		out.base = 0;
		out.stride = step ? this.rows : 1;
		out.step = step;
	}
	/** Runs a kernel; the compiled one where everything lies in the arena. Answers whether a result may be an error. */
	private arithmetic(fn: BinaryName, out: View, a: View, b: View): boolean {
		const { rows, periods } = this;
		const { native } = this.arena;
		if (native === null || !(fn in native.loops) || !(a.step || b.step) || !out.step || rows < 8)
			return BINARY[fn](out, a, b, rows, periods);
		const { buffer, loops, mayFail } = native;
		if (out.values.buffer !== buffer || a.values.buffer !== buffer || b.values.buffer !== buffer)
			return BINARY[fn](out, a, b, rows, periods);
		const three = loops[fn as '+'];
		const loop = a.step ? (b.step ? three.both : three.right) : three.left;
		const y = b.values.byteOffset + b.base * 8;
		loop(
			out.values.byteOffset + out.base * 8,
			out.stride * 8,
			a.values.byteOffset + a.base * 8,
			a.stride * 8,
			y,
			b.stride * 8,
			rows,
			periods
		);
		return fn === '/' && mayFail(y, b.stride * 8, b.step ? rows : 1, periods) !== 0;
	}

	// Marks -----------------------------------------------------------------

	private clearMarks(out: View): void {
		if (!out.marks) return;
		const width = out.step ? this.rows : 1;
		for (let t = 0; t < this.periods; t++) {
			const k = out.base + t * out.stride;
			out.marks.fill(NUMBER, k, k + width);
		}
	}
	/** Marks of an output, made when first needed; a target keeps its own. */
	private writableMarks(out: View, register: number): Uint8Array {
		if (out.marks) return out.marks;
		if (out.owner) return (out.marks = marksOf(out.owner));
		const marks = this.scratch.marksOf(register);
		marks.fill(NUMBER);
		return (out.marks = marks);
	}
	private registerOf(out: View): number {
		return this.program.views.indexOf(out);
	}
	/** Writes a cell that is no plain number, or may not be one. */
	private put(out: View, o: number, value: number, mark: number): void {
		if (mark === NUMBER) {
			out.values[o] = value;
			if (out.marks) out.marks[o] = NUMBER;
			return;
		}
		out.values[o] = mark === BLANK ? 0 : NaN;
		this.writableMarks(out, this.registerOf(out))[o] = mark;
		if (mark !== BLANK) {
			out.errors = true;
			if (out.owner) out.owner.errors = true;
		}
	}
	/** Writes a computed number; one that is not finite says which error it is. */
	private putResult(out: View, o: number, value: number): void {
		if (value - value === 0) this.put(out, o, value, NUMBER);
		else this.put(out, o, 0, value === DIVIDED_BY_ZERO ? DIV0 : value === WRONG_VALUE ? VALUE : NUM);
	}
	/** After arithmetic: blanks have become numbers, errors go on, and new ones are named. */
	private finish(out: View, a: View, b: View, failed: string | null): void {
		this.clearMarks(out);
		if (!a.errors && !b.errors && failed === null) return;
		const divides = failed === '/' || failed === 'mod';
		const width = out.step ? this.rows : 1;
		for (let t = 0; t < this.periods; t++)
			for (let r = 0; r < width; r++) {
				const o = out.base + t * out.stride + r;
				const ma = a.errors ? markAt(a, t, r) : NUMBER;
				const mb = b.errors ? markAt(b, t, r) : NUMBER;
				if (ma > BLANK) this.put(out, o, 0, ma);
				else if (mb > BLANK) this.put(out, o, 0, mb);
				else if (failed !== null) {
					const x = a.values[place(a, t, r)];
					const y = b.values[place(b, t, r)];
					// What has grown beyond all numbers is an error too, and does not become 0 as a divisor.
					const finite = Number.isFinite(out.values[o]) && Number.isFinite(x) && Number.isFinite(y);
					if (!finite) this.put(out, o, 0, divides && y === 0 ? DIV0 : NUM);
				}
			}
	}

	// Instructions ----------------------------------------------------------

	private gather(register: number, out: View, source: Matrix, index: Int32Array, oneRow: boolean): void {
		const { from, periods, rows, rowFrom } = this;
		if (oneRow && source.rows === 1) {
			out.values = source.values;
			out.marks = source.marks;
			out.errors = source.errors;
			out.base = source.timeless ? 0 : from;
			out.stride = source.timeless ? 0 : 1;
			out.step = 0;
			return;
		}
		this.bindResult(register, out, false, 1);
		const stride = source.timeless ? 0 : source.rows;
		let missing = false;
		for (let t = 0; t < periods; t++) {
			const k = t * rows;
			const s = (from + t) * stride;
			for (let r = 0; r < rows; r++) {
				const i = index[rowFrom + r];
				if (i < 0) missing = true;
				out.values[k + r] = i < 0 ? 0 : source.values[s + i];
			}
		}
		if (!source.marks && !missing) return;
		for (let t = 0; t < periods; t++)
			for (let r = 0; r < rows; r++) {
				const i = index[rowFrom + r];
				const mark = i < 0 ? BLANK : source.marks ? source.marks[(from + t) * stride + i] : NUMBER;
				if (mark !== NUMBER) this.put(out, t * rows + r, 0, mark);
			}
	}

	private windowStart(op: WindowFunction, period: number, n: number): number {
		switch (op) {
			case 'ytd':
				return Math.max(0, this.axis.yearStart[period]);
			case 'calendar_ytd':
				return Math.max(0, this.axis.calendarYearStart[period]);
			case 'trailing':
				return Math.max(0, period - n + 1);
			default:
				return 0;
		}
	}

	/** Sums from the window's first period to each period, always from left to right, so that bits do not depend on tiles. */
	private sumWindow(op: WindowFunction, out: View, source: Matrix, n: number): void {
		const { rows, rowFrom } = this;
		const o = out.values;
		this.clearMarks(out);
		for (let t = 0; t < this.periods; t++) {
			const period = this.from + t;
			const k = out.base + t * out.stride;
			const start = this.windowStart(op, period, n);
			const goesOn = t > 0 && start === this.windowStart(op, period - 1, n);
			if (goesOn && !source.errors) {
				const before = k - out.stride;
				const s = period * source.rows + rowFrom;
				for (let r = 0; r < rows; r++) o[k + r] = o[before + r] + source.values[s + r];
				continue;
			}
			o.fill(0, k, k + rows);
			for (let p = start; p <= period; p++) {
				const s = p * source.rows + rowFrom;
				for (let r = 0; r < rows; r++) o[k + r] += source.values[s + r];
			}
			if (!source.errors) continue;
			for (let p = period; p >= start; p--)
				for (let r = 0; r < rows; r++) {
					const mark = source.marks![p * source.rows + rowFrom + r];
					if (mark > BLANK) this.put(out, k + r, 0, mark);
				}
		}
	}

	private runRate(out: View, source: Matrix, n: number): void {
		this.clearMarks(out);
		const end = this.axis.open;
		for (let r = 0; r < this.rows; r++) {
			let total = 0;
			let numbers = 0;
			let error = NUMBER;
			for (let p = Math.max(0, end - n); p < end; p++) {
				const i = p * source.rows + this.rowFrom + r;
				const mark = source.marks ? source.marks[i] : NUMBER;
				if (mark > BLANK && error === NUMBER) error = mark;
				if (mark !== NUMBER) continue;
				total += source.values[i];
				numbers++;
			}
			for (let t = 0; t < this.periods; t++) {
				const o = out.base + t * out.stride + r;
				if (error !== NUMBER) this.put(out, o, 0, error);
				else if (numbers) this.put(out, o, total / numbers, NUMBER);
				else this.put(out, o, 0, BLANK);
			}
		}
	}

	private periodFact(op: string, register: number, out: View, final: boolean): void {
		this.bindResult(register, out, final, 0);
		this.clearMarks(out);
		const { firstDay, lastDay, daysBetween, months } = this.axis;
		for (let t = 0; t < this.periods; t++) {
			const p = this.from + t;
			const value =
				op === 'period_start'
					? firstDay[p]
					: op === 'period_end'
						? lastDay[p]
						: op === 'months_in_period'
							? months[p]
							: daysBetween(firstDay[p], lastDay[p]);
			const k = out.base + t * out.stride;
			out.values.fill(value, k, k + (out.step ? this.rows : 1));
		}
	}

	private yearBack(lag: number, register: number, out: View, final: boolean): void {
		this.bindResult(register, out, final, 0);
		this.clearMarks(out);
		const { yearBack } = this.axis;
		for (let t = 0; t < this.periods; t++) {
			const then = Math.min(Math.max(this.from + t - lag, 0), yearBack.length - 1);
			const k = out.base + t * out.stride;
			out.values.fill(yearBack[then], k, k + (out.step ? this.rows : 1));
		}
	}

	/** After the division: what was divided by 0 becomes blank, or what is asked for. */
	private ratio(out: View, a: View, b: View, c: View | null): void {
		const errors = a.errors || b.errors;
		const width = out.step ? this.rows : 1;
		for (let t = 0; t < this.periods; t++) {
			const k = out.base + t * out.stride;
			const j = b.base + t * b.stride;
			for (let r = 0; r < width; r++) {
				const divisor = b.values[j + r * b.step];
				if (errors) {
					const first = markAt(a, t, r);
					const mark = first > BLANK ? first : markAt(b, t, r);
					if (mark > BLANK) {
						this.put(out, k + r, 0, mark);
						continue;
					}
				}
				if (divisor - divisor !== 0) this.put(out, k + r, 0, NUM);
				else if (divisor !== 0) continue;
				else if (c) this.putFrom(out, k + r, c, t, r);
				else this.put(out, k + r, 0, BLANK);
			}
		}
	}

	private choose(out: View, c: View, a: View, b: View): void {
		this.clearMarks(out);
		const plain = !c.errors && !a.marks && !b.marks;
		const width = out.step ? this.rows : 1;
		for (let t = 0; t < this.periods; t++) {
			const k = out.base + t * out.stride;
			const h = c.base + t * c.stride;
			const i = a.base + t * a.stride;
			const j = b.base + t * b.stride;
			if (plain)
				for (let r = 0; r < width; r++)
					out.values[k + r] =
						c.values[h + r * c.step] !== 0 ? a.values[i + r * a.step] : b.values[j + r * b.step];
			else
				for (let r = 0; r < width; r++) {
					const mark = markAt(c, t, r);
					if (mark > BLANK) this.put(out, k + r, 0, mark);
					else this.putFrom(out, k + r, c.values[h + r * c.step] !== 0 ? a : b, t, r);
				}
		}
	}

	private coalesce(out: View, a: View, b: View): void {
		this.clearMarks(out);
		if (a.errors || b.errors || !a.step || !b.step || !a.marks) {
			this.eachCell(out, (o, t, r) => this.putFrom(out, o, markAt(a, t, r) === BLANK ? b : a, t, r));
			return;
		}
		// Every planned account is typed or else by its basis, so this is the loop that plans are made of.
		const blank = b.marks;
		for (let t = 0; t < this.periods; t++) {
			const k = (out.base + t * out.stride) | 0;
			const i = (a.base + t * a.stride) | 0;
			const j = (b.base + t * b.stride) | 0;
			for (let r = 0; r < this.rows; r++) {
				if (a.marks[i + r] !== BLANK) out.values[k + r] = a.values[i + r];
				else if (blank !== null && blank[j + r] === BLANK) this.put(out, k + r, 0, BLANK);
				else out.values[k + r] = b.values[j + r];
			}
		}
	}

	private isBlank(out: View, a: View): void {
		this.clearMarks(out);
		this.eachCell(out, (o, t, r) => (out.values[o] = markAt(a, t, r) === BLANK ? 1 : 0));
	}

	private copy(out: View, a: View): void {
		this.clearMarks(out);
		for (let t = 0; t < this.periods; t++) {
			const k = out.base + t * out.stride;
			const i = a.base + t * a.stride;
			if (!a.step) out.values.fill(a.values[i], k, k + this.rows);
			else if (this.rows > 16) out.values.set(a.values.subarray(i, i + this.rows), k);
			else for (let r = 0; r < this.rows; r++) out.values[k + r] = a.values[i + r];
		}
		if (!a.marks) return;
		this.eachCell(out, (o, t, r) => {
			const mark = markAt(a, t, r);
			if (mark !== NUMBER) this.put(out, o, 0, mark);
		});
	}

	private aggregate(fn: AggregateName, out: View, args: readonly View[]): void {
		this.clearMarks(out);
		const step = AGGREGATES[fn];
		if (fn !== 'average' && args.every((v) => v.marks === null) && this.aggregateNumbers(step, out, args))
			return;
		this.eachCell(out, (o, t, r) => {
			let acc = 0;
			let n = 0;
			for (const v of args) {
				const mark = markAt(v, t, r);
				if (mark > BLANK) return this.put(out, o, 0, mark);
				if (mark === BLANK) continue;
				const value = v.values[place(v, t, r)];
				if (value - value !== 0) return this.put(out, o, 0, NUM);
				acc = step(acc, value, n++);
			}
			if (fn !== 'average') this.put(out, o, acc, NUMBER);
			else this.putResult(out, o, n ? acc / n : DIVIDED_BY_ZERO);
		});
	}

	/** The same where all are numbers. Answers whether they were. */
	private aggregateNumbers(
		step: (acc: number, value: number, n: number) => number,
		out: View,
		args: readonly View[]
	): boolean {
		const width = out.step ? this.rows : 1;
		for (let t = 0; t < this.periods; t++) {
			const k = out.base + t * out.stride;
			for (let r = 0; r < width; r++) {
				let acc = 0;
				for (let n = 0; n < args.length; n++) {
					const v = args[n];
					const value = v.values[v.base + t * v.stride + r * v.step];
					if (value - value !== 0) return false;
					acc = step(acc, value, n);
				}
				out.values[k + r] = acc;
			}
		}
		return true;
	}

	private scalar(info: ScalarInfo, out: View, args: readonly View[]): void {
		this.clearMarks(out);
		if (args.every((view) => view.stride === 0)) return this.steady(info, out, args);
		const { f, blanks } = info;
		const given: number[] = Array<number>(args.length).fill(0);
		this.eachCell(out, (o, t, r) => {
			for (let i = 0; i < args.length; i++) {
				const mark = markAt(args[i], t, r);
				if (mark > BLANK) return this.put(out, o, 0, mark);
				given[i] = mark === BLANK ? (blanks?.[i] ?? 0) : args[i].values[place(args[i], t, r)];
			}
			this.putResult(out, o, f(given, this.axis, this.from + t));
		});
	}

	/** A function of arguments that are the same in all periods: begun once a row, some rows at a time. */
	private steady({ f, begin, blanks }: ScalarInfo, out: View, args: readonly View[]): void {
		const width = out.step ? this.rows : 1;
		const given: number[] = Array<number>(args.length).fill(0);
		const begun: ((t: number) => number)[] = [];
		const same: number[] = [];
		const marks: number[] = [];
		for (let lo = 0; lo < width; lo += ROWS_AT_ONCE) {
			const count = Math.min(ROWS_AT_ONCE, width - lo);
			for (let n = 0; n < count; n++) {
				let error: number = NUMBER;
				for (let i = 0; i < args.length && error === NUMBER; i++) {
					const mark = markAt(args[i], 0, lo + n);
					if (mark > BLANK) error = mark;
					else given[i] = mark === BLANK ? (blanks?.[i] ?? 0) : args[i].values[place(args[i], 0, lo + n)];
				}
				marks[n] = error;
				if (error !== NUMBER) continue;
				if (begin) begun[n] = begin(given, this.axis);
				else same[n] = f(given, this.axis, this.from);
			}
			for (let t = 0; t < this.periods; t++) {
				const o = out.base + t * out.stride + lo;
				for (let n = 0; n < count; n++)
					if (marks[n] !== NUMBER) this.put(out, o + n, 0, marks[n]);
					else this.putResult(out, o + n, begin ? begun[n](this.from + t) : same[n]);
			}
		}
	}

	private cashflow(ins: Instruction & { op: 'cashflow' }, out: View, views: View[]): void {
		this.clearMarks(out);
		this.eachCell(out, (o, t, r) => {
			let error = NUMBER;
			const read = (items: readonly CashFlowItem[]): (number | null)[] =>
				items.flatMap((item) => {
					const at = (mark: number, value: number) => {
						if (mark > BLANK && error === NUMBER) error = mark;
						return mark === BLANK ? null : value;
					};
					if ('register' in item) {
						const v = views[item.register];
						return [at(markAt(v, t, r), v.values[place(v, t, r)])];
					}
					const m = this.lines[item.line].matrix;
					return Array.from({ length: m.periods }, (_, p) => {
						const i = p * m.rows + this.rowFrom + r;
						return at(m.marks ? m.marks[i] : NUMBER, m.values[i]);
					});
				});
			const all = read(ins.amounts);
			const when = read(ins.dates);
			const rate = ins.rate < 0 ? 0 : views[ins.rate].values[place(views[ins.rate], t, r)];
			if (ins.rate >= 0 && markAt(views[ins.rate], t, r) > BLANK) error = markAt(views[ins.rate], t, r);
			if (error !== NUMBER) return this.put(out, o, 0, error);
			// Blanks are no amounts, and their dates go with them.
			const amounts = all.filter((a) => a !== null);
			const dates = when.filter((_, i) => all[i] !== null).map((d) => d ?? 0);
			switch (ins.fn) {
				case 'npv':
					return this.putResult(out, o, npv(rate, amounts));
				case 'irr':
					return this.putResult(out, o, irr(amounts));
				case 'xnpv':
					return this.putResult(out, o, xnpv(rate, amounts, dates));
				case 'xirr':
					return this.putResult(out, o, xirr(amounts, dates));
			}
		});
	}

	private cohort(ins: Instruction & { op: 'cohort' }, out: View, views: View[]): void {
		this.clearMarks(out);
		const added = this.lines[ins.line].matrix;
		const { curve } = ins;
		const curveMatrix = 'line' in curve ? this.lines[curve.line].matrix : null;
		const shares: number[] = [];
		this.eachCell(out, (o, t, r) => {
			const period = this.from + t;
			shares.length = 0;
			let error = NUMBER;
			let values = 0;
			const take = (value: number, mark: number) => {
				if (mark > BLANK) error = mark;
				shares.push(value);
				if (mark !== BLANK) values = shares.length;
			};
			if ('registers' in curve)
				for (const i of curve.registers) take(views[i].values[place(views[i], t, r)], markAt(views[i], t, r));
			else
				for (const index of curve.ages) {
					const row = index[this.rowFrom + r];
					const i = (curveMatrix!.timeless ? 0 : period * curveMatrix!.rows) + row;
					if (row < 0) take(0, BLANK);
					else take(curveMatrix!.values[i], curveMatrix!.marks ? curveMatrix!.marks[i] : NUMBER);
				}
			// Blank ages at the end are no part of the curve.
			shares.length = values;
			const retention = extendCurve(shares, period + 1, ins.after);
			let base = 0;
			for (let p = 0; p <= period; p++) {
				const i = p * added.rows + this.rowFrom + r;
				if (added.marks && added.marks[i] > BLANK) error = added.marks[i];
				base += added.values[i] * retention[period - p];
			}
			if (error !== NUMBER) this.put(out, o, 0, error);
			else this.putResult(out, o, base);
		});
	}

	private eachCell(out: View, visit: (o: number, t: number, r: number) => void): void {
		const width = out.step ? this.rows : 1;
		for (let t = 0; t < this.periods; t++)
			for (let r = 0; r < width; r++) visit(out.base + t * out.stride + r, t, r);
	}
	private putFrom(out: View, o: number, v: View, t: number, r: number): void {
		this.put(out, o, v.values[place(v, t, r)], markAt(v, t, r));
	}

	/** Carries the wanted rows of a result into the target. */
	private scatter(result: View, mask: Uint8Array): void {
		const { target, rowFrom, rows } = this;
		for (let t = 0; t < this.periods; t++)
			for (let r = 0; r < rows; r++) {
				if (!mask[rowFrom + r]) continue;
				const o = (this.from + t) * target.rows + rowFrom + r;
				const mark = markAt(result, t, r);
				target.values[o] = mark > BLANK ? NaN : result.values[place(result, t, r)];
				if (mark !== NUMBER) marksOf(target)[o] = mark;
				else if (target.marks) target.marks[o] = NUMBER;
				if (mark > BLANK) target.errors = true;
			}
	}
}

/** So that what they write lies close together. */
const ROWS_AT_ONCE = 64;

/** Whether an instruction gives the same in all periods of a tile, because all that it works on does. */
function isSteady(ins: Instruction, views: readonly View[]): boolean {
	const same = (register: number) => views[register].stride === 0;
	switch (ins.op) {
		case 'binary':
		case 'coalesce':
			return same(ins.a) && same(ins.b);
		case 'is_blank':
			return same(ins.a);
		case 'if':
			return same(ins.c) && same(ins.a) && same(ins.b);
		case 'ratio':
			return same(ins.a) && same(ins.b) && (ins.c < 0 || same(ins.c));
		case 'aggregate':
			return ins.args.every(same);
		case 'scalar':
			return (SCALARS[ins.fn] as ScalarInfo).begin === undefined && ins.args.every(same);
		default:
			return false;
	}
}

const place = (v: View, t: number, r: number) => v.base + t * v.stride + r * v.step;
const markAt = (v: View, t: number, r: number): number =>
	v.marks ? v.marks[v.base + t * v.stride + r * v.step] : NUMBER;
