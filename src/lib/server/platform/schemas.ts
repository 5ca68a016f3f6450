/** Shapes of requests, shared by routes. */
import { z } from 'zod';
import type { Calendar } from '../../core/calendar/calendar';
import { MOST_MONTHS } from '../../core/calendar/spans';
import { MONEY_VIEWS } from '../../core/currency/view';
import { MOST_AMOUNT, readable } from '../../core/company/schema';
import { isNoKey } from '../../core/text';
import type { FigureRef } from '../../core/explain/trace';

/** A schema that holds periods is made for a calendar, once. */
export function inCalendar<T>(make: (calendar: Calendar) => T): (calendar: Calendar) => T {
	const made = new WeakMap<Calendar, T>();
	return (calendar) => {
		if (!made.has(calendar)) made.set(calendar, make(calendar));
		return made.get(calendar)!;
	};
}

/** Periods outside these days are no periods of a plan. */
const [EARLIEST, LATEST] = ['1900-06-01', '2199-06-30'];

/** A period in the calendar's own writing, such as `2026-10`. */
export const Period = inCalendar((calendar) => {
	const [from, to] = [EARLIEST, LATEST].map((day) => calendar.periodOf(day)!);
	return z
		.string()
		.max(20)
		.transform((text, context) => {
			const period = calendar.parse(text);
			if (period === null || period < from || period > to) {
				const { one, sample } = calendar.words;
				context.addIssue({ code: 'custom', message: `“${text}” is no ${one} such as ${sample}` });
				return z.NEVER;
			}
			return period;
		});
});

/** Periods from one to another, as many as are shown side by side. @throws (as an issue) for more, or the other way round */
export const inOrder = ({ from, to }: { from: number; to: number }, context: z.RefinementCtx): void => {
	if (to < from) context.addIssue({ code: 'custom', path: ['to'], message: 'lies before from' });
	else if (to - from >= MOST_MONTHS)
		context.addIssue({ code: 'custom', path: ['to'], message: `at most ${MOST_MONTHS} periods at once` });
};
/** A window. */
export const Window = (calendar: Calendar) => ({ from: Period(calendar), to: Period(calendar) });

/** In which currency figures are shown. */
export const Money = z.enum(MONEY_VIEWS);

/** A code that is looked up: of a scenario, an account, a department, a model, a line, a member. */
export const Known = z.string().max(64);
/** A row of a model: its members' codes. */
export const RowKey = z.string().max(400);
/** Codes that are looked up, each once. */
export const KnownList = (most: number) =>
	z
		.array(Known)
		.max(most)
		.refine((list) => new Set(list).size === list.length, 'each once');
/** Values by a name that people have chosen. */
export function Keyed<T extends z.ZodType>(value: T, most: number) {
	return z.record(z.string().max(64), value).refine((r) => Object.keys(r).length <= most, `at most ${most}`);
}
/** Most cells of one save, and most bytes of a request with so many. */
export const MOST_CELLS = 200_000;
export const CELLS_SIZE = 48 * 1024 * 1024;

export const Amount = z.number().min(-MOST_AMOUNT).max(MOST_AMOUNT).nullable();

/** A name on one line. */
export const Name = (most: number) => z.string().trim().min(1).max(most).superRefine(readable());
/** Text of several lines. */
export const Prose = (most: number) => z.string().max(most).superRefine(readable(true));

export const Basis = z.discriminatedUnion('kind', [
	z.strictObject({ kind: z.literal('typed') }),
	z.strictObject({ kind: z.literal('last-year'), percent: z.number().min(-1).max(100) }),
	z.strictObject({
		kind: z.literal('percent-of'),
		percent: z.number().min(-100).max(100),
		account: Known
	}),
	z.strictObject({ kind: z.literal('run-rate'), months: z.int().min(1).max(36) }),
	z.strictObject({
		kind: z.literal('driver'),
		driver: z
			.string()
			.max(130)
			.regex(/^[A-Za-z_]\w*\.[A-Za-z_]\w*$/, 'a line as model.line'),
		rate: z.number().min(-1e9).max(1e9)
	})
]);

/** The block in whose periods a figure is seen, where they are not its own. */
const Seen = { in: Known.optional() };
export const FigureReference = (calendar: Calendar): z.ZodType<FigureRef> =>
	z.discriminatedUnion('kind', [
		z
			.strictObject({
				kind: z.literal('account'),
				account: Known,
				department: Known,
				...Window(calendar),
				money: Money.optional(),
				...Seen
			})
			.superRefine(inOrder),
		z.strictObject({
			kind: z.literal('line'),
			model: Known,
			line: Known,
			row: RowKey,
			period: Period(calendar),
			...Seen
		})
	]);
