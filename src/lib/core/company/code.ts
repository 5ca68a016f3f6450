/** Codes made from names: small letters and digits, words joined. */

/** Usable in formulas (`hours_a_job`), or anywhere else (`petrel-15`). */
export type Joined = '_' | '-';

/**
 * A code that is not taken yet.
 * @param otherwise what it is when the name has no letter of use
 */
export function codeFor(name: string, joined: Joined, taken: Iterable<string>, otherwise: string): string {
	const words = name
		.toLowerCase()
		.normalize('NFKD')
		// A letter with an accent is that letter.
		.replace(/\p{Mark}/gu, '')
		.split(/[^a-z0-9]+/)
		.filter(Boolean)
		.join(joined)
		.slice(0, 48)
		.replace(/[-_]+$/, '');
	// In formulas a name begins with a letter.
	const base = (joined === '_' ? words.replace(/^[_0-9]+/, '') : words) || otherwise;
	const used = new Set(taken);
	for (let n = 1; ; n++) {
		const code = n === 1 ? base : `${base}${joined}${n}`;
		if (!used.has(code)) return code;
	}
}

/** What no model may be called: these have another meaning in formulas, in addresses, or at the head of a subject in the journal. */
export const RESERVED_CODES: ReadonlySet<string> = new Set([
	'accounts',
	// What planned accounts were called once: folders written then still load.
	'ledger',
	'department',
	'line',
	'row',
	'members',
	'combinations',
	'basis',
	'formula',
	'model',
	'adjustment',
	'note',
	'items',
	'attachment',
	'submission',
	'scenario',
	'last'
]);
