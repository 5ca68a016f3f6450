/** Rows of a schedule as the API answers them. */
import type { Calendar } from '../../core/calendar/calendar';
import type { Written } from '../../core/calendar/writing';
import type { ScheduleChanges } from '../../core/views/schedule-changes';
import type { ScheduleViewRow, Unshared } from '../../core/views/schedule-view';

export type WrittenRow = Omit<ScheduleViewRow, 'unshared'> & { unshared?: Written<Unshared, 'first'> };

/** The same as the page has them. */
export const rowsFrom = (rows: readonly WrittenRow[], calendar: Calendar): ScheduleViewRow[] =>
	rows.map(({ unshared, ...row }) =>
		unshared ? { ...row, unshared: { ...unshared, first: calendar.parse(unshared.first)! } } : row
	);

/** What differs once something is typed, as the API answers it. */
export type WrittenChanges = Omit<ScheduleChanges, 'rows' | 'unshared'> & {
	rows: WrittenRow[];
	unshared: Written<ScheduleChanges['unshared'][number], 'first'>[];
};
export const changesFrom = (
	{ rows, unshared, ...all }: WrittenChanges,
	calendar: Calendar
): ScheduleChanges => ({
	...all,
	rows: rowsFrom(rows, calendar),
	unshared: unshared.map((u) => ({ ...u, first: calendar.parse(u.first)! }))
});
