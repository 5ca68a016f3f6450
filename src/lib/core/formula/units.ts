/**
 * Units of lines, worked out through formulas: money × share = money, and money cannot be added to months.
 * Only money and time are told apart; whatever else is counted (pieces, people, shares) is a plain number.
 */

import { ownValue } from '../text';

/** Exponents of currencies and of units of time, e.g. { GBP: 1, hour: -1 }. */
export type Unit = Readonly<Record<string, number>>;

/** What a line, a column or a part of a formula holds. */
export interface Quantity {
	kind: 'number' | 'date' | 'text';
	/** Null: not stated, fits anything. */
	unit: Unit | null;
	/** A number written out fits any unit it is added to or compared with. */
	literal?: boolean;
}

/** What amounts of money are counted in. */
export interface MoneyUnits {
	/** The currency in which the company reports. */
	reporting: string;
	/** That of a row's own department: `LOCAL` where departments differ, else the same. */
	local: string;
}
/** Stands for the currency of a row's department; amounts in it do not add up over departments. */
export const LOCAL = 'local currency';

/** Where no money is spoken of. */
export const NO_MONEY: MoneyUnits = { reporting: '', local: '' };

export const PLAIN: Unit = {};
export const UNKNOWN: Quantity = { kind: 'number', unit: null };
export const NUMBER_WRITTEN: Quantity = { kind: 'number', unit: PLAIN, literal: true };
export const plain: Quantity = { kind: 'number', unit: PLAIN };
export const date: Quantity = { kind: 'date', unit: null };
export const text: Quantity = { kind: 'text', unit: null };

const TIME: Readonly<Record<string, string>> = {
	day: 'day',
	days: 'day',
	week: 'week',
	weeks: 'week',
	month: 'month',
	months: 'month',
	quarter: 'quarter',
	quarters: 'quarter',
	year: 'year',
	years: 'year',
	hour: 'hour',
	hours: 'hour'
};

/**
 * Reads the unit typed for a line: "GBP", "GBP each", "GBP per hour", "local each", "months", "pieces", "of revenue".
 * Plain "money" stands for the reporting currency, "local" for that of the row's department.
 * @param format the line's number format, which speaks where the unit is silent
 */
export function unitOf(typed: string, format: string, { reporting, local }: MoneyUnits): Quantity {
	const words = typed
		.trim()
		.split(/[\s,]+|(?=\/)|(?<=\/)/)
		.filter(Boolean);
	if (!words.length) {
		if (format === 'money') return { kind: 'number', unit: { [reporting]: 1 } };
		return format === 'percent' ? plain : UNKNOWN;
	}
	if (format === 'percent') return plain;
	const unit: Record<string, number> = {};
	const first = words[0];
	const add = (word: string, by: number) => {
		const base = /^[A-Z]{3}$/.test(word)
			? word
			: word.toLowerCase() === 'money'
				? reporting
				: word.toLowerCase() === 'local'
					? local
					: ownValue(TIME, word.toLowerCase());
		if (base) unit[base] = (unit[base] ?? 0) + by;
	};
	add(first, 1);
	words.forEach((word, i) => {
		if ((word === '/' || word.toLowerCase() === 'per') && words[i + 1]) add(words[i + 1], -1);
	});
	return { kind: 'number', unit };
}

/** The currency of which a quantity is an amount, or a price; null where it is of none, or of several. */
export function currencyOfUnit({ unit }: Quantity): string | null {
	const found = Object.keys(unit ?? {}).filter((base) => unit![base] === 1 && !TIMES.has(base));
	return found.length === 1 ? found[0] : null;
}

/** The same in another currency: what is counted in local ones, added up in the reporting one. */
export function inUnit(q: Quantity, from: string, to: string): Quantity {
	const n = q.unit?.[from];
	if (!n || from === to) return q;
	return { ...q, unit: multiply(multiply(q.unit!, { [from]: n }, -1), { [to]: n }) };
}

export function multiply(a: Unit, b: Unit, sign: 1 | -1 = 1): Unit {
	const product: Record<string, number> = { ...a };
	for (const [base, n] of Object.entries(b)) {
		product[base] = (product[base] ?? 0) + sign * n;
		if (product[base] === 0) delete product[base];
	}
	return product;
}

const TIMES = new Set(Object.values(TIME));

/** Whether two may be added or compared. A rate per time counts as the amount of one such time. */
export function fits(a: Quantity, b: Quantity): boolean {
	if (a.kind !== b.kind) return (a.kind === 'date' && isLoose(b)) || (b.kind === 'date' && isLoose(a));
	if (a.kind !== 'number' || isLoose(a) || isLoose(b)) return true;
	const bases = new Set([...Object.keys(a.unit!), ...Object.keys(b.unit!)]);
	for (const base of bases) {
		const [x, y] = [a.unit![base] ?? 0, b.unit![base] ?? 0];
		if (x !== y && !(TIMES.has(base) && x <= 0 && y <= 0)) return false;
	}
	return true;
}
const isLoose = (q: Quantity) => q.kind === 'number' && (q.unit === null || q.literal === true);

/** The unit in words, for messages. */
export function unitName(q: Quantity): string {
	if (q.kind !== 'number') return q.kind === 'date' ? 'a date' : 'text';
	if (q.unit === null) return 'a number';
	const name = (base: string, n: number) =>
		(TIMES.has(base) && n > 0 ? `${base}s` : base) +
		(Math.abs(n) > 1 ? ` to the power of ${Math.abs(n)}` : '');
	const above = Object.entries(q.unit).filter(([, n]) => n > 0);
	const below = Object.entries(q.unit).filter(([, n]) => n < 0);
	if (!above.length && !below.length) return 'a plain number';
	const top = above.map(([b, n]) => name(b, n)).join(' × ') || '1';
	return below.length ? `${top} per ${below.map(([b, n]) => name(b, n)).join(' and ')}` : top;
}
