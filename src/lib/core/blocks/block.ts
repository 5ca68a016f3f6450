/**
 * What all that must know what sort of block a figure is in asks. Each kind of block answers in a folder of its own;
 * nothing else asks which kind it is.
 */
import type { Calendar, Period } from '../calendar/calendar';
import type { NumberFormat } from '../company/schema';
import type { Exchange } from '../currency/exchange';
import type { Axis } from '../engine/axis';
import type { Calculation } from '../engine/calculation';
import type { BlockSpec, LineSpec } from '../engine/spec';
import type { Cell, Matrix } from '../engine/values';
import type { Expr } from '../formula/ast';
import type { BlockNames, Names } from '../formula/check';
import type { AdjustmentStep, ScopedStep } from '../inputs/adjust';
import type { AdjustmentStepDefinition } from '../inputs/schema';
import type { Basis } from '../inputs/basis';
import type { CellEdit } from '../inputs/cell';
import type { Trait } from './traits';
import type { Extend } from '../inputs/extend';
import type { Series } from '../inputs/series';

/** A line as people know it. */
export interface BlockLine {
	label: string;
	format: NumberFormat;
	/** How typed values go on into a longer window; null: as whoever carries them on says. */
	extend: Extend | null;
	/** How its values become those of longer or shorter periods. */
	overTime: 'sum' | 'last' | 'average';
	/** The same in all periods: what stands in a column of a schedule. */
	timeless?: true;
}

/** Rows of a block's line that post to an account. */
export interface Inflow {
	block: string;
	line: string;
	/** Department → rows that post to it. */
	rowsOf: Map<string, number[]>;
	/** For each row the place of its department, −1 for none. */
	index: Int32Array;
	/** For each row the currency of its amounts, null where it is none; null where the line holds no money. */
	currencies: readonly (string | null)[] | null;
	/** Amounts enter with this factor. */
	sign: 1 | -1;
	as: InflowKind;
}
/**
 * A `flow` is added in its period; of a balance it moves what stands there. `standing` is a balance itself. The other side
 * of what stands is its `change`: what stands at the end of a period less what stood before it.
 */
export type InflowKind = 'flow' | 'standing' | 'change';
/** By account. */
export type Inflows = ReadonlyMap<string, readonly Inflow[]>;

/** What a block is compiled from besides its own definition. */
export interface Parts {
	/** In the block’s own periods. */
	axis: Axis;
	/** Typed values, and those that closed months have by the ledger, of a block's line. */
	typed(block: string, line: string): readonly Series[];
	derived(block: string, line: string): readonly Series[];
	/** What formulas of a block may refer to. */
	names(block: string): Names;
	/** The scenario's exchange rates. */
	exchange: Exchange;
}

/** What adjustments are offered for. */
export interface AdjustableLine {
	code: string;
	label: string;
	format: NumberFormat;
	/** What a schedule's column holds, which is the same in all months; absent for what has figures by period. */
	column?: 'number' | 'date' | 'choice';
	/** What a choice can be set to. */
	choices?: { value: string | boolean; name: string }[];
}

/** One value of a schedule's row, as it is to be. */
export interface RowValueEdit {
	/** The schedule's block. */
	block: string;
	row: string;
	column: string;
	/** Null is blank. */
	before: string | number | boolean | null;
	value: string | number | boolean | null;
}
/** What has to be typed: figures by period, and values of rows. */
export interface Adopting {
	cells: CellEdit[];
	values: RowValueEdit[];
}

/** A compiled line under adjustments: the lines that serve it, and what their inputs are under any steps. */
export interface AdjustedLine {
	lines: LineSpec[];
	/** Codes of the lines that steps write to. */
	inputs: string[];
	/** What was typed under the adjustments, where the line itself is typed. */
	original: Matrix | null;
	/**
	 * Inputs under these steps, in the order of `inputs`.
	 * @returns null when they do what the line was not built for
	 */
	under(steps: readonly ScopedStep[]): Matrix[] | null;
}

/** A calculated scenario, as far as a block has to know it. */
export interface Calculated {
	calculation: Calculation;
	/** First period that is plan. */
	open: Period;
	/** What was typed, where adjustments lie over it. */
	inputs: { original(block: string, line: string): Matrix | null };
}

