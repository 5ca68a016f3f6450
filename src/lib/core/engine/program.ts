/**
 * Formulas as lists of vector instructions. A program is compiled once and run over tiles
 * (a run of rows × a run of periods); no formula text is ever turned into source code.
 */
import type { Expr } from '../formula/ast';
import type { BinaryName } from './kernels';
import { BINARY, type View } from './kernels';
import { BLANK, DIV0, NUM, NUMBER, marksOf, type Matrix } from './values';

export type TimeFunction = 'lag' | 'ytd' | 'trailing' | 'run_rate';

/** Where a reference leads: a line's matrix, and which of its rows to read for each row of ours. */
export interface Source {
	/** Index of the line in the calculation. */
	line: number;
	/** Null: the same block, same rows. */
	index: Int32Array | null;
}

type Instruction = { out: number } & (
	| { op: 'const'; value: number }
	| { op: 'load'; line: number }
	| { op: 'gather'; line: number; index: Int32Array; oneRow: boolean }
	| { op: TimeFunction; line: number; n: number }
	| { op: 'binary'; fn: BinaryName; a: number; b: number }
	| { op: 'if'; c: number; a: number; b: number }
	| { op: 'ratio'; a: number; b: number; c: number }
	| { op: 'coalesce'; a: number; b: number }
	| { op: 'is_blank'; a: number }
	| { op: 'copy'; a: number }
);

export interface Program {
	instructions: Instruction[];
	registers: number;
	/** Lines read, with how many periods back at the least: 0 is the same period, null is closed periods alone. */
	reads: { line: number; lag: number | null; sameRows: boolean }[];
}

/** What the compiler asks of its surroundings. */
export interface Linker {
	reference(expr: Expr & { kind: 'reference' }): Source;
	account(code: string): Source;
	/** Gives an expression a hidden line in the same block, so that other periods of it can be read. */
	hoist(expr: Expr): number;
}

const CALLS_OF_TWO = new Set(['min', 'max', 'and', 'or']);
const CALLS_OF_ONE = new Set(['not', 'abs', 'int', 'sqrt', 'exp', 'ln']);

/** Compiles a checked formula. */
export function compile(expr: Expr, linker: Linker): Program {
	const instructions: Instruction[] = [];
	const reads: Program['reads'] = [];
	let registers = 0;
	const emit = (make: (out: number) => Instruction): number => {
		const out = registers++;
		instructions.push(make(out));
		return out;
	};
	const constant = (value: number) => emit((out) => ({ op: 'const', out, value }));
	const load = ({ line, index }: Source): number => {
		reads.push({ line, lag: 0, sameRows: index === null });
		if (!index) return emit((out) => ({ op: 'load', out, line }));
		// Every row reads row 0: the source is one row broadcast, which needs no copying.
		const oneRow = index.every((i) => i === 0);
		return emit((out) => ({ op: 'gather', out, line, index, oneRow }));
	};
	const binary = (fn: BinaryName, a: number, b: number) => emit((out) => ({ op: 'binary', out, fn, a, b }));
	const overTime = (op: TimeFunction, arg: Expr, n: number): number => {
		let line: number;
		if (arg.kind === 'reference') {
			const source = linker.reference(arg);
			line = source.index === null ? source.line : linker.hoist(arg);
		} else line = linker.hoist(arg);
		reads.push({ line, lag: op === 'lag' ? n : op === 'run_rate' ? null : 0, sameRows: true });
		return emit((out) => ({ op, out, line, n }));
	};
	const visit = (e: Expr): number => {
		switch (e.kind) {
			case 'number':
				return constant(e.value);
			case 'text':
				throw new Error('A checked formula has no free text.');
			case 'reference':
				return load(linker.reference(e));
			case 'negate':
				return binary('-', constant(0), visit(e.arg));
			case 'percent':
				return binary('/', visit(e.arg), constant(100));
			case 'binary':
				return binary(e.op, visit(e.left), visit(e.right));
			case 'call':
				return call(e);
		}
	};
	const whole = (e: Expr | undefined, otherwise: number) => (e?.kind === 'number' ? e.value : otherwise);
	const call = (e: Expr & { kind: 'call' }): number => {
		const [a, b, c] = e.args;
		if (CALLS_OF_TWO.has(e.name)) {
			const parts = e.args.map(visit);
			const fn = e.name as BinaryName;
			return parts.length === 1 ? binary(fn, parts[0], parts[0]) : parts.reduce((x, y) => binary(fn, x, y));
		}
		if (CALLS_OF_ONE.has(e.name)) return binary(e.name as BinaryName, visit(a), constant(0));
		switch (e.name) {
			case 'account':
				return load(linker.account(a.kind === 'text' ? a.value : ''));
			case 'sum': {
				const parts = e.args.map(visit);
				return parts.length === 1
					? binary('+', parts[0], constant(0))
					: parts.reduce((x, y) => binary('+', x, y));
			}
			case 'if': {
				const [cond, yes] = [visit(a), visit(b)];
				const no = c ? visit(c) : constant(0);
				return emit((out) => ({ op: 'if', out, c: cond, a: yes, b: no }));
			}
			case 'ratio': {
				const [x, y] = [visit(a), visit(b)];
				const otherwise = c ? visit(c) : -1;
				return emit((out) => ({ op: 'ratio', out, a: x, b: y, c: otherwise }));
			}
			case 'coalesce': {
				const [x, y] = [visit(a), visit(b)];
				return emit((out) => ({ op: 'coalesce', out, a: x, b: y }));
			}
			case 'is_blank': {
				const x = visit(a);
				return emit((out) => ({ op: 'is_blank', out, a: x }));
			}
			case 'round':
			case 'roundup':
			case 'rounddown':
				return binary(e.name, visit(a), b ? visit(b) : constant(0));
			case 'mod':
				return binary('mod', visit(a), visit(b));
			case 'power':
				return binary('^', visit(a), visit(b));
			case 'lag':
				return overTime('lag', a, whole(b, 1));
			case 'opening':
				return overTime('lag', a, 1);
			case 'ytd':
				return overTime('ytd', a, 0);
			case 'trailing':
				return overTime('trailing', a, whole(b, 1));
			case 'run_rate':
				return overTime('run_rate', a, whole(b, 1));
			default:
				throw new Error(`No instruction for function ${e.name}.`);
		}
	};
	const result = visit(expr);
	const last = instructions[instructions.length - 1];
	// The last instruction writes into the line itself; a bare reference has to be copied there.
	if (last.op === 'load') emit((out) => ({ op: 'copy', out, a: result }));
	return { instructions, registers, reads };
}

