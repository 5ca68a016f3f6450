/** Why did it change: a result's difference between two scenarios, attributed to the drivers that differ. */
import { attribute, type Attribution } from '../analysis/attribution';
import { PLACING } from '../blocks/schedule/personal';
import { DIVIDED, rowValue } from '../blocks/schedule/row-changes';
import { sharesCode, type ScenarioSchedule } from '../blocks/schedule/schema';
import type { Axis } from '../engine/axis';
import { cellAt, NUMBER, type Matrix } from '../engine/values';
import { RATE_KINDS } from '../currency/rates';
import type { Series } from '../inputs/series';
import { calculateScenario } from '../scenario/assemble';
import type { Plan } from '../scenario/plan';
import type { ScenarioData } from '../scenario/data';
import type { Structure } from '../company/structure';

/**
 * By what differing inputs are grouped: a line that is typed or a column of a schedule; the rows that a schedule has, and
 * where they stand; null is everything else: formulas, bases, actuals, rates.
 */
export type DriverGroup = { block: string; line: string } | { block: string; rows: true } | null;

export interface WhyItChanged extends Attribution {
	/** One an effect. */
	groups: DriverGroup[];
	/** What these are called, each with its block where one line alone does not say enough; empty for everything else. */
	names: string[];
}

/** Beyond so many schedules with other rows, these are part of everything else: each doubles the plans that are made. */
const MOST_WITH_OTHER_ROWS = 3;

/**
 * Attributes result(A) − result(B). Inputs are switched line by line and column by column, rows of a schedule together;
 * formulas, bases, postings and what is closed form one group of their own where they differ.
 * @param result reads the figure from a calculated plan
 */
export function whyItChanged(
	structure: Structure,
	a: ScenarioData,
	b: ScenarioData,
	result: (plan: Plan) => number
): WhyItChanged {
	const alike = schedulesOfBoth(a, b);
	const withOtherRows = alike.filter(([x, y]) => !sameRows(x, y)).map(([x]) => x.definition.code);
	const rowGroups = withOtherRows.length > MOST_WITH_OTHER_ROWS ? [] : withOtherRows;
	/** Rows that are no group of their own count with the frame. */
	const apart = new Set(withOtherRows.length > MOST_WITH_OTHER_ROWS ? withOtherRows : []);
	const made = new Map<string, Made>();
	const make = (frameOfA: boolean, rowsOfA: readonly boolean[]): Made => {
		const key = [frameOfA, ...rowsOfA].map(Number).join('');
		let own = made.get(key);
		if (!own) {
			const [data, other] = frameOfA ? [a, b] : [b, a];
			const schedules = data.schedules?.map((s) => {
				const n = rowGroups.indexOf(s.definition.code);
				const from = n < 0 ? data : rowsOfA[n] ? a : b;
				return from.schedules!.find((x) => x.definition.code === s.definition.code)!;
			});
			const series = withLinesOf(data, other);
			const plan = calculateScenario(structure, { ...data, ...(schedules ? { schedules } : {}), series });
			made.set(key, (own = { plan, state: null }));
		}
		return own;
	};
	const [planA, planB] = [true, false].map(
		(all) =>
			make(
				all,
				rowGroups.map(() => all)
			).plan
	);
	const lines = [...typedLines(a, b), ...columnsOf(alike, apart)].filter((l) => comparable(planA, planB, l));
	const differing = lines.filter((l) => !sameInputs(planA, planB, l));
	const frame = apart.size > 0 || differentFrame([a, planA], [b, planB], new Set(alike.map(codeOf)));
	const groups: DriverGroup[] = [
		...(frame ? [null] : []),
		...rowGroups.map((block) => ({ block, rows: true as const })),
		...differing
	];
	/** In plans that are neither of the two, rows that only one has hold what they hold there. */
	const alone = lines.filter(({ block }) => rowGroups.some((s) => block === s || block === sharesCode(s)));
	const kept = new Map(
		[planA, planB].map((plan) => [
			plan,
			new Map([...differing, ...alone].map((l) => [keyOf(l), keep(plan, l)] as const))
		])
	);
	const evaluate = (switched: readonly boolean[]): number => {
		const head = frame ? 1 : 0;
		const rowsOfA = switched.slice(head, head + rowGroups.length);
		const wanted = switched.slice(head + rowGroups.length);
		const own = make(frame && switched[0], rowsOfA);
		const { plan } = own;
		if (own.state === null && plan !== planA && plan !== planB)
			for (const line of alone) {
				const [inA, inB] = [planA, planB].map((of) => (id: string) => has(of, line.block, id));
				// What both hold alike they hold here too, whatever adjustments would make of rows that both have a part of.
				const own = differing.includes(line) ? (id: string) => !inB(id) : inA;
				copyInputs(kept.get(planA)!.get(keyOf(line))!, plan, line, own);
				copyInputs(kept.get(planB)!.get(keyOf(line))!, plan, line, (id) => !inA(id));
			}
		// A plan of its own begins with nothing that could be relied on.
		own.state ??= differing.map(() => (plan === planA ? true : plan === planB ? false : null));
		wanted.forEach((fromA, i) => {
			if (own.state![i] === fromA) return;
			const line = differing[i];
			const both = (id: string) => has(planA, line.block, id) && has(planB, line.block, id);
			copyInputs(kept.get(fromA ? planA : planB)!.get(keyOf(line))!, plan, line, both);
			own.state![i] = fromA;
		});
		plan.calculation.recalculate();
		return result(plan);
	};
	return {
		groups,
		names: groups.map((group) => nameOf(group, planA)),
		...attribute(groups.length, evaluate, { pivot: frame ? 0 : null })
	};
}

