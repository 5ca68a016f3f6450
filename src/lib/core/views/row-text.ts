/** Rows as one text: their names stand in it once, so that it is short, and made and read quickly. */

/** What a row holds; each has the same names. */
type Row = object;

export function rowsToText<T extends Row>(rows: readonly T[]): string {
	const names = rows.length ? (Object.keys(rows[0]) as (keyof T)[]) : [];
	return JSON.stringify([names, ...rows.map((row) => names.map((name) => row[name]))]);
}

export function rowsFromText<T extends Row>(text: string): T[] {
	const [names, ...rows] = JSON.parse(text) as [string[], ...unknown[][]];
	return rows.map((row) => Object.fromEntries(names.map((name, i) => [name, row[i]])) as T);
}
