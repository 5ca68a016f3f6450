/** Account totals over departments and time. */
import type { Calendar, Period } from '../calendar/calendar';
import { axisCovering, type Axis } from '../engine/axis';
import { meeting, retime } from '../engine/retime';
import type { Plan } from '../scenario/plan';
import { BLANK, NUMBER, toCell, type Cell, type Matrix } from '../engine/values';
import { ACCOUNTS_BLOCK } from '../engine/spec';
import type { Account } from '../company/schema';
import { signInParent } from '../company/sign';

/** One account's values period by period; marks as in the engine. */
export interface AccountSeries {
	account: Account;
	/** Ordinal of the first period. */
	first: Period;
	values: Float64Array;
	marks: Uint8Array;
}

/**
 * Every account of the tree, leaves and groups, summed over the given leaf departments.
 * Groups add their children with the sign of type: profit = revenue − expense.
 * @param only an account: it and those under it are enough
 * @param calendar in whose periods; in others than the plan's by days, as each account rolls up over time
 */
export function accountSeries(
	plan: Plan,
	departments: readonly string[],
	only?: string,
	calendar = plan.structure.calendar
): Map<string, AccountSeries> {
	const { accounts, departmentRow } = plan.structure;
	const { axis } = plan.calculation;
	const rows = departments.map((d) => departmentRow.get(d)).filter((r): r is number => r !== undefined);
	const result = new Map<string, AccountSeries>();
	const build = (account: Account): AccountSeries => {
		const values = new Float64Array(axis.length);
		const marks = new Uint8Array(axis.length).fill(BLANK);
		const series = { account, first: axis.first, values, marks };
		if (accounts.isLeaf(account.code))
			sumRows(series, plan.calculation.matrix(ACCOUNTS_BLOCK, account.code), rows);
		else {
			// Statistics under one heading differ in unit: their sum would say nothing.
			const adds = account.type !== 'statistical' && account.type !== 'rate';
			for (const child of accounts.children(account.code)) {
				const part = build(child);
				if (adds) addTo(series, part, signInParent(child.type, account.type));
			}
		}
		result.set(account.code, series);
		return series;
	};
	if (only === undefined) accounts.roots.forEach(build);
	else if (accounts.get(only)) build(accounts.get(only)!);
	return calendar === plan.structure.calendar ? result : carriedTo(calendar, axis, result);
}

function carriedTo(
	calendar: Calendar,
	from: Axis,
	all: Map<string, AccountSeries>
): Map<string, AccountSeries> {
	const to = axisCovering(calendar, from);
	const met = meeting(from, to);
	const one = (length: number, values: Float64Array, marks: Uint8Array): Matrix => ({
		rows: 1,
		periods: length,
		values,
		marks,
		errors: false
	});
	return new Map(
		[...all].map(([code, { account, values, marks }]) => {
			const there = { values: new Float64Array(to.length), marks: new Uint8Array(to.length) };
			const target = one(to.length, there.values, there.marks);
			const source = one(from.length, values, marks);
			retime(target, source, null, account.rollup, met, 0, 1, 0, to.length);
			return [code, { account, first: to.first, ...there }];
		})
	);
}

/** Sums rows of a matrix month by month: blanks are skipped, the first error stands for all. */
function sumRows({ values, marks }: AccountSeries, matrix: Matrix, rows: readonly number[]): void {
	const from = matrix.marks;
	for (let t = 0; t < values.length; t++) {
		const start = t * matrix.rows;
		let sum = 0;
		let mark = BLANK;
		for (let k = 0; k < rows.length; k++) {
			const i = start + rows[k];
			const own = from === null ? NUMBER : from[i];
			if (own === BLANK) continue;
			mark = own;
			if (own !== NUMBER) break;
			sum += matrix.values[i];
		}
		values[t] = sum;
		marks[t] = mark;
	}
}
function addTo({ values, marks }: AccountSeries, part: AccountSeries, sign: number): void {
	for (let t = 0; t < values.length; t++) {
		if (part.marks[t] === BLANK || marks[t] > BLANK) continue;
		marks[t] = part.marks[t];
		values[t] += sign * part.values[t];
	}
}

/** A span of periods (ordinals, both included) as one figure, by the account's roll-up over time. */
export function overTime(series: AccountSeries, from: number, to: number): Cell {
	const { first } = series;
	const a = Math.max(0, from - first);
	const b = Math.min(series.values.length - 1, to - first);
	let total = 0;
	let count = 0;
	let last: Cell = null;
	for (let t = a; t <= b; t++) {
		const mark = series.marks[t];
		if (mark === BLANK) continue;
		if (mark !== NUMBER) return toCell(NaN, mark);
		total += series.values[t];
		last = series.values[t];
		count++;
	}
	if (count === 0) return null;
	if (series.account.rollup === 'last')
		return b === to - first && series.marks[b] === NUMBER ? series.values[b] : last;
	return series.account.rollup === 'average' ? total / count : total;
}

/** The values period by period, for display. Ordinals, both included. */
export function cellsOf(series: AccountSeries, from: number, to: number): Cell[] {
	const { first, values } = series;
	return Array.from({ length: to - from + 1 }, (_, i) => {
		const t = from + i - first;
		return t < 0 || t >= values.length ? null : toCell(series.values[t], series.marks[t]);
	});
}