/** The same before it is known whose periods it names. */
export const FigureText = z.looseObject({ in: Known.optional(), model: Known.optional() });

/** Planning accounts for ledger accounts. */
export const LedgerMap = Keyed(Known.nullable(), 20_000);

export const FeedOptions = z.strictObject({
	columns: Keyed(z.int().min(0).max(10_000), 200),
	decimal: z.enum(['.', ',']),
	dates: z.enum(['year-first', 'day-first', 'month-first']),
	positive: z.enum(['debit', 'credit'])
});

export const ReportRequest = inCalendar((calendar) =>
	z.object({
		scenario: Known,
		against: Known,
		department: Known,
		period: Period(calendar),
		span: z.enum(['month', 'ytd', 'year']).default('month'),
		leap: z.enum(['with', 'without']).default('with'),
		money: Money.optional(),
		amount: z.coerce.number().min(0).max(MOST_AMOUNT).default(5000),
		percent: z.coerce.number().min(0).max(1000).default(0.05),
		format: z.enum(['json', 'xlsx', 'csv']).default('json')
	})
);

const list = (text: string) => text.split(',').filter(Boolean).slice(0, 5000);
/** `dimension:member` or `dimension.attribute:value`, separated by commas; a value is percent-encoded. */
function pairs(text: string, context: z.RefinementCtx): Record<string, string> {
	try {
		return Object.fromEntries(
			list(text).map((pair) => {
				const at = pair.indexOf(':');
				return [pair.slice(0, at), decodeURIComponent(pair.slice(at + 1))];
			})
		);
	} catch {
		context.addIssue({ code: 'custom', message: `“${text}” is not percent-encoded` });
		return z.NEVER;
	}
}

const Find = z
	.string()
	.max(100)
	.default('')
	.transform((t) => t.trim().toLowerCase());
const Empty = z.enum(['show', 'hide']).default('show');

/** How a driver model is arranged. */
export const Arrangement = z.object({
	rows: z.array(Known).max(10).optional(),
	across: Known.nullable().default(null),
	lines: z.array(Known).max(200).default([]),
	/** Keys of the opened rows. */
	open: z.array(z.string().max(600)).max(20_000).default([]),
	/** `dimension` → member, `dimension.attribute` → value. */
	where: Keyed(z.string().max(200), 20).default({}),
	find: Find,
	empty: Empty
});
/** The same as it stands in an address. */
export const ArrangementText = z.object({
	rows: z.string().transform(list).optional(),
	across: z.string().max(64).nullable().default(null),
	lines: z.string().default('').transform(list),
	open: z.string().default('').transform(list),
	where: z.string().default('').transform(pairs),
	find: Find,
	empty: Empty
});
/** How a schedule is arranged. */
export const ScheduleArrangement = z.object({
	line: Known.optional(),
	sort: z.string().max(65).nullable().default(null),
	group: Known.nullable().default(null),
	words: z.string().max(200).default(''),
	where: Keyed(z.string().max(200), 50).default({}),
	/** Keys of the opened rows. */
	open: z.array(z.string().max(600)).max(20_000).default([]),
	filled: z.boolean().default(false)
});
/** The same as it stands in an address. */
export const ScheduleText = z.object({
	...ScheduleArrangement.shape,
	where: z.string().default('').transform(pairs),
	open: z.string().default('').transform(list),
	filled: z.stringbool().default(false)
});
/** What a record in the database is known by, in an address. */
export const RecordId = z.coerce.number().pipe(
	z
		.int()
		.min(1)
		.max(2 ** 48)
);

/** A period as it is written, in whatever calendar: that of the block in which it stands, once that is known. */
export const PeriodText = z.string().max(20);

/** A cell of a plan or a driver model. */
export const CellPlace = z.strictObject({ block: Known, line: Known, row: RowKey, period: PeriodText });

/** Attributes of a member: a name that formulas can use → its value. */
export const MemberAttributes = z
	.record(
		z
			.string()
			.max(64)
			.regex(/^[A-Za-z_][A-Za-z0-9_]*$/, 'a name of letters, digits and underscore')
			.refine((name) => !isNoKey(name), 'another name'),
		z.string().max(200).superRefine(readable())
	)
	.refine((r) => Object.keys(r).length <= 100, 'at most 100 attributes');
