/** Turns a checked formula into a program. */
import type { Expr } from '../formula/ast';
import { NONE } from '../formula/check';
import type { AfterCurve } from '../functions/cohort';
import type {
	CashFlowFunction,
	CashFlowItem,
	Instruction,
	PeriodFact,
	Program,
	Reach,
	WindowFunction
} from './instructions';
import { AGGREGATES, BINARY, type AggregateName, type BinaryName, type View } from './machine/kernels';
import { SCALARS, type ScalarFunction } from './machine/scalars';
import { textCode } from './texts';

/** Where a reference leads: a line's matrix, and which of its rows to read for each row of ours. */
export interface Source {
	/** Index of the line in the calculation. */
	line: number;
	/** Null: the same block, same rows. */
	index: Int32Array | null;
}
export type Reference = Expr & { kind: 'reference' };

/** What the compiler asks of its surroundings. */
export interface Linker {
	/** Another scenario's line where one is named. */
	reference(expr: Reference, scenario: string | null): Source;
	account(code: string, scenario: string | null): Source;
	/** A line at a member of one of its dimensions. */
	member(expr: Reference, dimension: string, member: string): Source;
	/** An expression summed over dimensions of its block; over all when none is named. */
	total(expr: Expr, over: string[]): Source;
	/** A line with one dimension more than ours: for each of its members, in order, the rows to read. */
	ages(expr: Reference): { line: number; ages: Int32Array[] };
	/** Gives an expression a hidden line in the same block, so that other periods of it can be read. */
	hoist(expr: Expr): number;
	/** A hidden column: the expression summed over its whole life. */
	wholeLife(expr: Expr): number;
	/** A hidden column: the expression summed over its life before the axis; null where it has none. */
	lifeBefore(expr: Expr): number | null;
	/** How many periods back the same place in the year before is, anywhere on the axis. */
	yearBacks: readonly number[];
	/** A hidden line that holds what a line was in the year before; null where looking back by periods says it. */
	yearAgo(line: number): number | null;
	/** Whether a mean by months of the line is to be multiplied by how many months a period has. */
	perMonth(line: number): boolean;
	/** Whether the line has one value for all periods. */
	timeless(line: number): boolean;
}

const WINDOWS = new Set(['ytd', 'calendar_ytd', 'trailing', 'run_rate', 'to_date']);
const REACH: Record<WindowFunction, Reach> = {
	ytd: 'past',
	calendar_ytd: 'past',
	trailing: 'past',
	to_date: 'past',
	run_rate: 'closed'
};

