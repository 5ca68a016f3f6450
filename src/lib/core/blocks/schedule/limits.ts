/** The least and the most that a column holds. */
import { fromIsoDate } from '../../calendar/dates';
import type { ScheduleColumn, ScheduleDefinition } from './schema';

/** A value (dates as day numbers) in words, or the column of the row that holds it. */
export type Limit = { value: number; words: string } | { column: ScheduleColumn };

/** Null where nothing is said, or where what is said is no limit of such a column. */
export function limitsOf(
	{ columns }: ScheduleDefinition,
	column: ScheduleColumn
): { least: Limit | null; most: Limit | null } {
	const read = (limit: number | string | undefined): Limit | null => {
		if (limit === undefined) return null;
		if (typeof limit === 'number') {
			const words = column.kind === 'percent' ? `${Number((limit * 100).toPrecision(12))} %` : String(limit);
			return column.kind === 'date' ? null : { value: limit, words };
		}
		const other = columns.find((c) => c.code === limit);
		if (other) return other !== column && other.kind === column.kind ? { column: other } : null;
		const day = column.kind === 'date' ? fromIsoDate(limit) : null;
		return day === null ? null : { value: day, words: limit };
	};
	return { least: read(column.least), most: read(column.most) };
}
