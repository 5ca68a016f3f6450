/**
 * A number with its separators between thousands; `decimal` is the reader's decimal sign, so that the other of the two
 * parts thousands.
 */
export function digits(n: number, decimal: '.' | ',' = '.'): string {
	return n.toLocaleString(decimal === ',' ? 'de-DE' : 'en-GB');
}

/** "1 row", "2 rows", "1,234 entries": how many, and of what. */
export function counted(n: number, one: string, many = `${one}s`, decimal: '.' | ',' = '.'): string {
	return `${digits(n, decimal)} ${n === 1 ? one : many}`;
}

/** Words that begin with a vowel as they are written and not as they are said. */
const SAID_OTHERWISE = /^(uni|use|usu|eu|one|once)/i;
/** A word with its article: “a lease”, “an asset”. */
export const aOf = (word: string): string =>
	`${/^[aeiou]/i.test(word) && !SAID_OTHERWISE.test(word) ? 'an' : 'a'} ${word}`;
