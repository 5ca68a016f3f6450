/** Plain helpers for forms that are lists of parts. */

/** A list with one entry moved. */
export function moved<T>(list: readonly T[], from: number, to: number): T[] {
	const rest = list.toSpliced(from, 1);
	return rest.toSpliced(to, 0, list[from]);
}

/** An object without one of its entries. */
export function omit<T extends object, K extends keyof T>(object: T, key: K): Omit<T, K> {
	const copy = { ...object };
	delete copy[key];
	return copy;
}
