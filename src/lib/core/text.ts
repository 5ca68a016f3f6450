/** Text that people enter: what may stand in it. Where text enters it is asked here, once. */

/** Control characters, marks that turn the direction of text, halves of a character, and those that stand for none. */
const UNFIT =
	// eslint-disable-next-line no-control-regex
	/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\u061c\u200b\u200e\u200f\u2028-\u202e\u2060\u2066-\u2069\ufeff\ufffd-\uffff]|\p{Noncharacter_Code_Point}|\p{Surrogate}/u;
const BREAKS = /[\t\n\r]/;

/**
 * What is wrong with a text, as the end of a sentence; null when nothing is.
 * @param lines whether it may have several lines
 */
export function textFault(text: string, lines = false): string | null {
	const found = UNFIT.exec(text) ?? (lines ? null : BREAKS.exec(text));
	if (!found) return null;
	const code = found[0].codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0');
	return BREAKS.test(found[0])
		? 'has a line break or tab, and is one line'
		: `has the character U+${code} (place ${found.index + 1}), which cannot be seen or belongs to no text`;
}

/** Nearly all text there is, told at once. */
const PLAIN = /^[ -~]*$/;

/** Another system's text, made fit: line breaks become spaces, what cannot stand in it goes. */
export const cleaned = (text: string): string =>
	!PLAIN.test(text) && (UNFIT.test(text) || BREAKS.test(text))
		? text.replace(/[\t\n\r]+/g, ' ').replace(new RegExp(UNFIT, 'gu'), '')
		: text;

/** Names that every object has: as a key of what people name they would stand for something else. */
const INHERITED = new Set(Object.getOwnPropertyNames(Object.prototype));
/** The one of them that cannot be a key at all. */
export const isNoKey = (name: string) => name === '__proto__';
/** What a record holds under a key that people have chosen; never what every object has. */
export const ownValue = <T>(record: Readonly<Record<string, T>>, key: string): T | undefined =>
	!INHERITED.has(key) || Object.hasOwn(record, key) ? record[key] : undefined;
