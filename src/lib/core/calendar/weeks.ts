/** Calendars made of whole weeks: 52 or 53 a year, singly, in thirteen fours, or grouped into months and quarters. */
import { mustBeMonth, yearLabel, type Calendar, type Period, type PeriodWords } from './calendar';
import { fromIsoDate, fromSerial, toIsoDate, toSerial, weekday } from './dates';
import type { WeekGrouping, WeekYear } from './spec';

/** Weeks in each period of a year of 52; a leap week is added to the last. */
const WEEKS: Record<WeekGrouping, readonly number[]> = {
	weeks: Array<number>(52).fill(1),
	'13x4': Array<number>(13).fill(4),
	'4-4-5': [4, 4, 5, 4, 4, 5, 4, 4, 5, 4, 4, 5],
	'4-5-4': [4, 5, 4, 4, 5, 4, 4, 5, 4, 4, 5, 4],
	'5-4-4': [5, 4, 4, 5, 4, 4, 5, 4, 4, 5, 4, 4]
};

const SINGLE: PeriodWords = { one: 'week', many: 'weeks', One: 'Week', Many: 'Weeks', sample: '2027-W14' };
const GROUPED: PeriodWords = {
	one: 'period',
	many: 'periods',
	One: 'Period',
	Many: 'Periods',
	sample: '2027-P03'
};

/** Serial number of the first day of a fiscal year of whole weeks. */
export function weekYearStart(fiscalYear: number, { fiscalStart, endsOn, rule }: WeekYear): number {
	// The month before the fiscal year's first one ends on the day before this.
	const startsIn = fiscalStart === 1 ? fiscalYear : fiscalYear - 1;
	const monthEnd = toSerial(startsIn, fiscalStart, 0);
	const after = (((weekday(monthEnd) - endsOn) % 7) + 7) % 7;
	const lastWeekday = monthEnd - after;
	const previousEnd = rule === 'nearest' && after > 3 ? lastWeekday + 7 : lastWeekday;
	return previousEnd + 1;
}

/**
 * A calendar of whole weeks.
 * Periods of single weeks are numbered through, so that a year may have 52 or 53; other periods are
 * fiscal year × periods per year + place, and the last one of a leap year is a week longer.
 */
export function weekCalendar(grouping: WeekGrouping, year: WeekYear): Calendar {
	mustBeMonth(year.fiscalStart);
	if (!Number.isInteger(year.endsOn) || year.endsOn < 1 || year.endsOn > 7)
		throw new RangeError(`Weeks end on a weekday from 1 (Monday) to 7 (Sunday), not ${year.endsOn}.`);
	const weeks = WEEKS[grouping];
	const perYear = weeks.length;
	const single = grouping === 'weeks';
	const startOf = (fy: number) => weekYearStart(fy, year);
	const yearOfDay = (serial: number) => {
		let fy = fromSerial(serial).year + 1;
		while (startOf(fy) > serial) fy--;
		return fy;
	};
	/** First days of weeks are 7 apart: the week number is counted from one of them. */
	const origin = startOf(1900);
	const dayOfWeek = (p: Period) => origin + p * 7;
	const fiscalYear = (p: Period) => (single ? yearOfDay(dayOfWeek(p)) : Math.floor(p / perYear));
	const yearStart = (fy: number) => (single ? (startOf(fy) - origin) / 7 : fy * perYear);
	const place = (p: Period) => p - yearStart(fiscalYear(p));
	const before = weeks.map((_, k) => weeks.slice(0, k).reduce((a, b) => a + b, 0));
	const firstSerial = (p: Period) => (single ? dayOfWeek(p) : startOf(fiscalYear(p)) + before[place(p)] * 7);
	const lastSerial = (p: Period) => firstSerial(p + 1) - 1;
	const pad = (n: number) => String(n).padStart(2, '0');
	const letter = single ? 'W' : 'P';
	const calendarYearOf = (p: Period) => fromSerial(lastSerial(p)).year;

	const { fiscalStart, endsOn, rule } = year;
	return {
		spec: { kind: 'weeks', grouping, fiscalStart, endsOn, rule },
		words: single ? SINGLE : GROUPED,
		fiscalStart,
		periodsPerYear: perYear,
		key: (p) => `${fiscalYear(p)}-${letter}${pad(place(p) + 1)}`,
		parse(key) {
			const m = /^(\d{4})-([WP])(\d{2})$/.exec(key);
			if (!m || m[2] !== letter) return null;
			const [fy, k] = [Number(m[1]), Number(m[3])];
			const p = yearStart(fy) + k - 1;
			return k >= 1 && p < yearStart(fy + 1) ? p : null;
		},
		label: (p) => `${letter}${place(p) + 1} ${yearLabel(fiscalYear(p))}`,
		shortLabel: (p) => `${letter}${place(p) + 1}`,
		longLabel: (p) => `${single ? 'Week' : 'Period'} ${place(p) + 1} of ${yearLabel(fiscalYear(p))}`,
		firstDay: (p) => toIsoDate(firstSerial(p)),
		lastDay: (p) => toIsoDate(lastSerial(p)),
		days: (p) => lastSerial(p) - firstSerial(p) + 1,
		periodOf(isoDate) {
			const day = fromIsoDate(isoDate);
			return day === null ? null : this.periodOfDay(day);
		},
		periodOfDay(serial) {
			if (single) return Math.floor((serial - origin) / 7);
			const fy = yearOfDay(serial);
			const week = Math.floor((serial - startOf(fy)) / 7);
			let k = perYear - 1;
			while (before[k] > week) k--;
			return fy * perYear + k;
		},
		fiscalYear,
		quarter(p) {
			// By weeks: 13 to a quarter, a leap week in the fourth. Of thirteen periods the fourth quarter has four.
			if (single) return Math.min(4, Math.floor(place(p) / 13) + 1);
			return Math.min(4, Math.floor(place(p) / 3) + 1);
		},
		yearStart,
		calendarYearStart(p) {
			let first = p;
			while (calendarYearOf(first - 1) === calendarYearOf(p)) first--;
			return first;
		},
		yearLabel
	};
}
