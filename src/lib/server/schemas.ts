/** Shapes of requests, shared by routes. */
import { z } from 'zod';
import { monthCalendar } from '../core/calendar/calendar';
import type { FigureRef } from '../core/plan/trace';

const anyCalendar = monthCalendar(1);

/** A month such as `2026-10`, as its ordinal. */
export const Month = z.string().transform((text, context) => {
	const period = anyCalendar.parse(text);
	if (period === null) {
		context.addIssue({ code: 'custom', message: `“${text}” is no month such as 2026-10` });
		return z.NEVER;
	}
	return period;
});

export const Amount = z.number().finite().min(-1e15).max(1e15).nullable();

export const Basis = z.discriminatedUnion('kind', [
	z.strictObject({ kind: z.literal('typed') }),
	z.strictObject({ kind: z.literal('last-year'), percent: z.number().min(-1).max(100) }),
	z.strictObject({
		kind: z.literal('percent-of'),
		percent: z.number().min(-100).max(100),
		account: z.string()
	}),
	z.strictObject({ kind: z.literal('run-rate'), months: z.int().min(1).max(36) }),
	z.strictObject({
		kind: z.literal('driver'),
		driver: z.string().regex(/^[A-Za-z_]\w*\.[A-Za-z_]\w*$/, 'a line as model.line'),
		rate: z.number().min(-1e9).max(1e9)
	})
]);

export const FigureReference: z.ZodType<FigureRef> = z.discriminatedUnion('kind', [
	z.strictObject({
		kind: z.literal('account'),
		account: z.string(),
		department: z.string(),
		from: z.int(),
		to: z.int()
	}),
	z.strictObject({
		kind: z.literal('line'),
		model: z.string(),
		line: z.string(),
		row: z.string(),
		period: z.int()
	})
]);

export const FeedOptions = z.strictObject({
	columns: z.record(z.string(), z.int().min(0)),
	decimal: z.enum(['.', ',']),
	dates: z.enum(['year-first', 'day-first', 'month-first']),
	positive: z.enum(['debit', 'credit'])
});

export const ReportRequest = z.object({
	scenario: z.string(),
	against: z.string(),
	department: z.string(),
	period: Month,
	span: z.enum(['month', 'ytd', 'year']).default('month'),
	amount: z.coerce.number().min(0).default(5000),
	percent: z.coerce.number().min(0).default(0.05),
	format: z.enum(['json', 'xlsx', 'csv']).default('json')
});

const list = (text: string) => text.split(',').filter(Boolean);
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

/** How a driver model is arranged, as it stands in an address. */
export const ArrangementText = z.object({
	rows: z.string().transform(list).optional(),
	across: z.string().nullable().default(null),
	lines: z.string().default('').transform(list),
	open: z.string().default('').transform(list),
	where: z.string().default('').transform(pairs),
	find: z
		.string()
		.max(100)
		.default('')
		.transform((t) => t.trim().toLowerCase()),
	empty: z.enum(['show', 'hide']).default('show')
});

/** A cell of a plan or a driver model. */
export const CellPlace = z.strictObject({
	block: z.string(),
	line: z.string(),
	row: z.string(),
	period: z.int()
});

/** Attributes of a member: a name that formulas can use → its value. */
export const MemberAttributes = z.record(
	z.string().regex(/^[A-Za-z_][A-Za-z0-9_]*$/, 'a name of letters, digits and underscore'),
	z.string().max(200)
);
