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

/** The calendar of a company. */
export const CalendarSpec = z.discriminatedUnion('kind', [
	Months,
	z.strictObject({ kind: z.literal('weeks'), grouping: WeekGrouping, ...WeekYear.shape })
]);
export type CalendarSpec = z.infer<typeof CalendarSpec>;
