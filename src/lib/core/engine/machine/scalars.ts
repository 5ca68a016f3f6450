/**
 * Functions of single numbers that formulas may call. An argument that was left out is undefined; a result of NaN
 * stands for #NUM!, +∞ for #DIV/0!, −∞ for #VALUE!.
 */
import type { Axis } from '../axis';
import { fromSerial, monthNumber, toSerial } from '../../calendar/dates';
import { activeShare, renewingShare } from '../../functions/active';
import { edate, eomonth, yearfrac } from '../../functions/dates';
import { db, ddb, charging, METHODS, POLICIES, sln, syd, vdb } from '../../functions/depreciation';
import { DUE, instalmentsDue, PAID, type Paid } from '../../functions/instalments';
import { fv, ipmt, nper, pmt, ppmt, pv, rate } from '../../functions/financial';
import { roundDown } from '../../functions/rounding';
import { textCode } from '../texts';

export const DIVIDED_BY_ZERO = Infinity;
export const WRONG_VALUE = -Infinity;

/** Arguments in order; `t` is the period's index on the axis. */
export type Scalar = (args: readonly number[], axis: Axis, t: number) => number;

export interface ScalarInfo {
	f: Scalar;
	/**
	 * The same for arguments that hold in all periods: what follows from them alone is worked out once. Absent where the
	 * period says nothing.
	 */
	begin?: (args: readonly number[], axis: Axis) => (t: number) => number;
	/** What stands for a blank argument, by place; 0 where nothing is said. */
	blanks?: readonly number[];
}

/** A function of its arguments and the period. */
const byPeriod = (begin: NonNullable<ScalarInfo['begin']>, blanks: readonly number[]): ScalarInfo => ({
	f: (args, axis, t) => begin(args, axis)(t),
	begin,
	blanks
});
const always = (value: number) => () => value;

/** A plain function of numbers; arguments left out take its own defaults. */
const plain = (f: (...args: number[]) => number): ScalarInfo => ({ f: (args) => f(...args) });

/** Days from 1899 to the year 9999 and a little on; other numbers are no dates. */
const isDay = (serial: number) => serial >= 0 && serial < 3e6;
const day = (serial: number, read: (d: ReturnType<typeof fromSerial>) => number) =>
	isDay(serial) ? read(fromSerial(serial)) : WRONG_VALUE;
/** A function of days, and of numbers behind them. */
const ofDays = (count: number, f: (...args: number[]) => number): ScalarInfo => ({
	f: (args) => (args.slice(0, count).every(isDay) ? f(...args) : WRONG_VALUE)
});

const paidOf = new Map((Object.keys(PAID) as Paid[]).map((p) => [textCode(p), p]));
const dueOf = new Map(DUE.map((d) => [textCode(d), d]));
const methodOf = new Map(METHODS.map((m) => [textCode(m), m]));
const policyOf = new Map(POLICIES.map((p) => [textCode(p), p]));

/** How many periods of an axis, and of those before and after it, lie between two days. */
function periodsBetween(axis: Axis): (from: number, to: number) => number {
	const counted = known.get(axis) ?? new Map<number, number>();
	known.set(axis, counted);
	return (from, to) => {
		const key = from * MOST_DAYS + to;
		const have = counted.get(key);
		if (have !== undefined) return have;
		const inside = from >= axis.firstDay[0] && to <= axis.lastDay[axis.length - 1];
		const { firstDay, lastDay, length, daysBetween } = inside ? axis : axis.covering(from, to);
		let sum = 0;
		for (let t = 0; t < length; t++) sum += activeShare(from, to, firstDay[t], lastDay[t], daysBetween);
		if (counted.size > MOST_COUNTED) counted.clear();
		counted.set(key, sum);
		return sum;
	};
}
const known = new WeakMap<Axis, Map<number, number>>();
/** More than any day's serial number. */
const MOST_DAYS = 2 ** 22;
const MOST_COUNTED = 20_000;

/** A month that a period touches: its number, and which part of its days. */
interface MonthIn {
	month: number;
	share: number;
}
function monthsBetween(first: number, last: number): MonthIn[] {
	const found: MonthIn[] = [];
	for (let day = first; day <= last;) {
		const { year, month } = fromSerial(day);
		const start = toSerial(year, month, 1);
		const end = toSerial(year, month + 1, 0);
		const to = Math.min(last, end);
		found.push({ month: monthNumber({ year, month }), share: (to - day + 1) / (end - start + 1) });
		day = to + 1;
	}
	return found;
}

