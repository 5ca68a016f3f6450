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
	db: 600
};
const BY_DECIMALS = new Set(['round', 'roundup', 'rounddown', 'mround', 'ceiling', 'floor']);

/** A cell carried to periods of another kind. */
export const RETIMING = 80;

/** @param periods length of the axis, which some instructions look at as a whole */
export function nanosecondsOf(ins: Instruction, periods: number): number {
	switch (ins.op) {
		case 'binary':
			return '+-*/'.includes(ins.fn) ? 2 : BY_DECIMALS.has(ins.fn) ? 1_100 : 40;
		case 'scalar':
			return SCALARS[ins.fn] ?? 300;
		case 'aggregate':
			return 80 * ins.args.length;
		case 'trailing':
			return 4 * Math.min(ins.n, periods) + 10;
		case 'run_rate':
			return 60;
		case 'cohort':
			return 45 * periods;
		case 'cashflow':
			return periods * { npv: 350, xnpv: 500, irr: 2_000, xirr: 20_000 }[ins.fn];
		default:
			return 30;
	}
}
