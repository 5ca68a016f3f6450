/** Rows of a schedule in two scenarios: which are new, gone or different, and in what. */
import { valueFrom } from '../blocks/schedule/adjust-column';
import { shareKey } from '../blocks/schedule/compile';
import { DIVIDED, rowValue } from '../blocks/schedule/row-changes';
import {
	SHARE,
	sharesCode,
	type ColumnValue,
	type ScenarioSchedule,
	type ScheduleRow
} from '../blocks/schedule/schema';
import { rowWords } from '../blocks/schedule/schedule';
import { departmentsOf } from '../blocks/schedule/shape';
import type { Period } from '../calendar/calendar';
import { cellAt, type Cell } from '../engine/values';
import type { Plan } from '../scenario/plan';

/** A value of a column, or typed months of a line. Null is blank. */
export interface RowDifference {
	/** A column, `shares` for the departments over which the row is divided; or a line. */
	in: string;
	/** Of shares that are typed by month: in which department. */
	department?: string;
	/** Of months that are typed: the first that differs, and how many do. The values are those of the first. */
	first?: Period;
	months?: number;
	here: ColumnValue | null;
	there: ColumnValue | null;
}
export interface ComparedRow {
	id: string;
	name: string;
	what: 'new' | 'gone' | 'different';
	/** None for a row that only one of the two has. */
	differences: RowDifference[];
}
export interface ComparedSchedule {
	/** The other scenario. */
	scenario: string;
	name: string;
	/** How many are new, gone and different. */
	counts: Record<ComparedRow['what'], number>;
	rows: ComparedRow[];
	/** The line that is shown, over the whole window and all rows that count: here and there. Blank where it does not add up. */
	line: string;
	totals: { here: Cell; there: Cell };
}

/** A scenario with its rows as far as somebody sees them; what is not in both definitions is not compared. */
export interface ComparedSide {
	plan: Plan;
	schedule: ScenarioSchedule;
}

/** In the order of the rows that are here, then of those that are only there. Values are those under adjustments. */
export function compareRows(here: ComparedSide, there: ComparedSide): ComparedRow[] {
	const others = new Map(there.schedule.rows.map((row) => [row.id, row]));
	const ours = new Set(here.schedule.rows.map((row) => row.id));
	const values = [valuesIn(here), valuesIn(there)];
	const months = monthsOf(here, there);
	const known = new Set(there.schedule.definition.columns.map((c) => c.code));
	const columns = here.schedule.definition.columns
		.filter((c) => c.formula === undefined && known.has(c.code))
		.map((c) => c.code);
	const named = ({ schedule: { definition } }: ComparedSide, row: ScheduleRow) => ({
		id: row.id,
		name: rowWords(definition, row)
	});
	const found = here.schedule.rows.flatMap((row): ComparedRow[] => {
		const other = others.get(row.id);
		if (!other) return [{ ...named(here, row), what: 'new', differences: [] }];
		const [a, b] = [values[0](row), values[1](other)];
		const differences: RowDifference[] = [...columns, DIVIDED].flatMap((column) =>
			a(column) === b(column) ? [] : [{ in: column, here: a(column), there: b(column) }]
		);
		differences.push(...months(row));
		return differences.length ? [{ ...named(here, row), what: 'different', differences }] : [];
	});
	return [
		...found,
		...there.schedule.rows
			.filter((row) => !ours.has(row.id))
			.map((row): ComparedRow => ({ ...named(there, row), what: 'gone', differences: [] }))
	];
}

/** What stands in columns of a row, as adjustments make it. */
function valuesIn({ plan, schedule: { definition } }: ComparedSide) {
	const { code, columns } = definition;
	const block = plan.blocks.get(code)!;
	const adjusted = new Map(
		columns
			.filter((c) => c.formula === undefined && plan.inputs.original(code, c.code) !== null)
			.map((c) => [c.code, c])
	);
	return (row: ScheduleRow) =>
		(column: string): ColumnValue | null => {
			const own = adjusted.get(column);
			if (!own) return rowValue(row, column);
			const cell = cellAt(plan.calculation.matrix(code, column), block.rowAt(row.id), 0);
			return typeof cell === 'number' ? valueFrom(own, cell) : null;
		};
}

/** Typed months of a row in open periods that both have. */
function monthsOf(here: ComparedSide, there: ComparedSide): (row: ScheduleRow) => RowDifference[] {
	const { definition } = here.schedule;
	const both = [here.plan, there.plan];
	const from = Math.max(...both.map((p) => p.open));
	const to = Math.min(...both.map((p) => p.scenario.last));
	const known = new Set(there.schedule.definition.lines.map((l) => l.code));
	const lines = definition.lines
		.filter((l) => l.formula === undefined && known.has(l.code))
		.map((l) => l.code);
	const differing = (block: string, line: string, key: string): RowDifference[] => {
		if (!both.every((p) => p.calculation.has(block, line))) return [];
		const places = both.map((p) => p.blocks.get(block)!.rowAt(key));
		if (places.some((place) => place < 0)) return [];
		const at = (p: Period) =>
			both.map((plan, side) => {
				const cell = plan.calculation.cell(block, line, places[side], p);
				return typeof cell === 'string' ? null : cell;
			});
		let first: Period | null = null;
		let months = 0;
		for (let p = from; p <= to; p++) {
			const [a, b] = at(p);
			if (a === b) continue;
			first ??= p;
			months++;
		}
		if (first === null) return [];
		const [a, b] = at(first);
		return [{ in: line, first, months, here: a, there: b }];
	};
	return (row) => [
		...lines.flatMap((line) => differing(definition.code, line, row.id)),
		...(definition.divided ? departmentsOf(definition, row) : []).flatMap((department) =>
			differing(sharesCode(definition.code), SHARE, shareKey(row.id, department)).map((d) => ({
				...d,
				department
			}))
		)
	];
}
