/** Figures as people read and type them. */
import { arithmetic } from '../../core/engine/arithmetic';
import { isFault, type Cell } from '../../core/engine/values';
import type { NumberFormat } from '../../core/company/schema';
import { userStyle } from './user-style.svelte';

/** How money is shown: in thousands, in whole units, or to the cent. */
export type Figures = 'thousand' | 'whole' | 'cents';
export const FIGURES: { value: Figures; name: string }[] = [
	{ value: 'thousand', name: 'Thousands' },
	{ value: 'whole', name: 'Whole' },
	{ value: 'cents', name: 'Cents' }
];

const printers = new Map<string, Intl.NumberFormat>();
function fixed(value: number, digits: number, unit = ''): string {
	const key = `${userStyle.decimal}${digits}`;
	let printer = printers.get(key);
	if (!printer) {
		printer = new Intl.NumberFormat(userStyle.decimal === ',' ? 'de-DE' : 'en-GB', {
			minimumFractionDigits: digits,
			maximumFractionDigits: digits
		});
		printers.set(key, printer);
	}
	const text = printer.format(Math.abs(value)) + unit;
	// What rounds to zero is no longer negative.
	if (value >= 0 || !/[1-9]/.test(text)) return text;
	return userStyle.negative === 'brackets' ? `(${text})` : `−${text}`;
}

/** Of a price or an exchange rate: more where little is left of fewer. */
const priceDigits = (value: number) => (Math.abs(value) < 0.02 ? 6 : Math.abs(value) < 10 ? 4 : 2);

/** A figure for the screen: zero as an en dash, blank as nothing, an error as its code. */
export function figure(cell: Cell, format: NumberFormat, figures: Figures): string {
	if (cell === null) return '';
	if (typeof cell === 'string') return isFault(cell) ? cell : 'mixed';
	if (cell === 0) return '–';
	switch (format) {
		case 'percent':
			return fixed(cell * 100, Math.abs(cell) < 0.01 ? 2 : 1, ' %');
		case 'price':
			return fixed(cell, priceDigits(cell));
		case 'number':
			return fixed(cell, Number.isInteger(cell) || Math.abs(cell) >= 1000 ? 0 : 1);
		case 'money':
			return figures === 'thousand' ? fixed(cell / 1000, 1) : fixed(cell, figures === 'cents' ? 2 : 0);
	}
}

/** A width in pixels that holds every one of these figures of money. */
export function widthOf(cells: Iterable<Cell>, figures: Figures): number {
	// The farthest from zero on either side is the longest.
	let [most, least] = [0, 0];
	for (const cell of cells)
		if (typeof cell === 'number') {
			if (cell > most) most = cell;
			else if (cell < least) least = cell;
		}
	const longest = Math.max(7, ...[most, least].map((n) => figure(n, 'money', figures).length));
	// Bold tabular digits of 13 px, and the padding.
	return Math.ceil(longest * 7.1) + 12;
}

/** In full, for a tooltip or the side sheet. */
export function exact(cell: Cell, format: NumberFormat): string {
	if (cell === null) return 'blank';
	if (typeof cell === 'string') return cell;
	if (cell === 0) return '0';
	if (format === 'percent') return fixed(cell * 100, 2, ' %');
	return fixed(
		cell,
		format === 'number' && Number.isInteger(cell)
			? 0
			: format === 'price'
				? Math.max(4, priceDigits(cell))
				: 2
	);
}

/** As text for another program of the same user: a number without separators between thousands. */
export function plain(cell: Cell): string {
	return cell === null ? '' : String(cell).replace('.', userStyle.decimal);
}

export const share = (value: number | null): string => (value === null ? 'n/m' : fixed(value * 100, 1, ' %'));

/** Digits with or without separators between thousands, by the user's decimal sign. */
const WRITTEN = {
	'.': { number: /^[-+]?(\d{1,3}(,\d{3})+|\d*)(\.\d*)?$/, thousands: ',' },
	',': { number: /^[-+]?(\d{1,3}(\.\d{3})+|\d*)(,\d*)?$/, thousands: '.' }
} as const;

/**
 * Reads what somebody typed or pasted: separators, brackets for negatives, currency signs and codes, percent, k and m.
 * In a percentage cell 3 means 3 %. Undefined when it is no number; null when it is nothing.
 */
export function readFigure(text: string, format: NumberFormat): number | null | undefined {
	let t = text
		.trim()
		.replace(/[\s\u00a0\u202f'’]/g, '')
		.replace(/[−–]/g, '-');
	if (t === '' || t === '-') return t === '' ? null : 0;
	const bracketed = /^\(.*\)$/.test(t);
	if (bracketed) t = t.slice(1, -1);
	t = t
		.replace(/^([-+]?)(?:[£€$¥]|[A-Z]{3}(?=[-+\d.,]))/, '$1')
		.replace(/(?:[£€$¥]|(?<=[\d.,])[A-Z]{3})$/, '');
	// A minus may also stand behind the figure, as ledgers print it.
	const behind = /^[\d.,]+-$/.test(t);
	if (behind) t = t.slice(0, -1);
	const percent = t.endsWith('%');
	if (percent) t = t.slice(0, -1);
	const scale = /k$/i.test(t) ? 1e3 : /m$/i.test(t) ? 1e6 : 1;
	if (scale !== 1) t = t.slice(0, -1);
	const written = WRITTEN[userStyle.decimal];
	if (!written.number.test(t) || !/\d/.test(t)) return undefined;
	let value = Number(t.replaceAll(written.thousands, '').replace(',', '.')) * scale;
	if (percent || format === 'percent') value = Number((value / 100).toPrecision(15));
	return bracketed || behind ? -value : value;
}

/**
 * Reads what somebody typed into a cell: a figure as above, arithmetic behind an equals sign (=1,200*1.05), or a
 * change of what stands there (+5%, −5%). In a percentage cell a percentage is the figure itself.
 */
export function readTyped(text: string, format: NumberFormat, now: Cell): number | null | undefined {
	const t = text.trim().replace(/[−–]/g, '-');
	if (t.startsWith('=')) {
		const value = arithmetic(
			userStyle.decimal === ','
				? t.replace(/(\d)\.(?=\d{3}\b)/g, '$1').replace(/(\d),(?=\d)/g, '$1.')
				: t.replace(/(\d),(?=\d{3})/g, '$1')
		);
		if (value === null) return undefined;
		return format === 'percent' && !t.includes('%') ? Number((value / 100).toPrecision(15)) : value;
	}
	const change = /^([+-])\s*(\d+(?:[.,]\d+)?)\s*%$/.exec(t);
	if (change && format !== 'percent' && typeof now === 'number')
		return Number((now * (1 + Number(change[1] + change[2].replace(',', '.')) / 100)).toPrecision(15));
	return readFigure(text, format);
}

/** A date for people, e.g. 14 Oct 2026. */
export function day(iso: string): string {
	const [y, m, d] = iso.slice(0, 10).split('-').map(Number);
	return `${d} ${['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'][m - 1]} ${y}`;
}
export const moment = (iso: string) => `${day(iso)}, ${iso.slice(11, 16)}`;
