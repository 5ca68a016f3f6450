/** Formulas as lists of vector instructions over registers; plain data, never turned into source code. */
import type { AfterCurve } from '../functions/cohort';
import type { AggregateName, BinaryName, View } from './machine/kernels';
import type { ScalarFunction } from './machine/scalars';

export type WindowFunction = 'ytd' | 'calendar_ytd' | 'trailing' | 'run_rate' | 'to_date';
export type PeriodFact = 'period_start' | 'period_end' | 'days_in_period' | 'months_in_period';
export type CashFlowFunction = 'npv' | 'irr' | 'xnpv' | 'xirr';
/** One of a row of amounts: a value of the period, or a line in all its periods. */
export type CashFlowItem = { register: number } | { line: number };

export type Instruction = { out: number } & (
	| { op: 'const'; value: number }
	| { op: 'blank' }
	/** A line of the same rows, so many periods back (ahead when negative). */
	| { op: 'load'; line: number; lag: number }
	/** A line of other rows: for each of ours the row to read, −1 for none. */
	| { op: 'gather'; line: number; index: Int32Array; oneRow: boolean }
	| { op: WindowFunction; line: number; n: number }
	| { op: PeriodFact }
	/** How far back the same place in the year before is, as it was so many periods ago. */
	| { op: 'year_back'; lag: number }
	| { op: 'binary'; fn: BinaryName; a: number; b: number }
	| { op: 'aggregate'; fn: AggregateName; args: number[] }
	| { op: 'scalar'; fn: ScalarFunction; args: number[] }
	| { op: 'if'; c: number; a: number; b: number }
	| { op: 'ratio'; a: number; b: number; c: number }
	| { op: 'coalesce'; a: number; b: number }
	| { op: 'is_blank'; a: number }
	| { op: 'copy'; a: number }
	| { op: 'cashflow'; fn: CashFlowFunction; rate: number; amounts: CashFlowItem[]; dates: CashFlowItem[] }
	/** `curve` is registers, or a line with the row to read for each age and each of our rows. */
	| {
			op: 'cohort';
			line: number;
			curve: { registers: number[] } | { line: number; ages: Int32Array[] };
			after: AfterCurve;
	  }
);

/**
 * How far a read reaches: so many periods back (0 the same, negative ahead), over all periods up to this one,
 * over all closed periods, or over all there are; or from periods of another kind, from one to another (excluded), with
 * the first of ours that each of them is part of.
 */
export type Reach =
	| number
	| 'past'
	| 'closed'
	| 'all'
	| {
			readonly from: number;
			readonly to: number;
			readonly reaches: Int32Array;
			/** At least so many periods back, where they are of the same axis; less than 0 where nothing is known of that. */
			readonly lag: number;
	  };

export interface Read {
	line: number;
	reach: Reach;
	/** Whether each row reads the same row. */
	sameRows: boolean;
	/** Which row each row reads, where that is known. */
	index?: Int32Array;
}

export interface Program {
	instructions: Instruction[];
	/** One view a register, bound anew in each run. */
	views: View[];
	reads: Read[];
	/** Looks back (positive) and ahead (negative), each once: where they leave the axis, a tile is split. */
	shifts: number[];
}