/** A plan with some of the rows of one scenario, and which of the differing lines it has from A; null is unknown. */
interface Made {
	plan: Plan;
	state: (boolean | null)[] | null;
}
type InputLine = { block: string; line: string };
/** What a line holds, row by row. */
interface Kept extends Pick<Matrix, 'values' | 'marks' | 'rows' | 'timeless'> {
	axis: Axis;
	/** By what its rows are known. */
	ids: string[];
}
const keyOf = ({ block, line }: InputLine) => `${block}.${line}`;

function nameOf(group: DriverGroup, { blocks }: Plan): string {
	if (group === null) return '';
	const block = blocks.get(group.block);
	if ('rows' in group) return `${block?.name ?? group.block}: new, gone or elsewhere`;
	const label = block?.line(group.line)?.label ?? group.line;
	return block?.told ? `${block.name}: ${label}` : label;
}

/** Where in the calculation a line's typed values stand. */
const inCalculation = ({ blocks }: Plan, { block, line }: InputLine): [string, string] => [
	block,
	blocks.get(block)?.typedLine(line) ?? line
];
const has = ({ blocks }: Plan, block: string, row: string): boolean =>
	(blocks.get(block)?.rowAt(row) ?? -1) >= 0;

/** Schedules that both have in the same form. */
function schedulesOfBoth(a: ScenarioData, b: ScenarioData): [ScenarioSchedule, ScenarioSchedule][] {
	const others = new Map((b.schedules ?? []).map((s) => [s.definition.code, s]));
	return (a.schedules ?? []).flatMap((own): [ScenarioSchedule, ScenarioSchedule][] => {
		const other = others.get(own.definition.code);
		return other && JSON.stringify(own.definition) === JSON.stringify(other.definition) ? [[own, other]] : [];
	});
}
const codeOf = ([{ definition }]: [ScenarioSchedule, ScenarioSchedule]) => definition.code;

/** Whether the rows are the same ones, and stand in the same departments, accounts and members. */
function sameRows({ definition, rows }: ScenarioSchedule, other: ScenarioSchedule): boolean {
	if (rows.length !== other.rows.length) return false;
	const placing = [...definition.columns.filter((c) => PLACING.has(c.kind)).map((c) => c.code), DIVIDED];
	const others = new Map(other.rows.map((row) => [row.id, row]));
	return rows.every((row) => {
		const there = others.get(row.id);
		return there !== undefined && placing.every((c) => rowValue(row, c) === rowValue(there, c));
	});
}

/** Lines that only one of the two has typed are there, blank, in both, so that they can be switched. */
function withLinesOf(own: ScenarioData, other: ScenarioData): Series[] {
	const key = (s: Series) => `${s.block}.${s.line}.${s.row}`;
	const have = new Set(own.series.map(key));
	const blank = other.series
		.filter((s) => !have.has(key(s)))
		.map((s) => ({ ...s, values: s.values.map(() => NaN) }));
	return [...own.series, ...blank];
}

/** Lines that are typed in either, or hold what adjustments put there. */
function typedLines(a: ScenarioData, b: ScenarioData): InputLine[] {
	const found = new Map<string, InputLine>();
	const adjusted = [b, a].flatMap(({ adjustments = [], schedules = [] }) => {
		const columns = new Set(
			schedules.flatMap(({ definition: d }) => d.columns.map((c) => keyOf({ block: d.code, line: c.code })))
		);
		return adjustments
			.flatMap((x) => (x.on ? x.steps : []))
			.flatMap((step) => step.lines.filter((line) => !columns.has(keyOf(line))));
	});
	for (const { block, line } of [...b.series, ...a.series, ...adjusted])
		found.set(`${block}.${line}`, { block, line });
	return [...found.values()];
}

