/** Index arrays that line up the rows of one block with those of another. */
import { rowKey } from './row-key';

export interface Shape {
	dimensions: readonly string[];
	/** Coordinates of each row, in the order of `dimensions`. */
	rows: readonly (readonly string[])[];
}

export function sharedDimensions(a: Shape, b: Shape): string[] {
	return a.dimensions.filter((d) => b.dimensions.includes(d));
}

function project(shape: Shape, dimensions: readonly string[]): string[] {
	const places = dimensions.map((d) => shape.dimensions.indexOf(d));
	return shape.rows.map((row) => rowKey(places.map((p) => row[p])));
}

/** For each row of `target`, the row of `source` to read; −1 where there is none. Source dimensions must all be in target. */
export function gatherIndex(target: Shape, source: Shape): Int32Array {
	const rowOf = new Map(source.rows.map((row, i) => [rowKey(row), i]));
	return Int32Array.from(project(target, source.dimensions), (key) => rowOf.get(key) ?? -1);
}

/** Sums rows away down to some dimensions: the rows that are left, and for each old row its new one. */
export function reduceShape(
	shape: Shape,
	dimensions: readonly string[]
): { shape: Shape; index: Int32Array } {
	const keys = project(shape, dimensions);
	const rowOf = new Map<string, number>();
	const rows: string[][] = [];
	const places = dimensions.map((d) => shape.dimensions.indexOf(d));
	const index = Int32Array.from(keys, (key, i) => {
		let at = rowOf.get(key);
		if (at === undefined) {
			at = rows.length;
			rowOf.set(key, at);
			rows.push(places.map((p) => shape.rows[i][p]));
		}
		return at;
	});
	// A total over no dimension exists even where there is no row to sum.
	if (dimensions.length === 0 && rows.length === 0) rows.push([]);
	return { shape: { dimensions, rows }, index };
}

/** Rows of a shape whose member of a dimension is wanted. */
export function memberRows(shape: Shape, dimension: string, wanted: (member: string) => boolean): number[] {
	const place = shape.dimensions.indexOf(dimension);
	return shape.rows.flatMap((row, i) => (wanted(row[place]) ? [i] : []));
}
