/** Names of typed cells in a grid: a line, and a row of its block. */
const AT = '@';

export const cellKey = (line: string, row: string) => `${line}${AT}${row}`;
export function cellPlace(key: string): { line: string; row: string } {
	const at = key.indexOf(AT);
	return { line: key.slice(0, at), row: key.slice(at + AT.length) };
}
