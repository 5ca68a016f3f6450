/** Amounts as text: read in one habit of writing numbers, checked rather than guessed. */
import { MOST_AMOUNT } from '../../core/company/schema';

export type DecimalSign = '.' | ',';

/** Signs that may group thousands beside each decimal sign; one number keeps to one of them. */
const GROUPING = {
	'.': [',', ' ', '\u00a0', '\u202f', "'", '’'],
	',': ['.', ' ', '\u00a0', '\u202f', "'", '’']
};
const escaped = (sign: string) => sign.replace(/[.]/g, '\\.');
const PATTERNS = Object.fromEntries(
	(['.', ','] as const).map((decimal) => [
		decimal,
		[
			new RegExp(`^(\\d+)(?:${escaped(decimal)}(\\d*))?$`),
			new RegExp(`^()${escaped(decimal)}(\\d+)$`),
			...GROUPING[decimal].map(
				(sign) => new RegExp(`^([1-9]\\d{0,2}(?:${escaped(sign)}\\d{3})+)(?:${escaped(decimal)}(\\d*))?$`)
			)
		]
	])
) as Record<DecimalSign, RegExp[]>;

const PLAIN = /^\d+(?:\.\d+)?$/;

/**
 * A number in the decimal sign's habit: digits in threes where they are grouped, by one sign alone; brackets round it or
 * a minus behind it make it negative.
 * @returns null when it is none
 */
export function readAmount(text: string, decimal: DecimalSign): number | null {
	// Most amounts are digits and a point, which is how numbers are written here too.
	if (decimal === '.' && PLAIN.test(text)) return Number(text);
	const t = text.trim();
	const form = /^\(([^()+-]+)\)$/.exec(t) ?? /^([^()+-]+)-$/.exec(t) ?? /^-\s?([^()+-]+)$/.exec(t);
	const negative = form !== null;
	const digits = (form ? form[1] : t.replace(/^\+/, '')).trim();
	for (const pattern of PATTERNS[decimal]) {
		const found = pattern.exec(digits);
		if (!found) continue;
		const value = Number(`${found[1].replace(/\D/g, '') || '0'}.${found[2] || '0'}`);
		return negative && value !== 0 ? -value : value;
	}
	return null;
}

/** Whether an amount is larger than any that is kept. */
export const isTooLarge = (value: number): boolean => !(Math.abs(value) <= MOST_AMOUNT);

const SIGNED = /[.,]/;

/** What a column's amounts say of its habit. */
export interface Habit {
	/** The sign that the first amount that can settles; null where none does. */
	decimal: DecimalSign | null;
	/**
	 * An amount that is a different number in each habit, where no other settles which is meant: 1,234 is one thousand
	 * two hundred and thirty-four, or one and 234 thousandths.
	 */
	doubtful: string | null;
}

export function habitOf(amounts: Iterable<string>): Habit {
	const settled = new Set<DecimalSign>();
	let doubtful: string | null = null;
	for (const text of amounts) {
		if (!SIGNED.test(text)) continue;
		const [point, comma] = [readAmount(text, '.'), readAmount(text, ',')];
		if (point !== null && comma === null) settled.add('.');
		else if (comma !== null && point === null) settled.add(',');
		else if (point !== comma) doubtful ??= text.trim();
		// What contradicts it is a fault at its place.
		if (settled.size) break;
	}
	const [decimal] = settled.size ? settled : [null];
	return { decimal, doubtful: settled.size ? null : doubtful };
}

/**
 * Whether a column mixes both habits under a decimal sign, although every amount can be read: 1,234 and 1.234 beside each
 * other, and nothing that settles what their signs mean.
 */
export function mixesHabits(amounts: readonly string[], decimal: DecimalSign): boolean {
	const other = decimal === '.' ? ',' : '.';
	let grouped = false;
	let fractions = false;
	for (const text of amounts) {
		if (!SIGNED.test(text)) continue;
		const [own, theirs] = [readAmount(text, decimal), readAmount(text, other)];
		if (own !== null && theirs === null) return false;
		if (own === null || own === theirs) continue;
		if (text.includes(decimal)) fractions = true;
		else grouped = true;
	}
	return grouped && fractions;
}
