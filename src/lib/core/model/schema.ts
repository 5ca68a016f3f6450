/** The company as plain typed data. Zod schemas stand where data enters; the types come from them. */
import { z } from 'zod';
import { isNoKey, textFault } from './text';

/** No amount is larger, whichever way it comes: cents of it are still exact. */
export const MOST_AMOUNT = 1e15;
const Money = z.number().min(-MOST_AMOUNT).max(MOST_AMOUNT);

/** A check for text that people enter: nothing in it that cannot be seen. @param lines whether it may have several lines */
export const readable =
	(lines = false) =>
	(text: string, context: z.RefinementCtx): void => {
		const fault = textFault(text, lines);
		if (fault) context.addIssue({ code: 'custom', message: fault });
	};
const isKey = (name: string) => !isNoKey(name);

/** Codes are identities: they never change, names may. */
export const Code = z
	.string()
	.regex(/^[A-Za-z0-9][A-Za-z0-9._-]*$/, 'a code of letters, digits, dot, dash and underscore')
	.max(64);

/** Names of lines and models must also be usable in formulas. */
export const Identifier = z
	.string()
	.regex(/^[A-Za-z_][A-Za-z0-9_]*$/, 'a name of letters, digits and underscore that starts with a letter')
	.max(64)
	.refine(isKey, 'another name');

export const AccountType = z.enum([
	'revenue',
	'expense',
	'asset',
	'liability',
	'equity',
	'statistical',
	'rate'
]);
export type AccountType = z.infer<typeof AccountType>;

export const TimeRollup = z.enum(['sum', 'last', 'average']);
export type TimeRollup = z.infer<typeof TimeRollup>;

export const NumberFormat = z.enum(['money', 'number', 'percent', 'price']);
export type NumberFormat = z.infer<typeof NumberFormat>;

export interface Account {
	code: string;
	name: string;
	parent: string | null;
	type: AccountType;
	rollup: TimeRollup;
	format: NumberFormat;
	/** Neither it nor what is under it is ever paid: depreciation, bad debts. */
	nonCash?: boolean;
}
export interface LedgerAccount {
	code: string;
	name: string;
	/** Planning account it is folded into; null while unmapped. */
	account: string | null;
}
export interface Entity {
	code: string;
	name: string;
}
export interface Department {
	code: string;
	name: string;
	parent: string | null;
	entity: string;
}
export interface Member {
	code: string;
	name: string;
	parent: string | null;
	attributes: Record<string, string>;
}
export interface Dimension {
	code: string;
	name: string;
	members: Member[];
}

/** How a driver model's line is summed up over time: `formula` recomputes it from summed operands. */
export const LineTimeRollup = z.enum(['sum', 'last', 'average', 'formula']);
export const LineMemberRollup = z.union([
	z.enum(['sum', 'average', 'formula']),
	z
		.string()
		.max(80)
		.regex(/^weighted:[A-Za-z_][A-Za-z0-9_]*$/)
]);

/** Members by dimension. */
const Members = z
	.record(z.string().max(64), z.string().max(64))
	.refine((r) => Object.keys(r).length <= 6, 'at most 6 dimensions');

/** A formula for part of a line. */
export const ScopedFormula = z.strictObject({
	/** Only rows under these members (dimension → member). */
	where: Members.default({}),
	/** First and last period, in the calendar's own writing (`2026-10`); from the beginning, to the end. */
	from: z.string().max(20).optional(),
	to: z.string().max(20).optional(),
	/** Absent: typed in there. */
	formula: z.string().min(1).max(4000).optional()
});
export type ScopedFormula = z.infer<typeof ScopedFormula>;

export const Line = z
	.strictObject({
		code: Identifier,
		label: z.string().min(1).max(120).superRefine(readable()),
		unit: z.string().max(40).superRefine(readable()).default(''),
		format: NumberFormat.default('number'),
		/** Absent: the line is typed in. */
		formula: z.string().min(1).max(4000).optional(),
		/** Other formulas for some members or periods, before the line's own; for each cell the first that fits. */
		scoped: z.array(ScopedFormula).max(50).optional(),
		rollup: z
			.strictObject({ time: LineTimeRollup.default('sum'), members: LineMemberRollup.default('sum') })
			.default({ time: 'sum', members: 'sum' }),
		/**
		 * In closed months: blank; the plan's own value kept (an index, a price list); or what the ledger holds on the
		 * account that the row posts to, from entries tagged with its members.
		 */
		closed: z.enum(['blank', 'keep', 'actuals']).default('blank'),
		/** The formula of closed months, over lines that have values there: a price is revenue ÷ units. */
		actual: z.string().min(1).max(4000).optional(),
		/** How a typed line is carried into months that a longer window opens. */
		extend: z.enum(['year-ago', 'last', 'blank']).default('year-ago')
	})
	.meta({ id: 'Line' });
export type Line = z.infer<typeof Line>;

/** Every formula of a line: for closed months, scoped ones, its own. */
export const formulasOf = (line: Line): string[] =>
	[line.actual, ...(line.scoped ?? []).map((s) => s.formula), line.formula].filter((f) => f !== undefined);

/** A fixed code, or the value of a member's attribute (`product.revenue_account`). */
export const PostingTarget = z.union([
	z.strictObject({ code: Code }),
	z.strictObject({
		attribute: z
			.string()
			.max(130)
			.regex(/^[^.]+\.[^.]+$/, 'dimension.attribute')
	})
]);
export type PostingTarget = z.infer<typeof PostingTarget>;

/** Carries a line's values to an account and a department; for each row the first posting of a line that fits is used. */
export const Posting = z.strictObject({
	line: Identifier,
	account: PostingTarget,
	department: PostingTarget,
	/** Only rows under these members (dimension → member). */
	where: Members.default({})
});
export type Posting = z.infer<typeof Posting>;

