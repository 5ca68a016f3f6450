/** Carrying a forecast on: which months the next one spans, and what fills the months that are new. */
import type { Calendar, Period } from '../calendar/calendar';
import { endOnto } from '../calendar/onto';
import { yearFrom } from '../calendar/spans';
import type { Block } from '../blocks/block';
import type { Scenario } from './schema';
import { extendSeries, type Extend, type Longer } from '../inputs/extend';
import type { Series } from '../inputs/series';

/**
 * Typed series of a scenario continued into a longer window, each as its block says.
 * @param otherwise for blocks that leave it to whoever carries them on, as planned accounts do
 */
export function carrySeries(
	series: readonly Series[],
	blocks: ReadonlyMap<string, Block>,
	longer: Longer,
	otherwise: Extend
): Series[] {
	const { calendar, had, last } = longer;
	return series.map((s) => {
		const block = blocks.get(s.block);
		const line = block?.line(s.line);
		if (!block || !line) return s;
		const own = block.calendar;
		const there = { calendar: own, had: endOnto(own, calendar, had), last: endOnto(own, calendar, last) };
		return extendSeries(s, there, line.extend ?? otherwise);
	});
}

export interface NextForecast {
	name: string;
	actualsThrough: Period;
	last: Period;
}

/**
 * The forecast that follows when a month is closed: actuals through it, always reaching a year
 * beyond, and never ending before the one it continues.
 */
export function nextForecast(calendar: Calendar, previous: Scenario, month: Period): NextForecast {
	const year = calendar.fiscalYear(month);
	const { from, to } = yearFrom(calendar, calendar.yearStart(year));
	return {
		name: `${calendar.yearLabel(year)} Forecast ${month - from + 1}+${to - month}`,
		actualsThrough: month,
		last: Math.max(previous.last, yearFrom(calendar, month + 1).to)
	};
}
