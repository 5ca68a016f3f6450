/** Ways of putting figures in, as plain typed data: adjustments, shapes of the year, rules of combinations. */
import { z } from 'zod';
import { Code, readable } from '../company/schema';

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
	/** Lines of models and schedules, columns of schedules, or accounts of the block `accounts`. */
	lines: z
		.array(z.strictObject({ block: Code, line: Code }))
		.min(1)
		.max(100),
	/**
	 * Only rows under these members (dimension → member); accounts have the dimension `department`. Rows of schedules are
	 * told apart by their columns too (column → value; `yes` or `no`).
	 */
	where: z
		.record(z.string().max(64), z.string().max(2000))
		.refine((r) => Object.keys(r).length <= 6, 'at most 6 conditions')
		.default({}),
	/** First and last period, in the calendar's own writing; from the first open one, to the end. */
	from: z.string().max(20).optional(),
	to: z.string().max(20).optional()
};
const Amount = z.number().min(-1e15).max(1e15);
/** What an adjustment does, in one step. */
export const AdjustmentStepDefinition = z.discriminatedUnion('operation', [
	z.strictObject({ operation: z.enum(['multiply', 'add']), value: Amount, ...AdjustmentScope }),
	z.strictObject({
		operation: z.literal('set'),
		value: z.union([Amount, z.string().min(1).max(200).superRefine(readable()), z.boolean()]),
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
