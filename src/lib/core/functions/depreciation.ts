/**
 * Depreciation: the functions of OpenFormula (OASIS ODF part 4, section 6.12) for one period, and the month's
 * charge of an asset over its life in the sense of IAS 16. NaN stands for #NUM!.
 */
import { MONTHS_A_YEAR } from '../calendar/dates';

/** Straight-line amount of one period. */
export const sln = (cost: number, salvage: number, life: number) =>
	life === 0 ? Infinity : (cost - salvage) / life;

/** Sum-of-years'-digits amount of a period (1 to life). */
export function syd(cost: number, salvage: number, life: number, period: number): number {
	if (period < 1 || period > life) return NaN;
	return ((cost - salvage) * (life - period + 1) * 2) / (life * (life + 1));
}

/** Declining-balance amount of a period (1 to life); never below salvage. */
export function ddb(cost: number, salvage: number, life: number, period: number, factor = 2): number {
	if (cost < 0 || salvage < 0 || life <= 0 || period < 1 || period > life || factor <= 0) return NaN;
	const rate = Math.min(1, factor / life);
	// The first period in full, so that a rate of 1 leaves nothing for the later ones.
	const before = rate === 1 ? (period === 1 ? cost : 0) : cost * (1 - rate) ** (period - 1);
	const after = cost * (1 - rate) ** period;
	return Math.max(0, before - Math.max(salvage, after));
}

/** Fixed-declining-balance amount of a period, its rate rounded to three places; `months` in the first year. */
export function db(cost: number, salvage: number, life: number, period: number, months = 12): number {
	if (cost < 0 || salvage < 0 || life <= 0 || period < 1 || months < 1 || months > 12) return NaN;
	if (period > life + (months < 12 ? 1 : 0)) return NaN;
	if (cost === 0 || salvage > cost) return 0;
	const rate = Math.round((1 - (salvage / cost) ** (1 / life)) * 1000) / 1000;
	const first = (cost * rate * months) / MONTHS_A_YEAR;
	const year = Math.floor(period);
	if (year === 1) return first;
	// What each year leaves is (1 − rate) of what it found.
	const found = (cost - first) * (1 - rate) ** (year - 2);
	return year === life + 1 ? (found * rate * (MONTHS_A_YEAR - months)) / MONTHS_A_YEAR : found * rate;
}

/** Most periods that are gone through one by one. */
const MOST_PERIODS = 1200;

/**
 * Amount between two times, 0 ≤ from ≤ to ≤ life, declining and, unless `noSwitch`, straight-line from the
 * period on in which that is more. Parts of a period count by their length. It looks at most 1,200 periods ahead.
 */
export function vdb(
	cost: number,
	salvage: number,
	life: number,
	from: number,
	to: number,
	factor = 2,
	noSwitch = 0
): number {
	if (cost < 0 || salvage < 0 || from < 0 || to < from || to > life || factor <= 0) return NaN;
	if (!(to <= MOST_PERIODS)) return NaN;
	let left = cost;
	let total = 0;
	let straight = 0;
	for (let p = 0; p < Math.ceil(to); p++) {
		const declining = Math.min((left * factor) / life, Math.max(0, left - salvage));
		if (!noSwitch && straight === 0) {
			const even = (left - salvage) / (life - p);
			if (even > declining) straight = Math.max(0, even);
		}
		const amount = straight > 0 ? Math.min(straight, Math.max(0, left - salvage)) : declining;
		left -= amount;
		total += amount * Math.max(0, Math.min(to, p + 1) - Math.max(from, p));
	}
	return total;
}

export type DepreciationMethod = 'straight-line' | 'sum-of-years' | 'declining' | 'declining-switch';
export const METHODS: readonly DepreciationMethod[] = [
	'straight-line',
	'sum-of-years',
	'declining',
	'declining-switch'
];
export type DepreciationPolicy = 'same-month' | 'next-month' | 'half-month';
export const POLICIES: readonly DepreciationPolicy[] = ['same-month', 'next-month', 'half-month'];

