/** Why did it change: a result's difference between two scenarios, attributed to the drivers that differ. */
import { attribute, type Attribution } from '../analysis/attribution';
import type { Axis } from '../engine/axis';
import { rowKey } from '../engine/row-key';
import { NUMBER, type Matrix } from '../engine/values';
import { RATE_KINDS } from '../currency/rates';
import type { Series } from '../inputs/series';
import { calculateScenario } from '../scenario/assemble';
import type { Plan } from '../scenario/plan';
import type { ScenarioData } from '../scenario/data';
import type { Structure } from '../company/structure';

/** A line of typed inputs, by which differing inputs are grouped; null is everything else: formulas, bases, actuals, rates. */
export type DriverGroup = { block: string; line: string } | null;

export interface WhyItChanged extends Attribution {
	/** One an effect. */
	groups: DriverGroup[];
}

/**
 * Attributes result(A) − result(B). Inputs are switched line by line; formulas, bases, postings and what is closed
 * form one group of their own where they differ.
 * @param result reads the figure from a calculated plan
 */
export function whyItChanged(
	structure: Structure,
	a: ScenarioData,
	b: ScenarioData,
	result: (plan: Plan) => number
): WhyItChanged {
	// Lines that only one of the two has typed are there, blank, in both, so that they can be switched.
	const planA = calculateScenario(structure, { ...a, series: withLinesOf(a.series, b.series) });
	const planB = calculateScenario(structure, { ...b, series: withLinesOf(b.series, a.series) });
	const lines = typedLines(a, b);
	const differing = lines.filter((l) => !sameInputs(planA, planB, l));
	const frame = differentFrame(a, b);
	const groups: DriverGroup[] = [...(frame ? [null] : []), ...differing];
	const state = new Map<Plan, boolean[]>([
		[planA, differing.map(() => true)],
		[planB, differing.map(() => false)]
	]);
	const evaluate = (switched: readonly boolean[]): number => {
		const plan = frame && switched[0] ? planA : planB;
		const wanted = frame ? switched.slice(1) : switched;
		const now = state.get(plan)!;
		wanted.forEach((fromA, i) => {
			if (now[i] === fromA) return;
			copyInputs(originals(fromA ? planA : planB), plan, differing[i]);
			now[i] = fromA;
		});
		plan.calculation.recalculate();
		return result(plan);
	};
	// Inputs are copied from how they were, not from how a plan stands in the midst of switching.
	const kept = new Map<Plan, Map<string, Kept>>(
		[planA, planB].map((plan) => [
			plan,
			new Map(differing.map((l) => [`${l.block}.${l.line}`, keep(plan, l)]))
		])
	);
	const originals = (plan: Plan) => kept.get(plan)!;
	return { groups, ...attribute(groups.length, evaluate, { pivot: frame ? 0 : null }) };
}

type InputLine = { block: string; line: string };
type Kept = Pick<Matrix, 'values' | 'marks' | 'rows'> & { axis: Axis };

/** Where in the calculation a line's typed values stand. */
const inCalculation = ({ blocks }: Plan, { block, line }: InputLine): [string, string] => [
	block,
	blocks.get(block)?.typedLine(line) ?? line
];

function withLinesOf(own: readonly Series[], other: readonly Series[]): Series[] {
	const key = (s: Series) => `${s.block}.${s.line}.${s.row}`;
	const have = new Set(own.map(key));
	const blank = other
		.filter((s) => !have.has(key(s)))
		.map((s) => ({ ...s, values: s.values.map(() => NaN) }));
	return [...own, ...blank];
}

function typedLines(a: ScenarioData, b: ScenarioData): InputLine[] {
	const found = new Map<string, InputLine>();
	for (const { block, line } of [...b.series, ...a.series]) found.set(`${block}.${line}`, { block, line });
	return [...found.values()];
}

function keep(plan: Plan, line: InputLine): Kept {
	const { values, marks, rows } = plan.calculation.matrix(...inCalculation(plan, line));
	const axis = plan.calculation.axisOf(line.block);
	return { values: values.slice(), marks: marks?.slice() ?? null, rows, axis };
}

function sameInputs(a: Plan, b: Plan, line: InputLine): boolean {
	const [block, code] = inCalculation(a, line);
	if (!a.calculation.has(block, code) || !b.calculation.has(block, code)) return true;
	// Rows of schedules are a scenario's own: where they are others, no row stands for one of the other scenario.
	if (!sameRows(a, b, block)) return true;
	const rows = a.calculation.block(block).rows.length;
	// Only periods that both have can be switched; those of two calendars are not the same.
	if (a.blocks.get(block)?.calendar !== b.blocks.get(block)?.calendar) return true;
	const [x, y] = [a, b].map((plan) => plan.calculation.axisOf(block));
	const from = Math.max(x.first, y.first);
	const to = Math.min(x.first + x.length, y.first + y.length);
	for (let p = from; p < to; p++)
		for (let r = 0; r < rows; r++)
			if (a.calculation.cell(block, code, r, p) !== b.calculation.cell(block, code, r, p)) return false;
	return true;
}

const sameRows = (a: Plan, b: Plan, block: string): boolean => {
	const [x, y] = [a, b].map((plan) => plan.calculation.block(block).rows);
	return x.length === y.length && x.every((row, r) => rowKey(row) === rowKey(y[r]));
};

function copyInputs(from: ReadonlyMap<string, Kept>, to: Plan, line: InputLine): void {
	const { calculation } = to;
	const source = from.get(`${line.block}.${line.line}`)!;
	const [block, code] = inCalculation(to, line);
	const axis = calculation.axisOf(block);
	calculation.changeInputs(block, code, { from: 0, lo: 0, hi: source.rows }, (matrix) => {
		const marks = (matrix.marks ??= new Uint8Array(matrix.values.length));
		for (let t = 0; t < axis.length; t++) {
			const s = t + axis.first - source.axis.first;
			// Months that the other scenario has not got stay as they are: they differ by the frame.
			if (s < 0 || s >= source.axis.length) continue;
			for (let r = 0; r < source.rows; r++) {
				const [i, j] = [t * source.rows + r, s * source.rows + r];
				matrix.values[i] = source.values[j];
				marks[i] = source.marks?.[j] ?? NUMBER;
			}
		}
	});
}

/** Whether something but typed inputs differs. */
function differentFrame(a: ScenarioData, b: ScenarioData): boolean {
	const frame = ({ scenario, models, schedules = [], bases, adjustments, rates = [] }: ScenarioData) =>
		JSON.stringify([
			scenario.first,
			scenario.last,
			scenario.laterYears ?? null,
			scenario.actualsThrough,
			scenario.follows,
			models.map((m) => m.definition),
			schedules,
			bases,
			adjustments?.filter((x) => x.on) ?? [],
			rates.map((r) => [
				r.currency,
				...RATE_KINDS.map((kind) => r[kind] && [r[kind].first, ...r[kind].values])
			])
		]);
	return frame(a) !== frame(b);
}
