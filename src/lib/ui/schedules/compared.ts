/** What differs between rows of two scenarios, in words. */
import type { ComparedSchedule } from '../../core/analysis/compare-rows';
import { DIVIDED } from '../../core/blocks/schedule/row-changes';
import { SHARE, type ScheduleColumn, type ScheduleDefinition } from '../../core/blocks/schedule/schema';
import type { Calendar } from '../../core/calendar/calendar';
import type { NumberFormat } from '../../core/company/schema';
import type { Written } from '../../core/calendar/writing';
import { counted } from '../writing/count';
import { exact } from '../writing/format';
import { holdsFigures } from './columns';
import type { Choice } from '../grid/word-entries';
import { entryOf, severalOf } from './entries';

/** As the API answers it. */
export type Compared = Written<ComparedSchedule, 'first'>;
export type Difference = Compared['rows'][number]['differences'][number];

export interface ComparedWords {
	label: string;
	here: string;
	there: string;
}
const FORMATS: Partial<Record<ScheduleColumn['kind'], NumberFormat>> = { money: 'money', percent: 'percent' };

/** One difference in words: where it is, and what stands in the two. */
export function differenceWords(
	difference: Difference,
	{ columns, lines }: ScheduleDefinition,
	choices: Readonly<Record<string, readonly Choice[]>>,
	calendar: Calendar
): ComparedWords {
	const { in: place, here, there, first, months = 0 } = difference;
	const column = columns.find((c) => c.code === place);
	const home = columns.find((c) => c.kind === 'department');
	if (first !== undefined) {
		const line = lines.find((l) => l.code === place);
		const department = choices[home?.code ?? '']?.find((c) => c.code === difference.department)?.name;
		const at = calendar.parse(first);
		const more =
			months > 1
				? ` and ${counted(months - 1, `more ${calendar.words.one}`, `more ${calendar.words.many}`)}`
				: '';
		const name = place === SHARE ? `Share of ${department ?? difference.department}` : (line?.label ?? place);
		const format = place === SHARE ? 'percent' : (line?.format ?? 'number');
		const figure = (value: Difference['here']) => exact(value as number | null, format);
		return {
			label: `${name}, ${at === null ? first : calendar.label(at)}${more}`,
			here: figure(here),
			there: figure(there)
		};
	}
	const entry = column ? entryOf(column, choices[place]) : severalOf(choices[home?.code ?? ''] ?? []);
	const text = (value: Difference['here']): string => {
		if (value === null) return 'blank';
		if (column && holdsFigures(column)) return exact(value as number, FORMATS[column.kind] ?? 'number');
		return entry?.shown(value) || String(value);
	};
	return {
		label: place === DIVIDED ? 'Divided with' : (column?.label ?? place),
		here: text(here),
		there: text(there)
	};
}