/**
 * What is charged in the k-th month of an asset's life (0 is the first).
 * Straight-line spreads evenly over the months; the other methods take the year's amount by asset year ÷ 12.
 * @param life useful life in months
 * @param factor of declining balance, 2 for double
 */
export function depreciationInMonth(
	method: DepreciationMethod,
	cost: number,
	salvage: number,
	life: number,
	k: number,
	factor = 2
): number {
	if (!(life > 0)) return NaN;
	if (k < 0 || k >= life) return 0;
	if (method === 'straight-line') return (cost - salvage) / life;
	const years = life / MONTHS_A_YEAR;
	const year = Math.floor(k / MONTHS_A_YEAR) + 1;
	// A life that ends within a year charges that year's amount in the months it has.
	const months = Math.min(MONTHS_A_YEAR, life - (year - 1) * MONTHS_A_YEAR);
	if (method === 'sum-of-years') {
		const whole = Math.ceil(years);
		return syd(cost, salvage, whole, year) / months;
	}
	if (method === 'declining-switch')
		return vdb(cost, salvage, years, year - 1, Math.min(years, year), factor) / months;
	const rate = Math.min(1, factor / years);
	const before = Math.max(salvage, cost * (1 - rate) ** (year - 1));
	const after = Math.max(salvage, cost * (1 - rate) ** (year - 1) * (1 - (rate * months) / MONTHS_A_YEAR));
	return Math.max(0, before - after) / months;
}

/** What has been charged by the books at the end of a month, however it came about. */
export interface Books {
	/** The month, counted from that of going into service. */
	month: number;
	accumulated: number;
}

/** An asset, with what its charge of a month rests on. */
export interface Charged {
	policy: DepreciationPolicy;
	method: DepreciationMethod;
	cost: number;
	salvage: number;
	life: number;
	factor: number;
	/** The last month that is charged, counted from that of going into service; Infinity where it is kept. */
	last: number;
	books: Books | null;
}

/**
 * What is charged in a month. Where the books say what had been charged by then, that stands in the months up to it, and what is
 * left to be charged in those after it, each in the shape of the method; what finds no month left falls into the next one.
 * @returns what tells it of a month; 0 is the month of going into service
 */
export function charging(asset: Charged): (month: number) => number {
	const { cost, salvage, life, last, books } = asset;
	const own = byPolicy(asset);
	if (!books) return (month) => (month > last ? 0 : own(month));
	// What the method has charged by then.
	let until = 0;
	for (let m = 0, end = Math.min(books.month, life + 1); m <= end; m++) until += own(m);
	const [left, after] = [cost - salvage - books.accumulated, cost - salvage - until];
	// Nothing but the rounding of sums is no month.
	const none = Math.abs(after) <= Math.abs(cost) * 1e-12;
	return (month) => {
		if (month > last) return 0;
		if (month <= books.month) {
			if (until === 0) return month === books.month ? books.accumulated : 0;
			return (own(month) * books.accumulated) / until;
		}
		if (!(life > 0)) return NaN;
		if (none) return month === books.month + 1 ? left : 0;
		return (own(month) * left) / after;
	};
}

/**
 * What the method charges by month, as the policy has it. By half-month, half of a month's charge falls in the first month and
 * the last half after the end of life.
 */
function byPolicy({ policy, ...asset }: Charged): (month: number) => number {
	const at = byYear(asset);
	if (policy === 'half-month') return (month) => (at(month) + at(month - 1)) / 2;
	return policy === 'next-month' ? (month) => at(month - 1) : at;
}

/** The same in all months of an asset year, which is worked out once. */
function byYear({ method, cost, salvage, life, factor }: Omit<Charged, 'policy'>): (month: number) => number {
	const years: number[] = [];
	return (k) => {
		if (!(life > 0)) return NaN;
		if (k < 0 || k >= life) return 0;
		const year = Math.floor(k / MONTHS_A_YEAR);
		return (years[year] ??= depreciationInMonth(method, cost, salvage, life, k, factor));
	};
}
