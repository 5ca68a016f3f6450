/** Typed cells put into a calculated plan, and into the series that it was made from. */
import type { Period } from '../calendar/calendar';
import type { TouchedLine } from '../engine/calculation';
import type { TypedCell } from '../inputs/cell';
import { columnNumber } from '../blocks/schedule/columns';
import type { ColumnValue } from '../blocks/schedule/schema';
import { withValues, type Run, type Series } from '../inputs/series';
import type { Plan } from './plan';

/** Where a cell stands in the calculation; `t` is an index on the axis. */
interface Place {
	line: string;
	row: number;
	t: number;
}

/** Null where nothing can be typed: what is unknown, closed, a group, or computed. */
function placeOf({ calculation, blocks }: Plan, { block, line, row, period }: TypedCell): Place | null {
	const own = blocks.get(block);
	if (!own) return null;
	const code = own.typedLine(line);
	if (!calculation.has(block, code)) return null;
	const axis = calculation.axisOf(block);
	const t = period - axis.first;
	if (t < axis.open || t >= axis.length) return null;
	const at = own.rowAt(row);
	return at >= 0 && calculation.isInput(block, code, at, period) ? { line: code, row: at, t } : null;
}

/** A value of a column of a schedule's row, which says not where the row stands. */
export interface TypedValue {
	schedule: string;
	row: string;
	column: string;
	value: ColumnValue | null;
}
/** A value as a cell of the calculation. */
function valueAt(
	{ calculation, blocks, schedules }: Plan,
	{ schedule, row, column, value }: TypedValue
): (Place & { value: number | null }) | null {
	const own = schedules.get(schedule)?.definition.columns.find((c) => c.code === column);
	const at = blocks.get(schedule)?.rowAt(row) ?? -1;
	if (!own || own.formula !== undefined || at < 0 || !calculation.has(schedule, column)) return null;
	return { line: column, row: at, t: 0, value: columnNumber(own.kind, value ?? undefined) };
}

/** Where what is typed stands, in the same order; null for what has no place. */
const placesOf = (plan: Plan, cells: readonly TypedCell[], values: readonly TypedValue[]) => [
	...cells.map((cell) => {
		const at = placeOf(plan, cell);
		return at && { block: cell.block, at, value: cell.value };
	}),
	...values.map((own) => {
		const at = valueAt(plan, own);
		return at && { block: own.schedule, at: at as Place, value: at.value };
	})
];

/**
 * Types cells, and values of rows, into a plan and calculates what depends on them: the same figures, to the bit, as of a
 * plan made anew.
 * @param most does not where that would take longer, in nanoseconds at the worst
 * @returns false when one of them has no place, or it takes too long; nothing is changed then
 */
export function typeInto(
	plan: Plan,
	cells: readonly TypedCell[],
	values: readonly TypedValue[] = [],
	most = Infinity
): boolean {
	const typed = placesOf(plan, cells, values);
	if (!typed.every((own) => own !== null)) return false;
	const before = typed.map((own) => ({ ...own, value: typedAt(plan, own.block, own.at) }));
	for (const { block, at, value } of typed) put(plan, block, at, value);
	if (plan.calculation.costOfChanges <= most) {
		plan.calculation.recalculate();
		return true;
	}
	putBack(plan, before);
	return false;
}

/** Inputs as they were when all was calculated last: nothing is left to be calculated. */
function putBack(plan: Plan, before: { block: string; at: Place; value: number | null }[]): void {
	for (const { block, at, value } of before.reverse()) put(plan, block, at, value);
	plan.calculation.unchanged();
}

function put({ inputs, calculation }: Plan, block: string, at: Place, value: number | null): void {
	inputs.setInput(calculation, block, at.line, at.row, at.t, value);
}

function typedAt({ inputs, calculation }: Plan, block: string, { line, row, t }: Place): number | null {
	const under = inputs.typed(block, line, row, t);
	const cell =
		under === undefined ? calculation.cell(block, line, row, calculation.axisOf(block).first + t) : under;
	return typeof cell === 'number' ? cell : null;
}

/**
 * Answers a question about the plan as it would be with these cells, and values of rows, typed, and leaves it as it was.
 * What has no place changes nothing.
 * @param question is told the lines of the calculation that may hold other values
 * @param most is not tried where it would take longer, in nanoseconds at the worst
 * @returns null where it is not tried
 */
export function tryTyped<T>(
	plan: Plan,
	{ cells, values = [] }: { cells: readonly TypedCell[]; values?: readonly TypedValue[] },
	question: (touched: ReadonlySet<TouchedLine>) => T,
	most = Infinity
): T | null {
	const tried = placesOf(plan, cells, values).filter((own) => own !== null);
	const was = tried.map((own) => ({ ...own, value: typedAt(plan, own.block, own.at) }));
	for (const { block, at, value } of tried) put(plan, block, at, value);
	if (plan.calculation.costOfChanges > most) {
		putBack(plan, was);
		return null;
	}
	try {
		return question(plan.calculation.recalculate());
	} finally {
		for (const { block, at, value } of was.reverse()) put(plan, block, at, value);
		plan.calculation.recalculate();
	}
}

const keyOf = (s: { block: string; line: string; row: string }) => `${s.block}\u0000${s.line}\u0000${s.row}`;

/** Stored series with these cells typed; what is wholly blank is stored no more. */
export function seriesWith(series: readonly Series[], cells: readonly TypedCell[]): Series[] {
	const typed = new Map<string, { at: Omit<Series, keyof Run>; values: Map<Period, number | null> }>();
	for (const { block, line, row, period, value } of cells) {
		const key = keyOf({ block, line, row });
		const own = typed.get(key) ?? { at: { block, line, row }, values: new Map() };
		typed.set(key, own);
		own.values.set(period, value);
	}
	const [others, before] = [[] as Series[], new Map<string, Series>()];
	for (const s of series) {
		if (typed.has(keyOf(s))) before.set(keyOf(s), s);
		else others.push(s);
	}
	const now = [...typed].flatMap(([key, { at, values }]): Series[] => {
		const run = withValues(before.get(key) ?? null, values);
		return run ? [{ ...at, ...run }] : [];
	});
	return [...others, ...now];
}