/** Expected figures of a line, kept with the model: what it gives must not differ by more than the tolerance. */
export const Proof = z.strictObject({
	name: z.string().min(1).max(120).superRefine(readable()),
	line: Identifier,
	/** Only rows under these members (dimension → member), rolled up in the line's own way. */
	where: Members.default({}),
	/** First period, in the calendar's own writing. */
	first: z.string().max(20),
	/** One a period; null expects a blank. */
	expected: z.array(Money.nullable()).min(1).max(600),
	tolerance: z.number().min(0).max(MOST_AMOUNT).default(0)
});
export type Proof = z.infer<typeof Proof>;

export const ModelDefinition = z.strictObject({
	code: Identifier,
	name: z.string().min(1).max(120).superRefine(readable()),
	description: z.string().max(2000).superRefine(readable(true)).default(''),
	/** None: a table of assumptions. */
	dimensions: z.array(Code).max(6).default([]),
	lines: z.array(Line).min(1).max(200),
	postings: z.array(Posting).max(100).default([]),
	proofs: z.array(Proof).max(50).optional()
});
export type ModelDefinition = z.infer<typeof ModelDefinition>;

/** Members of a dimension: some subtrees, without others. */
export const MemberSet = z.strictObject({
	dimension: Code,
	under: z.array(Code).min(1).max(500),
	except: z.array(Code).max(500).default([])
});
export type MemberSet = z.infer<typeof MemberSet>;

/**
 * Which members may hold data together. `block`: the leading members not with the others; `allow`: the leading members
 * with the others alone. Members that do not lead are free.
 */
export const CombinationRule = z.strictObject({
	code: Code,
	name: z.string().trim().min(1).max(80).superRefine(readable()),
	on: z.boolean(),
	effect: z.enum(['block', 'allow']),
	lead: MemberSet,
	/** All of them together; each of another dimension. */
	others: z.array(MemberSet).min(1).max(5)
});
export type CombinationRule = z.infer<typeof CombinationRule>;

/** A kept shape of the year: one weight a period, from the first of the fiscal year. Only their proportion counts. */
export const Profile = z.strictObject({
	code: Code,
	name: z.string().trim().min(1).max(80).superRefine(readable()),
	weights: z
		.array(z.number().min(0, 'a weight is not negative').max(1e9))
		.min(1)
		.max(60)
		.refine((list) => list.some((w) => w > 0), 'at least one weight is more than 0')
});
export type Profile = z.infer<typeof Profile>;

const AdjustmentScope = {
	/** Lines of models, or accounts of the block `ledger`. */
	lines: z
		.array(z.strictObject({ block: Code, line: Code }))
		.min(1)
		.max(100),
	/** Only rows under these members (dimension → member); accounts have the dimension `department`. */
	where: Members.default({}),
	/** First and last period, in the calendar's own writing; from the first open one, to the end. */
	from: z.string().max(20).optional(),
	to: z.string().max(20).optional()
};
/** What an adjustment does, in one step. */
export const AdjustmentStepDefinition = z.discriminatedUnion('operation', [
	z.strictObject({
		operation: z.enum(['multiply', 'add', 'set']),
		value: z.number().min(-1e15).max(1e15),
		...AdjustmentScope
	}),
	z.strictObject({ operation: z.literal('shift'), periods: z.int().min(-120).max(120), ...AdjustmentScope })
]);
export type AdjustmentStepDefinition = z.infer<typeof AdjustmentStepDefinition>;
/** A named operation on top of a scenario's inputs that can be switched. */
export const AdjustmentDefinition = z.strictObject({
	code: Code,
	name: z.string().trim().min(1).max(80).superRefine(readable()),
	on: z.boolean(),
	steps: z.array(AdjustmentStepDefinition).min(1).max(20),
	/** When it was written into the inputs (ISO 8601); it does nothing since. */
	adopted: z.string().max(40).nullable().default(null)
});
export type AdjustmentDefinition = z.infer<typeof AdjustmentDefinition>;

export const ScenarioKind = z.enum(['actuals', 'budget', 'forecast', 'what-if', 'long-range', 'target']);
export type ScenarioKind = z.infer<typeof ScenarioKind>;

export interface Scenario {
	code: string;
	name: string;
	kind: ScenarioKind;
	/** First and last period of the plan (period ordinals). */
	first: number;
	last: number;
	/** Last period taken from actuals; null when all of it is plan. */
	actualsThrough: number | null;
	/** The scenario that stands in for open months before this one's first. */
	follows: string | null;
	/** What it was copied from. */
	origin: string | null;
	locked: boolean;
	description: string;
}

/** How an account in a department gets its plan. Percentages are shares: 0.03 is 3 %. */
export type Basis =
	| { kind: 'typed' }
	| { kind: 'last-year'; percent: number }
	| { kind: 'percent-of'; percent: number; account: string }
	| { kind: 'run-rate'; months: number }
	/** A line of a driver model (`model.line`) times a rate: visits × 120. */
	| { kind: 'driver'; driver: string; rate: number };

export interface Series {
	block: string;
	line: string;
	row: string;
	first: number;
	/** NaN is blank. */
	values: Float64Array;
}

export interface Company {
	name: string;
	currency: string;
	fiscalStart: number;
	/** Decimals to which money is entered. */
	decimals: number;
}

/** The block of planned accounts by department, in series and references. */
export const LEDGER_BLOCK = 'ledger';
/** Separates members in a row's key. */
export const ROW_SEPARATOR = '|';
export const rowKey = (coordinates: readonly string[]) => coordinates.join(ROW_SEPARATOR);
