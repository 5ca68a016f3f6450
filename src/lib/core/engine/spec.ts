/** What a calculation is made of, as plain data. */
import type { Expr } from '../formula/ast';
import type { Shape } from './align';
import type { Axis } from './axis';
import type { Matrix } from './values';

export interface RuleSpec {
	/** Rows to which it applies; all when absent. */
	rows?: readonly number[];
	/** First period index to which it applies; 0 when absent. */
	from?: number;
	/** First period index to which it no longer applies; the end of the axis when absent. */
	to?: number;
	/** Null: typed in there. */
	expr: Expr | null;
}

/** What rows are multiplied by before they are summed, where they do not count in one unit: amounts in several currencies. */
export interface Factors {
	/** For each row which of the lists, −1 where it is taken as it is. */
	of: Int32Array;
	/** Lists of factors, one for each period of an axis; NaN where one is missing. */
	on(axis: Axis): readonly Float64Array[];
}

/** Factors, or none, times one more for each of so many rows. */
export function scaledFactors(factors: Factors | null, rows: number, by: number): Factors {
	if (!factors) return { of: new Int32Array(rows), on: ({ length }) => [new Float64Array(length).fill(by)] };
	return {
		// What was taken as it is stands in a list of its own, the first.
		of: factors.of.map((list) => list + 1),
		on: (axis) => [
			new Float64Array(axis.length).fill(by),
			...factors.on(axis).map((list) => list.map((factor) => factor * by))
		]
	};
}

/** Rows of another block's line summed into this one's (postings). */
export interface InflowSpec {
	block: string;
	line: string;
	/** For each source row the target row, −1 for none. */
	index: Int32Array;
	factors?: Factors | null;
}

/**
 * How a line is carried to other periods than those of its block: as amounts, divided by days; as what holds at the end;
 * as a mean over days, by itself or weighted by another line; or computed anew there from its operands.
 */
export type OverTime = 'sum' | 'last' | 'average' | { weight: string } | { expr: Expr };

export interface LineSpec {
	code: string;
	/** Given values, copied; cells not covered by a rule keep them. */
	seed?: Matrix;
	/** An ordered list: for each cell the first rule that covers it is used. */
	rules?: readonly RuleSpec[];
	inflows?: readonly InflowSpec[];
	/** The first period index in which something flows in; the first open one when absent. */
	inflowsFrom?: number;
	/** The same in all periods: its rules read nothing that changes over time. */
	timeless?: boolean;
	/** Whether it may be summed over members. */
	additive: boolean;
	/** What brings its rows to one unit where this dimension is summed away. */
	units?: { dimension: string; factors: Factors } | null;
	/** `sum` when absent. */
	overTime?: OverTime;
}

export interface BlockSpec extends Shape {
	id: string;
	lines: readonly LineSpec[];
	/** Its own periods, where they are not the calculation’s: such as cover those, all days of them. */
	axis?: Axis;
}

/** Knowledge from outside the calculation. */
export interface Surroundings {
	axis: Axis;
	/** Whether a member lies in the subtree of another; plain equality when absent. */
	within?(dimension: string, member: string, under: string): boolean;
	/** One kind of memory whatever the size. */
	memory?: 'plain' | 'native';
}

/** Block of planning accounts by department, which `account("…")` reads. */
export const ACCOUNTS_BLOCK = 'accounts';
/** Lines of another scenario stand in blocks named `scenario!block`. */
export const foreignBlock = (scenario: string, block: string) => `${scenario}!${block}`;
/** A member's attribute stands in the block as a column of this name. */
export const attributeColumn = (dimension: string, attribute: string) => `@${dimension}.${attribute}`;

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