/** What a running program sees of the calculation. */
export interface Tile {
	target: Matrix;
	lines: readonly { matrix: Matrix }[];
	rowFrom: number;
	rowTo: number;
	from: number;
	to: number;
	/** First period of the fiscal year in which a period lies, as an index on the axis (may be negative). */
	yearStart: Int32Array;
	/** First open period, as an index. */
	open: number;
}

/** Scratch memory for registers; grows to the largest tile and is reused. */
export class Scratch {
	private values: Float64Array[] = [];
	private marks: Uint8Array[] = [];
	valuesOf(register: number, size: number): Float64Array {
		const have = this.values[register];
		return have && have.length >= size ? have : (this.values[register] = new Float64Array(size));
	}
	marksOf(register: number, size: number): Uint8Array {
		const have = this.marks[register];
		return have && have.length >= size ? have : (this.marks[register] = new Uint8Array(size));
	}
}

/** Stands for the memory of a line instead of a register's. */
const TARGET = -1;

/** Runs a program over a tile and leaves the result in the target line. */
export function run(program: Program, tile: Tile, scratch: Scratch): void {
	const { target, rowFrom, rowTo, from, to } = tile;
	const n = rowTo - rowFrom;
	const periods = to - from;
	const views: View[] = new Array(program.registers);
	const lastIndex = program.instructions.length - 1;
	const R = target.rows;

	for (let at = 0; at <= lastIndex; at++) {
		const ins = program.instructions[at];
		const final = at === lastIndex;
		switch (ins.op) {
			case 'const': {
				const v = final ? targetView() : scalarView(ins.out, ins.value);
				if (final) fill(v, ins.value);
				views[ins.out] = v;
				break;
			}
			case 'load':
				views[ins.out] = lineView(tile.lines[ins.line].matrix);
				break;
			case 'gather': {
				const source = tile.lines[ins.line].matrix;
				if (ins.oneRow && source.rows === 1 && !final) {
					views[ins.out] = { ...lineView(source), base: from, stride: 1, step: 0 };
					break;
				}
				const out = outView(ins.out, final, 1);
				gather(out, source, ins.index);
				views[ins.out] = out;
				break;
			}
			case 'lag':
			case 'ytd':
			case 'trailing':
			case 'run_rate': {
				const out = outView(ins.out, final, 1);
				overTime(out, ins.op, tile.lines[ins.line].matrix, ins.n);
				views[ins.out] = out;
				break;
			}
			case 'binary': {
				const a = views[ins.a];
				const b = views[ins.b];
				const out = outView(ins.out, final, a.step || b.step ? 1 : 0);
				const merged = out.step === 1 && mergeable(a) && mergeable(b) && out.stride === n;
				const bad = merged
					? BINARY[ins.fn](out, a, b, n * periods, 1)
					: BINARY[ins.fn](out, a, b, n, periods);
				finish(out, a, b, bad ? ins.fn : null);
				views[ins.out] = out;
				break;
			}
			case 'ratio': {
				const [a, b] = [views[ins.a], views[ins.b]];
				const otherwise = ins.c < 0 ? null : views[ins.c];
				const out = outView(ins.out, final, a.step || b.step || otherwise?.step ? 1 : 0);
				const merged = out.step === 1 && mergeable(a) && mergeable(b) && out.stride === n;
				const zero = merged ? BINARY['/'](out, a, b, n * periods, 1) : BINARY['/'](out, a, b, n, periods);
				clearMarks(out);
				if (zero || a.errors || b.errors) choose('ratio', out, [a, b, otherwise]);
				views[ins.out] = out;
				break;
			}
			default: {
				const parts = operandsOf(ins).map((i) => (i < 0 ? null : views[i]));
				const out = outView(ins.out, final, parts.some((p) => p?.step) ? 1 : 0);
				choose(ins.op, out, parts);
				views[ins.out] = out;
			}
		}
	}

	function mergeable(v: View): boolean {
		return v.step === 1 ? v.stride === n : v.stride === 0;
	}
	function lineView(m: Matrix): View {
		return {
			values: m.values,
			marks: m.marks,
			errors: m.errors,
			base: from * m.rows + (m.rows === R ? rowFrom : 0),
			stride: m.rows,
			step: 1,
			register: TARGET
		};
	}
	function targetView(): View {
		return { ...lineView(target), errors: false };
	}
	function scalarView(register: number, value: number): View {
		const values = scratch.valuesOf(register, 1);
		values[0] = value;
		return { values, marks: null, errors: false, base: 0, stride: 0, step: 0, register };
	}
	function outView(register: number, final: boolean, step: 0 | 1): View {
		if (final) return targetView();
		const size = step ? n * periods : periods;
		return {
			values: scratch.valuesOf(register, size),
			marks: null,
			errors: false,
			base: 0,
			stride: step ? n : 1,
			step,
			register
		};
	}
	/** Marks of an output, made when first needed; a target keeps its own. */
	function writableMarks(out: View): Uint8Array {
		if (out.marks) return out.marks;
		if (out.register === TARGET) return (out.marks = marksOf(target));
		const marks = scratch.marksOf(out.register, out.step ? n * periods : periods);
		marks.fill(NUMBER);
		return (out.marks = marks);
	}
	function eachCell(out: View, visit: (o: number, t: number, r: number) => void) {
		const width = out.step ? n : 1;
		for (let t = 0; t < periods; t++)
			for (let r = 0; r < width; r++) visit(out.base + t * out.stride + r, t, r);
	}
	function fill(out: View, value: number) {
		eachCell(out, (o) => (out.values[o] = value));
		clearMarks(out);
	}
	function clearMarks(out: View) {
		if (!out.marks) return;
		const width = out.step ? n : 1;
		for (let t = 0; t < periods; t++) {
			const k = out.base + t * out.stride;
			out.marks.fill(NUMBER, k, k + width);
		}
	}
	function setErrors(out: View) {
		out.errors = true;
		if (out.register === TARGET) target.errors = true;
	}
	function place(v: View, t: number, r: number) {
		return v.base + t * v.stride + r * v.step;
	}
	function markAt(v: View, t: number, r: number): number {
		return v.marks ? v.marks[place(v, t, r)] : NUMBER;
	}
	/** After arithmetic: blanks have become numbers, errors go on, and new ones are named. */
	function finish(out: View, a: View, b: View, failed: string | null) {
		clearMarks(out);
		if (!a.errors && !b.errors && failed === null) return;
		const marks = writableMarks(out);
		eachCell(out, (o, t, r) => {
			const ma = a.errors ? markAt(a, t, r) : NUMBER;
			const mb = b.errors ? markAt(b, t, r) : NUMBER;
			let mark = ma > BLANK ? ma : mb > BLANK ? mb : NUMBER;
			if (mark === NUMBER && failed !== null && !Number.isFinite(out.values[o]))
				mark = failed === '/' || (failed === 'mod' && b.values[place(b, t, r)] === 0) ? DIV0 : NUM;
			if (mark !== NUMBER) {
				marks[o] = mark;
				out.values[o] = NaN;
				setErrors(out);
			}
		});
	}
	function put(out: View, o: number, value: number, mark: number) {
		out.values[o] = mark > BLANK ? NaN : mark === BLANK ? 0 : value;
		if (mark !== NUMBER) {
			writableMarks(out)[o] = mark;
			if (mark > BLANK) setErrors(out);
		} else if (out.marks) out.marks[o] = NUMBER;
	}
	function gather(out: View, source: Matrix, index: Int32Array) {
		const marked = source.marks !== null;
		let missing = false;
		for (let t = 0; t < periods; t++) {
			const k = out.base + t * out.stride;
			const s = (from + t) * source.rows;
			for (let r = 0; r < n; r++) {
				const i = index[rowFrom + r];
				if (i < 0) missing = true;
				out.values[k + r] = i < 0 ? 0 : source.values[s + i];
			}
		}
		clearMarks(out);
		if (!marked && !missing) return;
		eachCell(out, (o, t, r) => {
			const i = index[rowFrom + r];
			const mark = i < 0 ? BLANK : source.marks ? source.marks[(from + t) * source.rows + i] : NUMBER;
			if (mark !== NUMBER) put(out, o, 0, mark);
		});
	}
	function overTime(out: View, op: TimeFunction, source: Matrix, count: number) {
		clearMarks(out);
		const S = source.rows;
		for (let t = 0; t < periods; t++) {
			const now = from + t;
			const k = out.base + t * out.stride;
			if (op === 'lag') {
				const then = now - count;
				if (then < 0) {
					for (let r = 0; r < n; r++) put(out, k + r, 0, BLANK);
					continue;
				}
				const s = then * S + rowFrom;
				if (n > 16) out.values.set(source.values.subarray(s, s + n), k);
				else for (let r = 0; r < n; r++) out.values[k + r] = source.values[s + r];
				if (source.marks)
					for (let r = 0; r < n; r++)
						if (source.marks[s + r] !== NUMBER) put(out, k + r, 0, source.marks[s + r]);
				continue;
			}
			const end = op === 'run_rate' ? tile.open : now + 1;
			const start = Math.max(0, op === 'ytd' ? tile.yearStart[now] : end - count);
			for (let r = 0; r < n; r++) {
				let total = 0;
				let numbers = 0;
				let error = NUMBER;
				for (let p = start; p < end; p++) {
					const i = p * S + rowFrom + r;
					const mark = source.marks ? source.marks[i] : NUMBER;
					if (mark > BLANK && error === NUMBER) error = mark;
					if (mark !== NUMBER) continue;
					total += source.values[i];
					numbers++;
				}
				if (error !== NUMBER) put(out, k + r, 0, error);
				else if (op === 'run_rate') {
					if (numbers) put(out, k + r, total / numbers, NUMBER);
					else put(out, k + r, 0, BLANK);
				} else put(out, k + r, total, NUMBER);
			}
		}
	}
	function choose(op: string, out: View, [x, y, z]: (View | null)[]) {
		clearMarks(out);
		const read = (v: View, t: number, r: number): [number, number] => [
			v.values[place(v, t, r)],
			markAt(v, t, r)
		];
		eachCell(out, (o, t, r) => {
			const [value, mark] = read(x!, t, r);
			switch (op) {
				case 'copy':
					return put(out, o, value, mark);
				case 'is_blank':
					return put(out, o, mark === BLANK ? 1 : 0, NUMBER);
				case 'coalesce':
					return mark === BLANK ? put(out, o, ...read(y!, t, r)) : put(out, o, value, mark);
				case 'if':
					if (mark > BLANK) return put(out, o, 0, mark);
					return put(out, o, ...read(value !== 0 ? y! : z!, t, r));
				default: {
					const [divisor, divisorMark] = read(y!, t, r);
					if (mark > BLANK || divisorMark > BLANK) return put(out, o, 0, mark > BLANK ? mark : divisorMark);
					if (divisor !== 0) return put(out, o, value / divisor, NUMBER);
					return z ? put(out, o, ...read(z, t, r)) : put(out, o, 0, BLANK);
				}
			}
		});
	}
}

function operandsOf(ins: Instruction): number[] {
	switch (ins.op) {
		case 'if':
			return [ins.c, ins.a, ins.b];
		case 'coalesce':
			return [ins.a, ins.b];
		case 'is_blank':
		case 'copy':
			return [ins.a];
		default:
			return [];
	}
}
