/**
 * What an instruction takes for one cell at the worst, so that long calculations are known before they run. Measured
 * on an ordinary machine and rounded up; only the order of size matters.
 */
import type { Instruction } from '../instructions';
import type { ScalarFunction } from './scalars';

const SCALARS: Partial<Record<ScalarFunction, number>> = {
	// Searched for, or gone through period by period.
	rate: 20_000,
	vdb: 15_000,
	renewing: 800,
	instalments: 1_200,
	depreciation: 1_000,
	yearfrac: 1_300,
	// By way of decimals.
	trunc: 1_100,
	edate: 600,
	eomonth: 600,
	db: 600,
	year: 150,
	month: 150,
	day: 150
};
const BY_DECIMALS = new Set(['round', 'roundup', 'rounddown', 'mround', 'ceiling', 'floor']);

/** A cell carried to periods of another kind. */
export const RETIMING = 80;

/** Functions of the period whose arguments hold in all of them, so that a row is begun once. */
const STEADY: Partial<Record<ScalarFunction, number>> = {
	renewing: 160,
	instalments: 260,
	depreciation: 50,
	active: 40
};
const ONE_FOR_ALL: ReadonlySet<Instruction['op']> = new Set([
	'const',
	'blank',
	'period_start',
	'period_end',
	'days_in_period',
	'months_in_period'
]);
/** What is worked out once for all periods. */
const ONCE = 10;

/**
 * What a program takes for one cell.
 * @param periods length of the axis, which some instructions look at as a whole
 * @param isTimeless whether a line holds one figure for all periods
 */
export function nanosecondsFor(
	instructions: readonly Instruction[],
	periods: number,
	isTimeless: (line: number) => boolean
): number {
	/** Registers that are the same in all periods, and in all rows. */
	const steady = new Set<number>();
	const single = new Set<number>();
	let time = 0;
	for (const ins of instructions) {
		const args = pointwise(ins);
		if (ONE_FOR_ALL.has(ins.op) || (args?.every((arg) => single.has(arg)) ?? false)) {
			single.add(ins.out);
			if (ins.op === 'const' || ins.op === 'blank' || args?.every((arg) => steady.has(arg)))
				steady.add(ins.out);
			else steady.delete(ins.out);
			continue;
		}
		single.delete(ins.out);
		const of = args?.every((arg) => steady.has(arg)) ?? false;
		const periodic = ins.op === 'scalar' ? STEADY[ins.fn] : undefined;
		const constant = (ins.op === 'load' || ins.op === 'gather') && isTimeless(ins.line);
		if (constant || (of && periodic === undefined)) steady.add(ins.out);
		else steady.delete(ins.out);
		time += of ? (periodic ?? ONCE) : nanosecondsOf(ins, periods);
	}
	return time;
}

/** Registers that an instruction works on cell by cell; null for one that looks elsewhere. */
function pointwise(ins: Instruction): readonly number[] | null {
	switch (ins.op) {
		case 'binary':
		case 'coalesce':
			return [ins.a, ins.b];
		case 'is_blank':
			return [ins.a];
		case 'if':
			return [ins.c, ins.a, ins.b];
		case 'ratio':
			return ins.c < 0 ? [ins.a, ins.b] : [ins.a, ins.b, ins.c];
		case 'aggregate':
		case 'scalar':
			return ins.args;
		default:
			return null;
	}
}

function nanosecondsOf(ins: Instruction, periods: number): number {
	switch (ins.op) {
		case 'binary':
			return '+-*/'.includes(ins.fn) ? 2 : BY_DECIMALS.has(ins.fn) ? 1_100 : 20;
		case 'scalar':
			return SCALARS[ins.fn] ?? 300;
		case 'aggregate':
			return 30 * ins.args.length;
		case 'trailing':
			return 4 * Math.min(ins.n, periods) + 10;
		case 'run_rate':
			return 60;
		case 'cohort':
			return 45 * periods;
		case 'cashflow':
			return periods * { npv: 350, xnpv: 500, irr: 2_000, xirr: 20_000 }[ins.fn];
		default:
			return 20;
	}
}