export function compile(expr: Expr, linker: Linker): Program {
	const instructions: Instruction[] = [];
	const reads: Program['reads'] = [];
	const shifts = new Set<number>();
	const constants = new Map<number, number>();

	type Unplaced = Instruction extends infer I ? (I extends unknown ? Omit<I, 'out'> : never) : never;
	const emit = (instruction: Unplaced): number => {
		const out = instructions.length;
		instructions.push({ ...instruction, out } as Instruction);
		return out;
	};
	const constant = (value: number) => {
		const out = emit({ op: 'const', value });
		constants.set(out, value);
		return out;
	};
	const load = ({ line, index }: Source): number => {
		reads.push(index ? { line, reach: 0, sameRows: false, index } : { line, reach: 0, sameRows: true });
		if (!index) return emit({ op: 'load', line, lag: 0 });
		// Every row reads row 0: one row for all, which needs no copying.
		return emit({ op: 'gather', line, index, oneRow: index.every((i) => i === 0) });
	};
	const binary = (fn: BinaryName, a: number, b: number): number => {
		const [x, y] = [constants.get(a), constants.get(b)];
		if (x !== undefined && y !== undefined) {
			const value = fold(fn, x, y);
			if (value !== null) return constant(value);
		}
		return emit({ op: 'binary', fn, a, b });
	};
	/** A line of the same rows that holds the expression: its own where it is a bare reference. */
	const lineOf = (e: Expr): number => {
		if (e.kind === 'reference' && e.line !== NONE) {
			const source = linker.reference(e, null);
			if (source.index === null) return source.line;
		}
		return linker.hoist(e);
	};
	const back = (line: number, lag: number): number => {
		reads.push({ line, reach: lag, sameRows: true });
		if (lag) shifts.add(lag);
		return emit({ op: 'load', line, lag });
	};
	const shifted = (e: Expr, lag: number): number => {
		const line = lineOf(e);
		return linker.timeless(line) ? load({ line, index: null }) : back(line, lag);
	};
	/** The same place in the year before, so many periods back from there: of each way back there is the one that holds. */
	const yearAgo = (e: Expr, further: number): number => {
		const line = lineOf(e);
		const before = linker.timeless(line) ? null : linker.yearAgo(line);
		if (before !== null) return back(before, further);
		const [usual, ...others] = linker.yearBacks;
		return others.reduce(
			(otherwise, back) => {
				const c = binary('=', emit({ op: 'year_back', lag: further }), constant(back));
				return emit({ op: 'if', c, a: shifted(e, back + further), b: otherwise });
			},
			shifted(e, usual + further)
		);
	};
	const overWindow = (op: WindowFunction, e: Expr, n: number): number => {
		const line = linker.timeless(lineOf(e)) ? linker.hoist(e) : lineOf(e);
		reads.push({ line, reach: REACH[op], sameRows: true });
		return emit({ op, line, n });
	};
	const item = (e: Expr): CashFlowItem => {
		if (e.kind !== 'call' || e.name !== 'series') return { register: visit(e) };
		const bare = lineOf(e.args[0]);
		const line = linker.timeless(bare) ? linker.hoist(e.args[0]) : bare;
		reads.push({ line, reach: 'all', sameRows: true });
		return { line };
	};

	function visit(e: Expr): number {
		switch (e.kind) {
			case 'number':
				return constant(e.value);
			case 'text':
				return constant(textCode(e.value));
			case 'reference':
				return e.block === null && e.line === NONE ? emit({ op: 'blank' }) : load(linker.reference(e, null));
			case 'negate':
				return binary('-', constant(0), visit(e.arg));
			case 'percent':
				return binary('/', visit(e.arg), constant(100));
			case 'binary':
				return binary(e.op, visit(e.left), visit(e.right));
			case 'call':
				return call(e);
		}
	}

	const periods = (e: Expr | undefined, otherwise: number) => (e?.kind === 'number' ? e.value : otherwise);
	const written = (e: Expr | undefined) =>
		e?.kind === 'text' ? e.value : e?.kind === 'reference' ? e.line : '';

	function call(e: Expr & { kind: 'call' }): number {
		const [a, b, c] = e.args;
		if (e.name in AGGREGATES)
			return emit({ op: 'aggregate', fn: e.name as AggregateName, args: e.args.map(visit) });
		if (Object.hasOwn(SCALARS, e.name))
			return emit({ op: 'scalar', fn: e.name as ScalarFunction, args: e.args.map(visit) });
		if (e.name === 'to_date') return toDate(a);
		if (e.name === 'run_rate') return runRate(a, periods(b, 1));
		if (WINDOWS.has(e.name)) return overWindow(e.name as WindowFunction, a, periods(b, 1));
		switch (e.name) {
			case 'and':
			case 'or': {
				const parts = e.args.map(visit);
				const fn = e.name;
				return parts.length === 1 ? binary(fn, parts[0], parts[0]) : parts.reduce((x, y) => binary(fn, x, y));
			}
			case 'if': {
				const [cond, yes] = [visit(a), visit(b)];
				return emit({ op: 'if', c: cond, a: yes, b: c ? visit(c) : constant(0) });
			}
			case 'ratio': {
				const [x, y] = [visit(a), visit(b)];
				return emit({ op: 'ratio', a: x, b: y, c: c ? visit(c) : -1 });
			}
			case 'coalesce': {
				const [x, y] = [visit(a), visit(b)];
				return emit({ op: 'coalesce', a: x, b: y });
			}
			case 'is_blank':
				return emit({ op: 'is_blank', a: visit(a) });
			case 'power':
				return binary('^', visit(a), visit(b));
			case 'log':
				return binary('log', visit(a), b ? visit(b) : constant(10));
			case 'ceiling':
			case 'floor':
				return binary(e.name, visit(a), b ? visit(b) : constant(1));
			case 'lag':
				return shifted(a, periods(b, 1));
			case 'year_ago':
				return yearAgo(a, periods(b, 0));
			case 'opening':
				return shifted(a, 1);
			case 'lead':
				return shifted(a, -periods(b, 1));
			case 'whole_life':
				return load({ line: wholeLifeOf(a), index: null });
			case 'period_start':
			case 'period_end':
			case 'days_in_period':
			case 'months_in_period':
				return emit({ op: e.name as PeriodFact });
			case 'account':
				return load(linker.account(written(a), null));
			case 'scenario':
				return load(
					b.kind === 'reference'
						? linker.reference(b, written(a))
						: linker.account(written((b as Expr & { kind: 'call' }).args[0]), written(a))
				);
			case 'at':
				return load(linker.member(a as Reference, written(b), written(c)));
			case 'total':
				return load(linker.total(a, e.args.slice(1).map(written)));
			case 'share': {
				const part = visit(a);
				return emit({ op: 'ratio', a: part, b: load(linker.total(a, e.args.slice(1).map(written))), c: -1 });
			}
			case 'capped': {
				// What falls under the cap up to now, less what fell under it before.
				const [x, cap] = [visit(a), visit(b)];
				const sum = overWindow('calendar_ytd', a, 0);
				const least = (v: number) => emit({ op: 'aggregate', fn: 'min', args: [cap, v] });
				const under = binary('-', least(sum), least(binary('-', sum, x)));
				return emit({ op: 'if', c: emit({ op: 'is_blank', a: cap }), a: x, b: under });
			}
			case 'cohort':
				return cohort(e);
			case 'npv':
				return cashflow('npv', visit(a), e.args.slice(1), []);
			case 'irr':
				return cashflow('irr', -1, e.args, []);
			case 'xnpv':
				return cashflow('xnpv', visit(a), [b], [c]);
			case 'xirr':
				return cashflow('xirr', -1, [a], [b]);
			default:
				if (e.name in BINARY) return binary(e.name as BinaryName, visit(a), b ? visit(b) : constant(0));
				throw new Error(`No instruction for function ${e.name}.`);
		}
	}

	function cashflow(fn: CashFlowFunction, rate: number, amounts: Expr[], dates: Expr[]): number {
		return emit({ op: 'cashflow', fn, rate, amounts: amounts.map(item), dates: dates.map(item) });
	}

	/** A mean by months; of amounts, as many of it as a period has months. */
	function runRate(e: Expr, n: number): number {
		const mean = overWindow('run_rate', e, n);
		if (!linker.perMonth(lineOf(e))) return mean;
		const whole = binary('*', mean, emit({ op: 'months_in_period' }));
		return emit({ op: 'if', c: emit({ op: 'is_blank', a: mean }), a: emit({ op: 'blank' }), b: whole });
	}

	function toDate(e: Expr): number {
		const since = overWindow('to_date', e, 0);
		const before = linker.lifeBefore(e);
		if (before === null) return since;
		reads.push({ line: before, reach: 'all', sameRows: true });
		return binary('+', emit({ op: 'load', line: before, lag: 0 }), since);
	}

	function wholeLifeOf(e: Expr): number {
		const line = linker.wholeLife(e);
		reads.push({ line, reach: 'all', sameRows: true });
		return line;
	}

	function cohort(e: Expr & { kind: 'call' }): number {
		const last = e.args.at(-1)!;
		const after = (last.kind === 'text' ? last.value : 'hold') as AfterCurve;
		const parts = e.args.slice(1).filter((p) => p.kind !== 'text');
		const line = lineOf(e.args[0]);
		reads.push({ line, reach: 'past', sameRows: true });
		const [only] = parts;
		if (parts.length === 1 && only.kind === 'reference' && only.block !== null) {
			const curve = linker.ages(only);
			reads.push({ line: curve.line, reach: 0, sameRows: false });
			return emit({ op: 'cohort', line, curve, after });
		}
		return emit({ op: 'cohort', line, curve: { registers: parts.map(visit) }, after });
	}

	const result = visit(expr);
	const last = instructions[instructions.length - 1];
	// The last instruction writes into the line itself; what only looks has to be copied there.
	const looksOnly = last.op === 'load' || last.op === 'const' || last.op === 'blank' || last.op === 'gather';
	if (looksOnly || last.out !== result) emit({ op: 'copy', a: result });
	const view = (): View => ({
		values: EMPTY,
		marks: null,
		errors: false,
		base: 0,
		stride: 0,
		step: 0,
		owner: null
	});
	return {
		instructions,
		views: instructions.map(view),
		reads: withoutRepeats(reads),
		shifts: [...shifts]
	};
}

const EMPTY = new Float64Array(0);

function withoutRepeats(reads: Program['reads']): Program['reads'] {
	const seen = new Set<string>();
	return reads.filter(({ line, reach, sameRows, index }) => {
		const key = `${line}/${reach}/${sameRows}`;
		if (index) return true;
		return !seen.has(key) && seen.add(key);
	});
}

/** Arithmetic on numbers written out is done once; what would be an error is left to the run. */
function fold(fn: BinaryName, x: number, y: number): number | null {
	switch (fn) {
		case '+':
			return x + y;
		case '-':
			return x - y;
		case '*':
			return x * y;
		case '/':
			return y === 0 ? null : x / y;
		default:
			return null;
	}
}