/** Columns of rows that do not say where these stand. */
const columnsOf = (
	alike: readonly [ScenarioSchedule, ScenarioSchedule][],
	apart: ReadonlySet<string>
): InputLine[] =>
	alike.flatMap(([{ definition }]) =>
		apart.has(definition.code)
			? []
			: definition.columns
					.filter((c) => c.formula === undefined && !PLACING.has(c.kind))
					.map((c) => ({ block: definition.code, line: c.code }))
	);

function keep(plan: Plan, line: InputLine): Kept {
	const { values, marks, rows, timeless } = plan.calculation.matrix(...inCalculation(plan, line));
	const block = plan.blocks.get(line.block)!;
	return {
		values: values.slice(),
		marks: marks?.slice() ?? null,
		rows,
		timeless,
		axis: plan.calculation.axisOf(line.block),
		ids: block.rows.map((_, r) => block.idOf(r))
	};
}

/** Whether a line is in both, in the same periods. */
function comparable(a: Plan, b: Plan, line: InputLine): boolean {
	const [block, code] = inCalculation(a, line);
	// Only periods that both have can be switched; those of two calendars are not the same.
	return (
		a.calculation.has(block, code) &&
		b.calculation.has(block, code) &&
		a.blocks.get(block)?.calendar === b.blocks.get(block)?.calendar
	);
}

/** Whether rows that both have hold the same in it. */
function sameInputs(a: Plan, b: Plan, line: InputLine): boolean {
	const [block, code] = inCalculation(a, line);
	const rows = a.blocks.get(block)!.rows.flatMap((_, r) => {
		const there = b.blocks.get(block)!.rowAt(a.blocks.get(block)!.idOf(r));
		return there < 0 ? [] : [[r, there] as const];
	});
	const [ma, mb] = [a, b].map((plan) => plan.calculation.matrix(block, code));
	if (ma.timeless) return rows.every(([r, there]) => cellAt(ma, r, 0) === cellAt(mb, there, 0));
	const [x, y] = [a, b].map((plan) => plan.calculation.axisOf(block));
	const from = Math.max(x.first, y.first);
	const to = Math.min(x.first + x.length, y.first + y.length);
	for (let p = from; p < to; p++)
		for (const [r, there] of rows)
			if (cellAt(ma, r, p - x.first) !== cellAt(mb, there, p - y.first)) return false;
	return true;
}

/** @param of which rows, by what they are known */
function copyInputs(source: Kept, to: Plan, line: InputLine, of: (id: string) => boolean): void {
	const { calculation } = to;
	const [block, code] = inCalculation(to, line);
	const axis = calculation.axisOf(block);
	const rows = source.ids.flatMap((id, from) => {
		const at = of(id) ? to.blocks.get(block)!.rowAt(id) : -1;
		return at < 0 ? [] : [[from, at] as const];
	});
	if (!rows.length) return;
	const places = rows.map(([, at]) => at);
	const span = { lo: Math.min(...places), hi: Math.max(...places) + 1 };
	calculation.changeInputs(block, code, { from: 0, ...span }, (matrix) => {
		const marks = (matrix.marks ??= new Uint8Array(matrix.values.length));
		for (let t = 0; t < (matrix.timeless ? 1 : axis.length); t++) {
			const s = matrix.timeless ? 0 : t + axis.first - source.axis.first;
			// Months that the other scenario has not got stay as they are: they differ by the frame.
			if (s < 0 || s >= source.axis.length) continue;
			for (const [from, at] of rows) {
				const [i, j] = [t * matrix.rows + at, s * source.rows + from];
				matrix.values[i] = source.values[j];
				marks[i] = source.marks?.[j] ?? NUMBER;
			}
		}
	});
}

/** Whether something but typed inputs, columns and rows differs. @param alike schedules that do not */
function differentFrame(
	a: [ScenarioData, Plan],
	b: [ScenarioData, Plan],
	alike: ReadonlySet<string>
): boolean {
	const frame = ([data, { blocks }]: [ScenarioData, Plan]) => {
		const { scenario, models, schedules = [], bases, adjustments = [], rates = [] } = data;
		return JSON.stringify([
			scenario.first,
			scenario.last,
			scenario.laterYears ?? null,
			scenario.actualsThrough,
			scenario.follows,
			models.map((m) => [m.definition, m.rows]),
			schedules.filter((s) => !alike.has(s.definition.code)),
			bases,
			// What they do to a typed line or a column is seen in what that holds.
			adjustments
				.filter((x) => x.on)
				.flatMap((x) => x.steps)
				.flatMap((step) => {
					const lines = step.lines.filter((l) => blocks.get(l.block)?.typedOverAdjusted);
					return lines.length ? [{ ...step, lines }] : [];
				}),
			rates.map((r) => [
				r.currency,
				...RATE_KINDS.map((kind) => r[kind] && [r[kind].first, ...r[kind].values])
			])
		]);
	};
	return frame(a) !== frame(b);
}
