/**
 * Texts in calculations: each text has one number, so that comparing texts is comparing numbers. Capitals make no
 * difference, as in a spreadsheet's comparisons. The number follows from the text alone: what is calculated in
 * another thread or in a browser is taken up here as it stands.
 */
const texts = new Map<number, string>();

/**
 * The number of a text, from 1 to 2^53 - 1; 0 is the blank.
 * @throws Error where two texts met here would have one number, rather than take them for the same
 */
export function textCode(text: string): number {
	const key = text.toLowerCase();
	const code = hash(key) || 1;
	const known = texts.get(code);
	if (known === undefined) texts.set(code, key);
	else if (known !== key)
		throw new Error(`“${known}” and “${key}” cannot be told apart; write one differently`);
	return code;
}

/** 53 bits of a text, from two running products of 32 bits that are mixed at the end. */
function hash(text: string): number {
	let a = 0xdeadbeef;
	let b = 0x41c6ce57;
	for (let i = 0; i < text.length; i++) {
		const unit = text.charCodeAt(i);
		a = Math.imul(a ^ unit, 2654435761);
		b = Math.imul(b ^ unit, 1597334677);
	}
	a = Math.imul(a ^ (a >>> 16), 2246822507) ^ Math.imul(b ^ (b >>> 13), 3266489909);
	b = Math.imul(b ^ (b >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
	return (b & 0x1fffff) * 0x1_0000_0000 + (a >>> 0);
}
