/**
 * Texts in calculations: each text has one number, so that comparing texts is comparing numbers. Capitals make no
 * difference, as in a spreadsheet's comparisons.
 */
const codes = new Map<string, number>();

/** The number of a text, from 1 on; 0 is the blank. */
export function textCode(text: string): number {
	const key = text.toLowerCase();
	let code = codes.get(key);
	if (code === undefined) {
		code = codes.size + 1;
		codes.set(key, code);
	}
	return code;
}
