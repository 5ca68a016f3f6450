/**
 * Accounts of departments in reporting currency: flows at average rates, balances at closing ones, equity as it arose,
 * and what is left as the translation difference.
 */
import type { Period } from '../calendar/calendar';
import type { Account } from '../company/schema';
import type { Structure } from '../company/structure';
import type { Axis } from '../engine/axis';
import { BLANK, marksOf, MIXED, NUMBER, RATE, type Matrix } from '../engine/values';
import type { Exchange } from './exchange';
import { isMoney, rateKindOf } from './rates';

/** What accounts are translated by. */
export interface Translation {
	structure: Structure;
	exchange: Exchange;
	axis: Axis;
	/** The first period of the ledger: what stands at its end was there before, at the closing rate before it. */
	ledgerFirst: Period;
	/** An account's own amounts, department by department. */
	own(account: string): Matrix;
}

/** An account, department by department, in reporting currency; an amount without its rate is an error. */
export function translated(account: Account, by: Translation): Matrix {
	const { structure, exchange, axis, own } = by;
	const source = own(account.code);
	if (!isMoney(account)) return source;
	const { rowCurrency, currency } = structure;
	const target: Matrix = { ...source, values: source.values.slice(), marks: source.marks?.slice() ?? null };
	rowCurrency.forEach((from, row) => {
		if (from === currency) return;
		if (account.type === 'equity') {
			const cells = arisen(column(source, row), from, by, openingRate(from, by));
			cells.values.forEach((value, t) => put(target, row, t, value, cells.marks[t]));
			return;
		}
		const rates = exchange.between(from, currency, rateKindOf(account.type), axis);
		for (let t = 0; t < source.periods; t++) {
			const i = t * source.rows + row;
			if (source.marks && source.marks[i] !== NUMBER) continue;
			const amount = source.values[i];
			// As `times` answers, without a pair for each cell.
			if (amount === 0) target.values[i] = 0;
			else if (Number.isNaN(rates[t])) put(target, row, t, NaN, RATE);
			else target.values[i] = amount * rates[t];
		}
	});
	if (account.translation) addDifference(target, by);
	return target;
}

/** 0 is 0 at any rate. */
const times = (amount: number, rate: number): [number, number] =>
	amount === 0 ? [0, NUMBER] : Number.isNaN(rate) ? [NaN, RATE] : [amount * rate, NUMBER];

function put(matrix: Matrix, row: number, t: number, value: number, mark: number): void {
	const i = t * matrix.rows + row;
	matrix.values[i] = value;
	if (mark !== NUMBER || matrix.marks) marksOf(matrix)[i] = mark;
	if (mark > BLANK) matrix.errors = true;
}

/** One department of an account over time. */
interface Column {
	values: Float64Array;
	marks: Uint8Array;
}
function column({ rows, periods, values, marks }: Matrix, row: number): Column {
	return {
		values: Float64Array.from({ length: periods }, (_, t) => values[t * rows + row]),
		marks: Uint8Array.from({ length: periods }, (_, t) => (marks ? marks[t * rows + row] : NUMBER))
	};
}

/** The rate of what the ledger opens with; null where it is not known. */
const openingRate = (currency: string, { exchange, ledgerFirst }: Translation): number | null =>
	exchange.closingAt(currency, ledgerFirst - 1);

/**
 * A balance as it arose: each change at the average rate of its period.
 * @param opening the rate of what the ledger opens with; null: as if it had arisen in its first period
 */
function arisen(
	{ values, marks }: Column,
	currency: string,
	by: Translation,
	opening: number | null
): Column {
	const { exchange, structure, axis } = by;
	const average = exchange.between(currency, structure.currency, 'average', axis);
	const opens = Math.max(0, by.ledgerFirst - axis.first);
	const found: Column = { values: new Float64Array(values.length), marks: marks.slice() };
	let [was, worth, failed] = [0, 0, NUMBER];
	values.forEach((value, t) => {
		if (marks[t] === BLANK) return;
		if (marks[t] !== NUMBER) failed = marks[t];
		const rate = t <= opens && was === 0 ? (opening ?? average[t]) : average[t];
		const [change, mark] = times(value - was, rate);
		if (mark !== NUMBER && failed === NUMBER) failed = mark;
		was = value;
		worth += change;
		found.values[t] = failed === NUMBER ? worth : NaN;
		found.marks[t] = failed;
	});
	return found;
}

/**
 * What is left of a department's net assets at closing rates, when its equity and its result are taken as they arose.
 * With opening net assets A, a change D and rates c₀ → c₁ around an average a it is A (c₁ − c₀) + D (c₁ − a).
 */
function addDifference(target: Matrix, by: Translation): void {
	const { structure, exchange, axis, own } = by;
	const { accounts, rowCurrency, currency } = structure;
	const leaves = accounts.all.filter((a) => accounts.isLeaf(a.code));
	const sum = (row: number, types: readonly Account['type'][]): Column => {
		const total: Column = {
			values: new Float64Array(axis.length),
			marks: new Uint8Array(axis.length).fill(BLANK)
		};
		for (const { code, type } of leaves) {
			if (!types.includes(type)) continue;
			const { values, marks } = column(own(code), row);
			values.forEach((value, t) => {
				if (marks[t] === BLANK) return;
				total.values[t] += type === 'liability' ? -value : value;
				total.marks[t] = Math.max(marks[t], total.marks[t] === BLANK ? NUMBER : total.marks[t]);
			});
		}
		return total;
	};
	const equityOf = rowCurrency.map((_, row) => sum(row, ['equity']));
	/** Where nobody's equity is known there is no balance sheet, but balances that plans move. */
	const complete = (own: string, t: number) =>
		rowCurrency.some((c, row) => c === own && equityOf[row].marks[t] !== BLANK);
	rowCurrency.forEach((from, row) => {
		if (from === currency) return;
		const net = sum(row, ['asset', 'liability']);
		const equity = equityOf[row];
		// What has been earned, and is not yet part of equity.
		const result: Column = {
			values: net.values.map((value, t) => value - (equity.marks[t] === BLANK ? 0 : equity.values[t])),
			marks: net.marks
		};
		const closing = exchange.between(from, currency, 'closing', axis);
		const stated = arisen(equity, from, by, openingRate(from, by));
		const earned = arisen(result, from, by, null);
		for (let t = 0; t < axis.length; t++) {
			if (net.marks[t] === BLANK || !complete(from, t)) continue;
			const [worth, mark] = times(net.values[t], closing[t]);
			const failed = [mark, net.marks[t], stated.marks[t], earned.marks[t]].find((m) => m > BLANK);
			const i = t * target.rows + row;
			const already = target.marks && target.marks[i] !== NUMBER ? 0 : target.values[i];
			const difference = worth - (stated.marks[t] === BLANK ? 0 : stated.values[t]) - earned.values[t];
			put(target, row, t, failed ? NaN : already + difference, failed ?? NUMBER);
		}
	});
}

/** Amounts of several currencies, of which there is no sum in any of them. */
export function mixed(values: Float64Array, marks: Uint8Array, start: number, end: number): void {
	for (let i = start; i < end; i++)
		if (marks[i] !== BLANK) {
			values[i] = NaN;
			marks[i] = MIXED;
		}
}
