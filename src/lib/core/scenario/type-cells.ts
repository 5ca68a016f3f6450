/** Typed cells put into a calculated plan, and into the series that it was made from. */
import type { Period } from '../calendar/calendar';
import type { TouchedLine } from '../engine/calculation';
import type { TypedCell } from '../inputs/cell';
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

/**
 * Types cells into a plan and calculates what depends on them: the same figures, to the bit, as of a plan made anew.
 * @returns false when one of them has no place; nothing is changed then
 */
export function typeInto(plan: Plan, cells: readonly TypedCell[]): boolean {
	const places = cells.map((cell) => placeOf(plan, cell));
	if (places.includes(null)) return false;
	places.forEach((at, i) => put(plan, cells[i].block, at!, cells[i].value));
	plan.calculation.recalculate();
	return true;
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
 * Answers a question about the plan as it would be with these cells typed, and leaves it as it was.
 * Cells without a place change nothing.
 * @param question is told the lines of the calculation that may hold other values
 */
export function tryTyped<T>(
	plan: Plan,
	cells: readonly TypedCell[],
	question: (touched: ReadonlySet<TouchedLine>) => T
): T {
	const tried = cells.flatMap(({ block, value, ...cell }) => {
		const at = placeOf(plan, { block, value, ...cell });
		return at ? [{ block, at, value, was: typedAt(plan, block, at) }] : [];
	});
	try {
		for (const { block, at, value } of tried) put(plan, block, at, value);
		return question(plan.calculation.recalculate());
	} finally {
		for (const { block, at, was } of tried.reverse()) put(plan, block, at, was);
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
