/** What a calendar is made from: a value that is stored, sent and compared. */
import { z } from 'zod';

/** First month of the fiscal year, 1 (January) to 12; a year of weeks ends around the end of the month before. */
const FiscalStart = z.int().min(1).max(12);

/** How days are counted: as they are, or 30 in each month and 360 in the year. */
export const DayCount = z.enum(['actual', '30/360']);
export type DayCount = z.infer<typeof DayCount>;

/** Single weeks, thirteen fours, or weeks grouped into the months of a quarter. */
export const WeekGrouping = z.enum(['weeks', '13x4', '4-4-5', '4-5-4', '5-4-4']);
export type WeekGrouping = z.infer<typeof WeekGrouping>;

const Months = z.strictObject({
	kind: z.literal('months'),
	fiscalStart: FiscalStart,
	dayCount: DayCount.default('actual')
});

const WeekYear = z.strictObject({
	fiscalStart: FiscalStart,
	/** ISO weekday on which weeks, and so years, end: Monday 1 to Sunday 7. */
	endsOn: z.int().min(1).max(7),
	/** The year ends on the last such weekday of the month, or on the one nearest to the month's end. */
	rule: z.enum(['last', 'nearest'])
});
export type WeekYear = z.infer<typeof WeekYear>;

/** How long periods of a fiscal year are. */
export const Grain = z.enum(['month', 'quarter', 'half', 'year']);
export type Grain = z.infer<typeof Grain>;
const COARSER: readonly Grain[] = Grain.options;

/** Months up to a fiscal year, and from there on one grain a year, never finer than before; the last one goes on. */
export const LaterYears = z.strictObject({
	firstYear: z.int().min(1900).max(2199),
	grains: z
		.array(Grain)
		.min(1)
		.max(20)
		.refine(
			(list) => list.every((g, i) => i === 0 || COARSER.indexOf(g) >= COARSER.indexOf(list[i - 1])),
			'a later year is not divided more finely than the one before it'
		)
});
export type LaterYears = z.infer<typeof LaterYears>;

/** The calendar of a company. */
export const CalendarSpec = z.discriminatedUnion('kind', [
	Months,
	z.strictObject({ kind: z.literal('weeks'), grouping: WeekGrouping, ...WeekYear.shape })
]);
export type CalendarSpec = z.infer<typeof CalendarSpec>;

/** The same, or that of a scenario that is coarser in later years. */
export type AnyCalendarSpec =
	CalendarSpec | ({ kind: 'mixed'; fiscalStart: number; dayCount: DayCount } & LaterYears);

/** Later years as one text: `2029:quarter;half;year`; empty for none. */
export const laterYearsText = (later: LaterYears | null | undefined): string =>
	later ? `${later.firstYear}:${later.grains.join(';')}` : '';

/** Reads what `laterYearsText` writes. @throws RangeError for anything else */
export function laterYearsFrom(text: string): LaterYears | null {
	if (text === '') return null;
	const [year, grains = ''] = text.split(':');
	const read = LaterYears.safeParse({ firstYear: Number(year), grains: grains.split(';') });
	if (!read.success)
		throw new RangeError(
			'a fiscal year with what later years are divided into, such as 2029:quarter;half;year'
		);
	return read.data;
}
