/**
 * Coordinates of a schedule's rows. A row is one place of a dimension that is called as the schedule is; members and rows
 * of other schedules that it names are coordinates too, so that what is kept by them can be looked up.
 */
import type { ScheduleColumn, ScenarioSchedule, ScheduleDefinition, ScheduleRow } from './schema';
import { departmentColumn } from './schema';

export interface ScheduleShape {
	dimensions: string[];
	rows: string[][];
}

/** Columns that are coordinates, one a dimension. */
function looked({ code, columns }: ScheduleDefinition): { dimension: string; column: ScheduleColumn }[] {
	const found = new Map<string, ScheduleColumn>();
	for (const column of columns) {
		const dimension =
			column.kind === 'member' ? column.dimension : column.kind === 'row' ? column.schedule : undefined;
		if (dimension && dimension !== code && !found.has(dimension)) found.set(dimension, column);
	}
	return [...found].map(([dimension, column]) => ({ dimension, column }));
}

/** The column by whose members an attribute is read. */
export const columnOfAttribute = (
	definition: ScheduleDefinition,
	attribute: string
): ScheduleColumn | undefined =>
	looked(definition).find((l) => l.column.kind === 'member' && l.dimension === attribute.split('.')[0])
		?.column;

export const dimensionsOf = (definition: ScheduleDefinition): string[] => [
	definition.code,
	...looked(definition).map((l) => l.dimension)
];

/** A column's value where it is a code; empty where it is blank. */
export const codeIn = ({ values }: ScheduleRow, column: string): string => {
	const value = values[column];
	return typeof value === 'string' ? value : '';
};

/** Rows as they are. */
export function rowsShape({ definition, rows }: ScenarioSchedule): ScheduleShape {
	const columns = looked(definition).map((l) => l.column.code);
	return {
		dimensions: dimensionsOf(definition),
		rows: rows.map((row) => [row.id, ...columns.map((c) => codeIn(row, c))])
	};
}

/** Departments of a row, its own first. */
export function departmentsOf(definition: ScheduleDefinition, row: ScheduleRow): string[] {
	const column = departmentColumn(definition);
	if (!column) return [];
	const own = codeIn(row, column.code);
	return [...new Set([own, ...(definition.divided ? (row.shares ?? []) : [])])].filter((d) => d !== '');
}

/** Rows by department: one for each that a row is divided over. */
export function sharesShape(schedule: ScenarioSchedule): ScheduleShape & {
	/** For each the place of its row in the schedule. */
	of: number[];
} {
	const { definition, rows } = schedule;
	const whole = rowsShape(schedule);
	const shape = {
		dimensions: [...whole.dimensions, 'department'],
		rows: [] as string[][],
		of: [] as number[]
	};
	rows.forEach((row, r) => {
		for (const department of departmentsOf(definition, row)) {
			shape.rows.push([...whole.rows[r], department]);
			shape.of.push(r);
		}
	});
	return shape;
}