/** What one cell is made of; what its formula refers to is looked up by whoever asks. */
export type CellMadeOf =
	| { kind: 'nothing' | 'input' }
	/** A closed month, by the ledger. */
	| { kind: 'derived' }
	/** A month that another scenario stands in for. */
	| { kind: 'followed' }
	| { kind: 'typed'; basis: Basis | null; basisValue: Cell }
	| { kind: 'basis'; basis: Basis; expr: Expr }
	/** `scope` says in words for which members and periods a scoped formula stands; empty for the line’s own. */
	| { kind: 'formula'; formula: string; scope: string; expr: Expr }
	/** `before` is what stood there at the end of the period before; null where nothing is carried on. */
	| { kind: 'posted'; from: PostedFrom[]; before: Cell };

/** Rows whose amounts, or whose changes, make a figure. */
export interface PostedFrom extends Pick<Inflow, 'block' | 'line' | 'sign' | 'as'> {
	rows: readonly number[];
}

export type BlockKind = 'accounts' | 'driver-model' | 'schedule';

export interface Block {
	readonly code: string;
	/** By which other layers keep what they add of each kind. Nobody else asks. */
	readonly kind: BlockKind;
	readonly name: string;
	/** Whether one of its lines is told with the block’s name where others stand beside it. */
	readonly told: boolean;
	/** As what it has or lacks something: “accounts have”, “the model “Boat sales” has”. */
	readonly has: string;
	/** In whose periods its figures stand: the company’s, or one of its own. */
	readonly calendar: Calendar;
	readonly dimensions: readonly string[];
	/** In the order of the calculation. */
	readonly rows: readonly (readonly string[])[];
	line(code: string): BlockLine | undefined;
	/** A row’s place in the calculation, −1 where it takes no figures. */
	rowAt(row: string): number;
	/** By what what is typed in a row is known, from its place. */
	idOf(row: number): string;
	/** A row in words; empty where there is but one. */
	rowName(row: string): string;
	/** What of a cell’s address is not there, in words: “The department “x””; null where all is. */
	missing(line: string, row: string): string | null;
	/** What stands behind a line that a row's formulas read only to reach it: an account in a department. */
	readThrough?(block: string, line: string, row: number): { account: string; department: string } | null;
	/** In which currency a line's amounts are; `LOCAL` for that of each row's department, null where it holds no money. */
	currencyOf(line: string): string | null;
	/** What formulas call its lines; null where they are read otherwise, as accounts are by `account("…")`. */
	names(): BlockNames | null;
	/** By what rows can be told apart in the scope of an adjustment, beside the members that they name. */
	readonly traits: readonly Trait[];
	/** Lines that adjustments are offered for. */
	adjustable(): AdjustableLine[];
	/** Why adjustments cannot change a line, or not as this step does, as a sentence; null where they can. */
	adjustmentFault(line: string, step?: AdjustmentStepDefinition): string | null;
	/** Why nothing can be typed there, in open periods; none where some of it can. */
	typingFaults(line: string, row: string): { column: 'line' | 'row'; message: string }[];
	/** The calculation’s line that holds what is typed for a line. */
	typedLine(line: string): string;
	/** @throws ModelError where a posting leads nowhere */
	inflows(): Inflows;
	/** @throws ModelError for what cannot be calculated */
	compile(parts: Parts): BlockSpec;
	/**
	 * A line of the compiled block with adjustments over it.
	 * @param steps all that name it, on or off: any of them can be switched later
	 * @throws ModelError where it is computed
	 */
	adjusted(spec: BlockSpec, line: LineSpec, axis: Axis, steps: readonly AdjustmentStep[]): AdjustedLine;
	/**
	 * Whether typed values lie over all that other adjustments do, so that adopting one asks what those others make of
	 * the line.
	 */
	readonly typedOverAdjusted: boolean;
	/** What has to be typed so that a line holds without some adjustments what it holds with them. */
	adopting(without: Calculated, with_: Calculated, line: string): Adopting;
	/** @param row its place in the calculation */
	madeOf(plan: Calculated, line: string, row: number, period: Period): CellMadeOf;
}
