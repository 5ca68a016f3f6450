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
