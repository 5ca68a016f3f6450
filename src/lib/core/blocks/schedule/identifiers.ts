/** What rows of a schedule are known by: numbers that go on, or a word and a number. */

interface Numbered {
	stem: string;
	digits: string;
}
const MOST_DIGITS = 12;
function numbered(id: string): Numbered | null {
	const [, stem, digits] = /^(.*?)(\d+)$/.exec(id) ?? [];
	return digits === undefined || digits.length > MOST_DIGITS ? null : { stem, digits };
}

/** The identifier that ends with the highest number; null where none ends with one. */
export function lastNumbered(ids: Iterable<string>): string | null {
	let last: { id: string; number: number } | null = null;
	for (const id of ids) {
		const number = Number(numbered(id)?.digits ?? NaN);
		if (number >= (last?.number ?? -1)) last = { id, number };
	}
	return last?.id ?? null;
}

/**
 * Identifiers of new rows: the next after those that end with a number, else a word and a number.
 * @param taken all that are there; at least the last of them that ends with a number
 */
export function freshIds(taken: Iterable<string>, word: string, count: number): string[] {
	const used = new Set(taken);
	const last = numbered(lastNumbered(used) ?? '') ?? {
		stem: `${word.replaceAll(/[|;/]/g, ' ').trim()}-`,
		digits: '0'
	};
	const found: string[] = [];
	for (let n = Number(last.digits) + 1; found.length < count; n++) {
		const id = `${last.stem}${String(n).padStart(last.digits.length, '0')}`;
		if (!used.has(id)) found.push(id);
	}
	return found;
}
