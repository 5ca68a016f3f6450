/** Rows of a schedule by department, as they stand in the calculation of a plan. */
import { sharesCode, type ScenarioSchedule } from '../blocks/schedule/schema';
import type { Plan } from '../scenario/plan';

export interface SharesIn {
	/** The department of each place. */
	departments: readonly string[];
	/** For each place that of its row in the schedule. */
	of: Int32Array;
	/** Places of a row that count. */
	ofRow(row: number): number[];
	/** Places of these rows that count. */
	ofRows(rows: readonly number[]): number[];
}

/**
 * @param schedule its rows are those that the plan was made with, whatever has been changed in them
 * @param within the department in which, or under which, a place counts; null for all
 */
export function sharesIn(
	{ blocks, structure }: Plan,
	{ definition, rows }: ScenarioSchedule,
	within: string | null = null
): SharesIn {
	const places = blocks.get(sharesCode(definition.code))?.rows ?? [];
	const departments = places.map((place) => place.at(-1)!);
	const of = new Int32Array(places.length);
	/** Where the places of each row begin; they follow their rows, in the same order. */
	const starts = new Int32Array(rows.length + 1);
	let place = 0;
	rows.forEach(({ id }, row) => {
		starts[row] = place;
		while (place < places.length && places[place][0] === id) of[place++] = row;
	});
	starts[rows.length] = place;
	const inside = new Set(
		[...new Set(departments)].filter((d) => within === null || structure.departments.within(d, within))
	);
	const put = (row: number, into: number[]): number[] => {
		for (let p = starts[row]; p < starts[row + 1]; p++) if (inside.has(departments[p])) into.push(p);
		return into;
	};
	return {
		departments,
		of,
		ofRow: (row) => put(row, []),
		ofRows(list) {
			const into: number[] = [];
			for (const row of list) put(row, into);
			return into;
		}
	};
}
