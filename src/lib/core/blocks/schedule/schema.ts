/** Schedules as plain typed data: lists whose rows cost money month by month. */
import { z } from 'zod';
import { AttributePath, Code, Identifier, MOST_AMOUNT, NumberFormat, readable } from '../../company/schema';

/** What a column holds; of `member` and `row`, the code of one. */
export const ColumnKind = z.enum([
	'text',
	'date',
	'number',
	'money',
	'percent',
	'pick',
	'yes-no',
	'account',
	'department',
	'member',
	'row'
]);
export type ColumnKind = z.infer<typeof ColumnKind>;

/** What stands in a column of a row: dates as ISO 8601, percentages as shares, what is chosen by its code. */
export const ColumnValue = z.union([
	z.string().max(2000),
	z.number().min(-MOST_AMOUNT).max(MOST_AMOUNT),
	z.boolean()
]);
export type ColumnValue = z.infer<typeof ColumnValue>;

export const ScheduleColumn = z.strictObject({
	code: Identifier,
	label: z.string().min(1).max(120).superRefine(readable()),
	kind: ColumnKind,
	/** Of a number, as of a line: “months”, “hours per week”. */
	unit: z.string().max(40).superRefine(readable()).default(''),
	required: z.boolean().default(false),
	/** Of a pick-list, in order. */
	choices: z.array(z.string().min(1).max(120).superRefine(readable())).max(200).optional(),
	/** Of a member: its dimension. */
	dimension: Code.optional(),
	/** Of a row: the schedule in which it stands. */
	schedule: Identifier.optional(),
	/** Least and most of a number or a date (ISO 8601), or the column that holds it. */
	least: z.union([z.number(), z.string().max(64)]).optional(),
	most: z.union([z.number(), z.string().max(64)]).optional(),
	default: ColumnValue.optional(),
	/** It is worked out from other columns and does not change by month. */
	formula: z.string().min(1).max(4000).optional(),
	/** It tells what a single person earns, and is seen by those who may see that. */
	personal: z.literal(true).optional()
});
export type ScheduleColumn = z.infer<typeof ScheduleColumn>;

export const ScheduleLine = z.strictObject({
	code: Identifier,
	label: z.string().min(1).max(120).superRefine(readable()),
	unit: z.string().max(40).superRefine(readable()).default(''),
	format: NumberFormat.default('money'),
	/** Absent: typed in, month by month. */
	formula: z.string().min(1).max(4000).optional(),
	/** How it is carried into quarters and years. */
	time: z.enum(['sum', 'last', 'average']).default('sum'),
	/** Whether rows add up, and are divided by shares; a rate or a factor is neither. */
	adds: z.boolean().default(true),
	/** How a typed line is carried into months that a longer window opens. */
	extend: z.enum(['year-ago', 'last', 'blank']).default('blank'),
	/** As of a column. */
	personal: z.literal(true).optional()
});
export type ScheduleLine = z.infer<typeof ScheduleLine>;

/** A fixed code, what stands in a column of the row, or an attribute of a member that the row names. */
export const ScheduleTarget = z.union([
	z.strictObject({ code: Code }),
	z.strictObject({ column: Identifier }),
	z.strictObject({ attribute: AttributePath })
]);
export type ScheduleTarget = z.infer<typeof ScheduleTarget>;

export const SchedulePosting = z.strictObject({
	line: Identifier,
	account: ScheduleTarget,
	/** The amount is taken from the account, not added to it. */
	lowers: z.literal(true).optional(),
	/** The account of the other side, in the same department; absent where that is cash, which is worked out last. */
	other: ScheduleTarget.optional(),
	/** Where rows have no department of their own. */
	department: Code.optional()
});
export type SchedulePosting = z.infer<typeof SchedulePosting>;

export const ScheduleDefinition = z.strictObject({
	code: Identifier,
	name: z.string().min(1).max(120).superRefine(readable()),
	/** What one of its rows is called: “person”, “contract”. */
	one: z.string().min(1).max(40).superRefine(readable()).default('row'),
	description: z.string().max(2000).superRefine(readable(true)).default(''),
	columns: z.array(ScheduleColumn).min(1).max(100),
	lines: z.array(ScheduleLine).max(100).default([]),
	postings: z.array(SchedulePosting).max(100).default([]),
	/** The column by which rows are called. */
	named: Identifier,
	/** Rows can be divided over departments, by shares that may differ by month. */
	divided: z.boolean().default(false)
});
export type ScheduleDefinition = z.infer<typeof ScheduleDefinition>;

export interface ScheduleRow {
	/** By which it is known in files and in other scenarios. */
	id: string;
	/** Without those that are blank. */
	values: Readonly<Record<string, ColumnValue>>;
	/** Departments beside its own over which it is divided. */
	shares?: readonly string[];
}

/** A schedule as one scenario has it. */
export interface ScenarioSchedule {
	definition: ScheduleDefinition;
	rows: readonly ScheduleRow[];
}

/** The block that holds what rows come to in departments. */
export const sharesCode = (schedule: string): string => `${schedule}_shares`;
/** In it, the share that is typed for a month; blank is all of it. */
export const SHARE = 'share';
/** The share that counts. */
export const SHARE_IN_FORCE = 'share_in_force';

/** The department that a row belongs to stands in the first column of that kind. */
export const departmentColumn = ({ columns }: ScheduleDefinition): ScheduleColumn | undefined =>
	columns.find((c) => c.kind === 'department');

/** Every formula of a schedule. */
export const formulasOfSchedule = ({ columns, lines }: ScheduleDefinition): string[] =>
	[...columns, ...lines].flatMap((c) => c.formula ?? []);
