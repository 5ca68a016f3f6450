/** Driver models as plain typed data. */
import { z } from 'zod';
import { CalendarSpec } from '../../calendar/spec';
import {
	AttributePath,
	Code,
	Identifier,
	Members,
	Money,
	MOST_AMOUNT,
	NumberFormat,
	readable
} from '../../company/schema';

/** How a driver model's line is summed up over time: `formula` recomputes it from summed operands. */
export const LineTimeRollup = z.enum(['sum', 'last', 'average', 'formula']);
export const LineMemberRollup = z.union([
	z.enum(['sum', 'average', 'formula']),
	z
		.string()
		.max(80)
		.regex(/^weighted:[A-Za-z_][A-Za-z0-9_]*$/)
]);

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
	z.strictObject({ attribute: AttributePath })
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
	/** Its own, where it is not kept in the company’s periods. */
	calendar: CalendarSpec.optional(),
	/** None: a table of assumptions. */
	dimensions: z.array(Code).max(6).default([]),
	lines: z.array(Line).min(1).max(200),
	postings: z.array(Posting).max(100).default([]),
	proofs: z.array(Proof).max(50).optional()
});
export type ModelDefinition = z.infer<typeof ModelDefinition>;

/** A model as used in one scenario: its definition and the combinations of members that hold data. */
export interface ScenarioModel {
	definition: ModelDefinition;
	rows: readonly (readonly string[])[];
}
