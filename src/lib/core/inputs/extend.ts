/** How typed values go on into months that a longer window opens. */
import type { Calendar, Period } from '../calendar/calendar';
import { yearBefore } from '../calendar/last-year';
import { trimBlanks, type Series } from './series';

/** How a typed series is carried into new months. */
export type Extend = 'year-ago' | 'last' | 'blank';

/** The window a scenario had and the one it gets: its last period before and after. */
export interface Longer {
	had: Period;
	last: Period;
	calendar: Calendar;
}

/**
 * A series continued from the end of the former window to that of the new one: each new period as the same place of
 * the year before (which may be new itself), as the former window's last one, or left blank. Periods of the former window
 * stay as they are, blanks among them.
 */
export function extendSeries(series: Series, { had, last, calendar }: Longer, method: Extend): Series {
	if (method === 'blank' || last <= had) return series;
	const { first } = series;
	const values = new Float64Array(Math.max(last - first + 1, series.values.length)).fill(NaN);
	values.set(series.values);
	for (let p = Math.max(had + 1, first); p <= last; p++)
		values[p - first] = values[(method === 'last' ? had : yearBefore(calendar, p)) - first] ?? NaN;
	return { ...series, ...trimBlanks(first, values) };
}
