/** Typed values carried to periods of another calendar, by days. */
import type { Calendar } from '../calendar/calendar';
import { axisCovering, axisOf } from '../engine/axis';
import { meeting, retime } from '../engine/retime';
import { BLANK, marksOf, newMatrix, NUMBER } from '../engine/values';
import { trimBlanks, type Series } from './series';

/**
 * @param how amounts are divided or summed, averages weighted by days, what holds at the end stays
 */
export function convertSeries(
	series: Series,
	from: Calendar,
	to: Calendar,
	how: 'sum' | 'last' | 'average'
): Series {
	if (from === to) return series;
	const source = axisOf(from, series.first, series.values.length, 0);
	const target = axisCovering(to, source);
	const given = newMatrix(1, source.length);
	series.values.forEach((value, t) => {
		if (Number.isNaN(value)) marksOf(given)[t] = BLANK;
		else given.values[t] = value;
	});
	const out = newMatrix(1, target.length);
	retime(out, given, null, how, meeting(source, target), 0, 1, 0, target.length);
	const values = out.values.map((value, t) => (out.marks && out.marks[t] !== NUMBER ? NaN : value));
	return { ...series, ...trimBlanks(target.first, values) };
}
