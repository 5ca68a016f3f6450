/** Carrying a forecast on: which months the next one spans, and what fills the months that are new. */
import type { Calendar, Period } from '../calendar/calendar';
import type { ModelDefinition, Scenario, Series } from '../model/schema';
import { LEDGER_BLOCK } from '../model/schema';

/** How a typed series is carried into new months. */
export type Extend = 'year-ago' | 'last' | 'blank';

/** A series continued to `last`: each new month as the same month a year before, as the last month, or left blank. */
export function extendSeries(series: Series, last: Period, method: Extend, periodsPerYear: number): Series {
	const had = series.values.length;
	const needed = last - series.first + 1;
	if (needed <= had || method === 'blank') return series;
	const values = new Float64Array(needed).fill(NaN);
	values.set(series.values);
	for (let i = had; i < needed; i++) {
		const from = method === 'last' ? i - 1 : i - periodsPerYear;
		if (from >= 0) values[i] = values[from];
	}
	return { ...series, values };
}

/** Typed series of a forecast continued to `last`: model lines as each says, planned accounts by `accounts`. */
export function carrySeries(
	series: readonly Series[],
	models: readonly ModelDefinition[],
	last: Period,
	accounts: Extend,
	periodsPerYear: number
): Series[] {
	const methods = new Map(
		models.flatMap((m) => m.lines.map((l) => [`${m.code}.${l.code}`, l.extend] as const))
	);
	return series.map((s) => {
		const method = s.block === LEDGER_BLOCK ? accounts : (methods.get(`${s.block}.${s.line}`) ?? 'blank');
		return extendSeries(s, last, method, periodsPerYear);
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
