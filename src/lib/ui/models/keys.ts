/** Names of a driver model's typed cells: a line, and a row of the model. */
const AT = '@';

export const cellKey = (line: string, row: string) => `${line}${AT}${row}`;
export function cellPlace(key: string): { line: string; row: string } {
	const at = key.indexOf(AT);
	return { line: key.slice(0, at), row: key.slice(at + AT.length) };
}
