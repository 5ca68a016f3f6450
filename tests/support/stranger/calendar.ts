/** Calendars as plainly as can be, day by day from what the manual says; shares no code with the application. */
import type { CompanyData } from '../../../src/lib/server/company/subjects';

type Spec = CompanyData['company']['calendar'];

export interface PlainCalendar {
	/** As it is written. */
	name(period: number): string;
	of(name: string): number;
	/** The same place in the year before; of what that year does not have, its last. */
	ago(period: number): number;
	/** The n-th day of a period, from 0; of a week or a month that has so many. */
	day(period: number, n: number): string;
}

const DAY = 86_400_000;
const iso = (ms: number) => new Date(ms).toISOString().slice(0, 10);
const two = (n: number) => String(n).padStart(2, '0');
const GROUPS = {
	'4-4-5': [4, 4, 5],
	'4-5-4': [4, 5, 4],
	'5-4-4': [5, 4, 4],
	'13x4': [4],
	weeks: [1]
};

export function plainCalendar(spec: Spec): PlainCalendar {
	if (spec.kind === 'months')
		return {
			name: (p) => `${Math.floor(p / 12)}-${two((p % 12) + 1)}`,
			of: (name) => Number(name.slice(0, 4)) * 12 + Number(name.slice(5)) - 1,
			ago: (p) => p - 12,
			day: (p, n) => `${Math.floor(p / 12)}-${two((p % 12) + 1)}-${two(n + 1)}`
		};

	/** First day of a fiscal year: the day after the chosen weekday that is last in, or nearest to, the month before. */
	const start = (fy: number): number => {
		const end = Date.UTC(spec.fiscalStart === 1 ? fy : fy - 1, spec.fiscalStart - 1, 0);
		const days = spec.rule === 'last' ? [0, -1, -2, -3, -4, -5, -6] : [0, -1, 1, -2, 2, -3, 3];
		return end + (days.find((d) => new Date(end + d * DAY).getUTCDay() === spec.endsOn % 7)! + 1) * DAY;
	};
	const single = spec.grouping === 'weeks';
	const group = GROUPS[spec.grouping];
	const perYear = { weeks: 52, '13x4': 13 }[spec.grouping as string] ?? 12;
	const weeksIn = (fy: number) => (start(fy + 1) - start(fy)) / DAY / 7;
	// Single weeks are counted through, from the year named 1900.
	const base = (fy: number) => (single ? (start(fy) - start(1900)) / DAY / 7 : fy * perYear);
	const yearOf = (p: number) => {
		let fy = single ? 1900 + Math.floor(p / 53) : Math.floor(p / perYear);
		while (base(fy + 1) <= p) fy++;
		return fy;
	};
	const letter = single ? 'W' : 'P';
	return {
		name: (p) => `${yearOf(p)}-${letter}${two(p - base(yearOf(p)) + 1)}`,
		of: (name) => base(Number(name.slice(0, 4))) + Number(name.slice(6)) - 1,
		ago(p) {
			const fy = yearOf(p);
			const count = single ? weeksIn(fy - 1) : perYear;
			return base(fy - 1) + Math.min(p - base(fy), count - 1);
		},
		day(p, n) {
			const fy = yearOf(p);
			let week = 0;
			for (let place = 0; place < p - base(fy); place++) week += group[place % group.length];
			return iso(start(fy) + (week * 7 + (n % 7)) * DAY);
		}
	};
}