/**
 * What a function of months gives for a period: the month's own value, or where the period is no month, the
 * values of the months it touches, each by its share of days.
 */
function overMonths(axis: Axis, ofMonth: (monthNumber: number) => number): (t: number) => number {
	const all = monthsOf.get(axis) ?? [];
	monthsOf.set(axis, all);
	return (t) => {
		let sum = 0;
		for (const { month, share } of (all[t] ??= monthsBetween(axis.firstDay[t], axis.lastDay[t])))
			sum += ofMonth(month) * share;
		return sum;
	};
}
/** Months that each period touches, worked out once for an axis: many rows ask. */
const monthsOf = new WeakMap<Axis, (readonly MonthIn[])[]>();

/** The month of a day, kept by day. */
function monthOfDay(day: number): number {
	const have = monthByDay.get(day);
	if (have !== undefined) return have;
	if (monthByDay.size > MOST_COUNTED) monthByDay.clear();
	const month = monthNumber(fromSerial(day));
	monthByDay.set(day, month);
	return month;
}
const monthByDay = new Map<number, number>();

export const SCALARS = {
	trunc: plain((x, digits = 0) => roundDown(x, digits)),
	date: plain((y, m, d) => toSerial(Math.trunc(y), Math.trunc(m), Math.trunc(d))),
	year: plain((s) => day(s, (d) => d.year)),
	month: plain((s) => day(s, (d) => d.month)),
	day: plain((s) => day(s, (d) => d.day)),
	edate: ofDays(1, edate),
	eomonth: ofDays(1, eomonth),
	days: plain((end, start) => Math.floor(end) - Math.floor(start)),
	yearfrac: ofDays(2, yearfrac),
	pmt: plain(pmt),
	ipmt: plain(ipmt),
	ppmt: plain(ppmt),
	fv: plain(fv),
	pv: plain(pv),
	nper: plain(nper),
	rate: plain(rate),
	sln: plain(sln),
	syd: plain(syd),
	ddb: plain(ddb),
	db: plain(db),
	vdb: plain(vdb),
	depreciation: byPeriod(
		([method, cost, salvage, life, inService, policy, factor, last, booksAt, booked], axis) => {
			const how = methodOf.get(method);
			const when = policy === undefined || policy === 0 ? 'same-month' : policyOf.get(policy);
			if (!how || !when) return always(WRONG_VALUE);
			// An asset without a date is not in service.
			if (inService === -Infinity) return always(0);
			if (!isDay(inService)) return always(WRONG_VALUE);
			const start = monthOfDay(inService);
			const monthOf = (day: number) => monthOfDay(day) - start;
			const charge = charging({
				policy: when,
				method: how,
				cost,
				salvage,
				life,
				factor: factor || 2,
				last: last !== undefined && isDay(last) ? monthOf(last) : Infinity,
				books:
					booksAt !== undefined && isDay(booksAt)
						? { month: monthOf(booksAt), accumulated: booked ?? 0 }
						: null
			});
			return overMonths(axis, (m) => charge(m - start));
		},
		[0, 0, 0, 0, -Infinity, 0, 0, Infinity, Infinity, 0]
	),
	renewing: byPeriod(
		([start, end, uplift = 0, last = Infinity], { firstDay, lastDay, daysBetween }) =>
			isDay(start)
				? (t) => renewingShare(start, end, uplift, last, firstDay[t], lastDay[t], daysBetween)
				: always(WRONG_VALUE),
		[-Infinity, Infinity, 0, Infinity]
	),
	instalments: byPeriod(
		([start, end, often, when, uplift = 0, last = Infinity], axis) => {
			const paid = paidOf.get(often);
			const due = dueOf.get(when);
			if (!paid || !due || !isDay(start)) return always(WRONG_VALUE);
			const contract = { start, end, uplift, last };
			const covered = periodsBetween(axis);
			return (t) => instalmentsDue(contract, paid, due, axis.firstDay[t], axis.lastDay[t], covered);
		},
		[-Infinity, Infinity, 0, 0, 0, Infinity]
	),
	active: byPeriod(
		([start, end], { firstDay, lastDay, daysBetween }) =>
			(t) =>
				activeShare(start, end, firstDay[t], lastDay[t], daysBetween),
		[-Infinity, Infinity]
	)
} satisfies Record<string, ScalarInfo>;
export type ScalarFunction = keyof typeof SCALARS;
