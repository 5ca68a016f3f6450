/** Carrying a forecast on: which months the next one spans, and what fills the months that are new. */
import type { Calendar, Period } from '../calendar/calendar';
import type { ModelDefinition } from '../blocks/driver-model/schema';
import type { Scenario } from './schema';
import { type Series, trimBlanks } from '../inputs/series';
import { LEDGER_BLOCK } from '../blocks/accounts/schema';

/** How a typed series is carried into new months. */
export type Extend = 'year-ago' | 'last' | 'blank';

/** The window a scenario had and the one it gets: its last period before and after. */
export interface Longer {
	had: Period;
	last: Period;
	periodsPerYear: number;
}

/**
 * A series continued from the end of the former window to that of the new one: each new period as the same period a
 * year before (which may be new itself), as the former window's last one, or left blank. Periods of the former window
 * stay as they are, blanks among them.
 */
export function extendSeries(series: Series, { had, last, periodsPerYear }: Longer, method: Extend): Series {
	if (method === 'blank' || last <= had) return series;
	const { first } = series;
	const values = new Float64Array(Math.max(last - first + 1, series.values.length)).fill(NaN);
	values.set(series.values);
	for (let p = Math.max(had + 1, first); p <= last; p++)
		values[p - first] = values[(method === 'last' ? had : p - periodsPerYear) - first] ?? NaN;
	return { ...series, ...trimBlanks(first, values) };
}

/** Typed series of a scenario continued into a longer window: model lines as each says, planned accounts by `accounts`. */
export function carrySeries(
	series: readonly Series[],
	models: readonly ModelDefinition[],
	longer: Longer,
	accounts: Extend
): Series[] {
	const methods = new Map(
		models.flatMap((m) => m.lines.map((l) => [`${m.code}.${l.code}`, l.extend] as const))
	);
	return series.map((s) => {
		const method = s.block === LEDGER_BLOCK ? accounts : (methods.get(`${s.block}.${s.line}`) ?? 'blank');
		return extendSeries(s, longer, method);
	});
}

export interface NextForecast {
	name: string;
	actualsThrough: Period;
	last: Period;
}

/**
 * The forecast that follows when a month is closed: actuals through it, always reaching `ahead` months
 * beyond, and never ending before the one it continues.
 */
export function nextForecast(
	calendar: Calendar,
	previous: Scenario,
	month: Period,
	ahead: number
): NextForecast {
	const year = calendar.fiscalYear(month);
	const closed = month - calendar.yearStart(year) + 1;
	return {
		name: `${calendar.yearLabel(year)} Forecast ${closed}+${calendar.periodsPerYear - closed}`,
		actualsThrough: month,
		last: Math.max(previous.last, month + ahead)
	};
}
