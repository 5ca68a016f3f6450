/** In whose periods a driver model is kept. */
import type { Calendar } from '../../calendar/calendar';
import type { CalendarSpec } from '../../calendar/spec';
import { calendarOf } from '../../calendar/calendar-of';
import type { ModelDefinition } from './schema';

/** The model’s own calendar, or the company’s. */
export const modelCalendar = (
	{ calendar }: Pick<ModelDefinition, 'calendar'>,
	company: Calendar
): Calendar => (calendar ? calendarOf(calendar) : company);

/** One way to keep a model; without a calendar in the company’s periods. */
export interface KeptIn {
	name: string;
	calendar?: CalendarSpec;
}

const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
/** Weeks that end on an ISO weekday (1 to 7), in years that end nearest to where the company’s do. */
const weeksEndingOn = (endsOn: number, fiscalStart: number): KeptIn => ({
	name: `weeks from ${WEEKDAYS[endsOn % 7]} to ${WEEKDAYS[endsOn - 1]}`,
	calendar: { kind: 'weeks', grouping: 'weeks', fiscalStart, endsOn, rule: 'nearest' }
});
/** As ISO 8601 has them first. */
const WEEK_ENDS = [7, 6, 5, 4, 3, 2, 1];

/** In which periods a model of a company can be kept: its own first; weeks beside months, months beside weeks. */
export function keptIn({ spec, words }: Calendar): KeptIn[] {
	const own = { name: `${words.many}, as the company` };
	const { fiscalStart } = spec;
	if (spec.kind !== 'weeks') return [own, ...WEEK_ENDS.map((day) => weeksEndingOn(day, fiscalStart))];
	const months: KeptIn = {
		name: 'calendar months',
		calendar: { kind: 'months', fiscalStart, dayCount: 'actual' }
	};
	if (spec.grouping === 'weeks') return [own, months];
	return [
		own,
		months,
		{ ...weeksEndingOn(spec.endsOn, fiscalStart), calendar: { ...spec, grouping: 'weeks' } }
	];
}
