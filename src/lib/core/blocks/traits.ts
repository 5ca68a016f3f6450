/** By what rows of a block are told apart: members that they name, and values that stand in columns of a schedule. */
export interface Trait {
	/** The column. */
	code: string;
	label: string;
	/** What can be asked for, in order; under others where these are totals of it. */
	values(): { code: string; name: string; depth: number }[];
	/** Whether a row holds this value, or one under it. @param row its place */
	holds(row: number, value: string): boolean;
	/** Why nothing can hold it, as a clause; null where something may. */
	fault(value: string): string | null;
}

/** A block's rows, by dimension, and what else tells them apart. */
interface Rows {
	readonly dimensions: readonly string[];
	readonly rows: readonly (readonly string[])[];
	readonly traits: readonly Trait[];
}
type Within = (dimension: string, member: string, under: string) => boolean;

/**
 * For each row whether it is in a scope. A scope that names what the block has not reaches nothing.
 * @param where dimension → member, or column → value; all of them must hold
 */
export function rowsWithin(
	{ dimensions, rows, traits }: Rows,
	where: Readonly<Record<string, string>>,
	within: Within
): boolean[] {
	const tests = Object.entries(where).map(([key, value]) => {
		const trait = traits.find((t) => t.code === key);
		if (trait) return (row: number) => trait.holds(row, value);
		const place = dimensions.indexOf(key);
		return (row: number) => place >= 0 && within(key, rows[row][place], value);
	});
	return rows.map((_, row) => tests.every((test) => test(row)));
}
