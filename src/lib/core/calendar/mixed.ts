/** A calendar whose periods are months in some fiscal years and quarters, halves or whole years in others. */
import { monthCalendar, yearLabel, type Calendar, type Period } from './calendar';
import { fromIsoDate } from './dates';
import type { DayCount, Grain, LaterYears } from './spec';

const MONTHS: Record<Grain, number> = { month: 1, quarter: 3, half: 6, year: 12 };

export interface MixedYears extends LaterYears {
	/** First month of the fiscal year, 1 to 12. */
	fiscalStart: number;
	dayCount?: DayCount;
}

/** Later years that begin with a year or after it: what would begin earlier is in months until then. */
export function laterFrom(later: LaterYears | null | undefined, earliest: number): LaterYears | null {
	if (!later || later.firstYear >= earliest) return later ?? null;
	const left = later.grains.slice(earliest - later.firstYear);
	return { firstYear: earliest, grains: left.length ? left : [later.grains.at(-1)!] };
}

/**
 * Periods are numbered through: up to the first year they are the months of the calendar of twelve, and from
 * there on one more for each month, quarter, half or year.
 */
export function mixedCalendar({ fiscalStart, firstYear, grains, dayCount = 'actual' }: MixedYears): Calendar {
	if (!grains.length) throw new RangeError('A mixed calendar needs the grain of at least one year.');
	const months = monthCalendar(fiscalStart, dayCount);
	const begin = months.yearStart(firstYear);
	const grainOf = (fy: number): Grain =>
		fy < firstYear ? 'month' : (grains[fy - firstYear] ?? grains[grains.length - 1]);
	/** Year starts within the named years, and the first after them. */
	const starts = [begin];
	grains.forEach((g) => starts.push(starts[starts.length - 1] + 12 / MONTHS[g]));
	const afterNamed = starts[grains.length];
	const lastPerYear = 12 / MONTHS[grains[grains.length - 1]];
	const yearStart = (fy: number): Period => {
		if (fy <= firstYear) return months.yearStart(fy);
		const k = fy - firstYear;
		return k <= grains.length ? starts[k] : afterNamed + (k - grains.length) * lastPerYear;
	};
	const fiscalYear = (p: Period): number => {
		if (p < begin) return months.fiscalYear(p);
		if (p >= afterNamed) return firstYear + grains.length + Math.floor((p - afterNamed) / lastPerYear);
		let k = 0;
		while (starts[k + 1] <= p) k++;
		return firstYear + k;
	};
	/** First month of a period, and one past its last, as periods of the calendar of twelve. */
	const monthsOf = (p: Period): [number, number] => {
		const fy = fiscalYear(p);
		const size = MONTHS[grainOf(fy)];
		const first = months.yearStart(fy) + (p - yearStart(fy)) * size;
		return [first, first + size];
	};
	const ofMonth = (m: Period): Period => {
		const fy = months.fiscalYear(m);
		return yearStart(fy) + Math.floor((m - months.yearStart(fy)) / MONTHS[grainOf(fy)]);
	};
	const LETTER: Record<Grain, string> = { month: '', quarter: 'Q', half: 'H', year: 'FY' };
	const short = (p: Period): string => {
		const fy = fiscalYear(p);
		const grain = grainOf(fy);
		if (grain === 'month') return months.shortLabel(monthsOf(p)[0]);
		return grain === 'year' ? yearLabel(fy) : `${LETTER[grain]}${p - yearStart(fy) + 1}`;
	};
	const label = (p: Period): string => {
		const grain = grainOf(fiscalYear(p));
		if (grain === 'month') return months.label(monthsOf(p)[0]);
		return grain === 'year' ? short(p) : `${short(p)} ${yearLabel(fiscalYear(p))}`;
	};

	return {
		spec: { kind: 'mixed', fiscalStart, dayCount, firstYear, grains: [...grains] },
		months,
		words: { one: 'period', many: 'periods', One: 'Period', Many: 'Periods', sample: '2028-Q1' },
		fiscalStart,
		periodsPerYear: 12,
		key(p) {
			const fy = fiscalYear(p);
			const grain = grainOf(fy);
			if (grain === 'month') return months.key(monthsOf(p)[0]);
			return grain === 'year' ? `${fy}-FY` : `${fy}-${LETTER[grain]}${p - yearStart(fy) + 1}`;
		},
		parse(key) {
			const month = months.parse(key);
			if (month !== null) {
				const p = ofMonth(month);
				return grainOf(fiscalYear(p)) === 'month' ? p : null;
			}
			const m = /^(\d{4})-(Q|H|FY)(\d?)$/.exec(key);
			if (!m) return null;
			const fy = Number(m[1]);
			const p = yearStart(fy) + (m[2] === 'FY' ? 1 : Number(m[3])) - 1;
			return LETTER[grainOf(fy)] === m[2] && p >= yearStart(fy) && p < yearStart(fy + 1) ? p : null;
		},
		label,
		shortLabel: short,
		longLabel: (p) => (grainOf(fiscalYear(p)) === 'month' ? months.longLabel(monthsOf(p)[0]) : label(p)),
		firstDay: (p) => months.firstDay(monthsOf(p)[0]),
		lastDay: (p) => months.lastDay(monthsOf(p)[1] - 1),
		days: (p) => {
			const [from, to] = monthsOf(p);
			let sum = 0;
			for (let m = from; m < to; m++) sum += months.days(m);
			return sum;
		},
		periodOf(isoDate) {
			const day = fromIsoDate(isoDate);
			return day === null ? null : this.periodOfDay(day);
		},
		periodOfDay: (serial) => ofMonth(months.periodOfDay(serial)),
		fiscalYear,
		quarter: (p) => months.quarter(monthsOf(p)[0]),
		yearStart,
		calendarYearStart(p) {
			const yearOf = (q: Period) => Math.floor((monthsOf(q)[1] - 1) / 12);
			let first = p;
			while (yearOf(first - 1) === yearOf(p)) first--;
			return first;
		},
		yearLabel,
		...(months.daysBetween ? { daysBetween: months.daysBetween } : {})
	};
}
