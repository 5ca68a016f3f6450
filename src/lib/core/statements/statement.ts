/** Account totals over departments and time. */
import type { Plan } from '../scenario/plan';
import { BLANK, NUMBER, toCell, type Cell, type Matrix } from '../engine/values';
import { ACCOUNTS_BLOCK } from '../engine/spec';
import type { Account } from '../company/schema';
import { signInParent } from '../company/sign';

/** One account's values over the axis of its plan; marks as in the engine. */
export interface AccountSeries {
	account: Account;
	values: Float64Array;
	marks: Uint8Array;
}

/**
 * Every account of the tree, leaves and groups, summed over the given leaf departments.
 * Groups add their children with the sign of type: profit = revenue − expense.
 * @param only an account: it and those under it are enough
 */
export function accountSeries(
	plan: Plan,
	departments: readonly string[],
	only?: string
): Map<string, AccountSeries> {
	const { accounts, departmentRow } = plan.structure;
	const { axis } = plan.calculation;
	const rows = departments.map((d) => departmentRow.get(d)).filter((r): r is number => r !== undefined);
	const result = new Map<string, AccountSeries>();
	const build = (account: Account): AccountSeries => {
		const values = new Float64Array(axis.length);
		const marks = new Uint8Array(axis.length).fill(BLANK);
		const series = { account, values, marks };
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
	return result;
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
export function overTime(plan: Plan, series: AccountSeries, from: number, to: number): Cell {
	const { axis } = plan.calculation;
	const a = Math.max(0, from - axis.first);
	const b = Math.min(axis.length - 1, to - axis.first);
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
		return b === to - axis.first && series.marks[b] === NUMBER ? series.values[b] : last;
	return series.account.rollup === 'average' ? total / count : total;
}

/** The values period by period, for display. Ordinals, both included. */
export function cellsOf(plan: Plan, series: AccountSeries, from: number, to: number): Cell[] {
	const { axis } = plan.calculation;
	return Array.from({ length: to - from + 1 }, (_, i) => {
		const t = from + i - axis.first;
		return t < 0 || t >= axis.length ? null : toCell(series.values[t], series.marks[t]);
	});
}
