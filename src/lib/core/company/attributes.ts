/** Attributes of members: inherited down the tree, and typed by what they hold. */
import { fromIsoDate } from '../calendar/dates';
import { date, text, UNKNOWN, type Quantity } from '../formula/units';
import type { Dimension, Member } from './schema';
import { ownValue } from '../text';
import type { Tree } from './tree';

/** A member's attribute, its own or the nearest ancestor's; null where there is none. */
export function attributeOf(
	tree: Tree<Member> | undefined,
	member: string,
	attribute: string
): string | null {
	for (const m of tree?.ancestors(member) ?? []) {
		const value = ownValue(m.attributes, attribute);
		if (value) return value;
	}
	return null;
}

/** Codes of all attributes that some member has. */
export function attributesOf(dimension: Dimension): string[] {
	return [...new Set(dimension.members.flatMap((m) => Object.keys(m.attributes)))];
}

const isNumber = (value: string) => /^-?\d+(\.\d+)?$/.test(value);

/** What an attribute holds: dates or numbers, of which it does not say what they count, where all its values are; else text. */
export function attributeQuantity(dimension: Dimension, attribute: string): Quantity {
	const values = dimension.members.flatMap((m) => ownValue(m.attributes, attribute) || []);
	if (values.length && values.every((v) => fromIsoDate(v) !== null)) return date;
	return values.length && values.every(isNumber) ? UNKNOWN : text;
}

/** An attribute's value as the number that calculations use. */
export function attributeNumber(
	quantity: Quantity,
	value: string | null,
	textCode: (text: string) => number
): number | null {
	if (value === null) return null;
	if (quantity.kind === 'date') return fromIsoDate(value);
	return quantity.kind === 'text' ? textCode(value) : Number(value);
}
