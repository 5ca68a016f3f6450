/** A scenario under adjustments, worked live: what each does, what value reaches a goal, what moves a result most. */
import { periodsOf, type Span } from '../calendar/spans';
import { overTime } from '../statements/statement';
import { ACCOUNTS_BLOCK } from '../engine/spec';
import { totalsOf } from '../statements/totals';
import { bridge, successiveEffects, type BridgeStep } from './bridge';
import { axisCovering } from '../engine/axis';
import { carried } from '../engine/carried';
import { rollUp } from '../engine/rollup';
import { cellAt, ERROR_TEXT, MIXED, type Cell } from '../engine/values';
import { goalSeek, type GoalResult } from './goal-seek';
import { monteCarlo, type Ranges } from './monte-carlo';
import type { Distribution } from './random';
import { sensitivity } from './sensitivity';
import type { Adjustment, AdjustmentStep } from '../inputs/adjust';
import { adjustableAs } from '../blocks/schedule/adjust-column';
import { calculateScenario } from '../scenario/assemble';
import { companyCalendar } from '../scenario/calendar';
import { Driver, type DriverScope } from './driver';
import { rollupLines } from '../views/model-view';
import { unpackScenario, type ScenarioPackage } from '../scenario/package';
import { moneyView, ratesIn, type MoneyView } from '../currency/view';
import { currenciesIn } from '../scenario/mixed';
import type { Plan } from '../scenario/plan';
import type { ScenarioData } from '../scenario/data';
import type { Structure } from '../company/structure';

/** One figure: an account of a department and all under it, or a line of a driver model over all its rows. */
export type Measure =
	/** In the department's own currency where nothing is said, or the reporting one where there are several. */
	| { kind: 'account'; account: string; department: string; money?: MoneyView }
	| { kind: 'line'; model: string; line: string };

export interface MeasureEffect {
	without: Cell;
	with: Cell;
	/** What each adjustment does after those before it, in their order; 0 for one that is off. */
	effects: number[];
}

export interface Uncertain {
	driver: DriverScope;
	/** Of the factor that all of the driver's inputs are multiplied by. */
	distribution: Distribution;
}

export class WhatIf {
	private readonly structure: Structure;
	private data: ScenarioData;
	private plan: Plan;

	/** @throws ModelError for a scenario that cannot be calculated */
	constructor(parcel: ScenarioPackage) {
		const { structure, data } = unpackScenario(parcel);
		this.structure = structure;
		this.data = data;
		this.plan = calculateScenario(structure, data);
	}

	/**
	 * Puts adjustments in the place of those there are.
	 * @throws ModelError for one that changes what is computed, or is not there; the former stand then
	 */
	adjust(adjustments: readonly Adjustment[]): void {
		if (!this.plan.inputs.use(this.plan.calculation, adjustments)) {
			const data = { ...this.data, adjustments };
			this.plan = calculateScenario(this.structure, data);
			this.data = data;
			return;
		}
		this.data = { ...this.data, adjustments };
		this.plan.calculation.recalculate();
	}

	/** What is calculated now, with the adjustments it is worked with. */
	get current(): { structure: Structure; data: ScenarioData } {
		return { structure: this.structure, data: this.data };
	}

	/** Each measure without and with the adjustments that are on, and what each of them does. */
	effects(measures: readonly Measure[], span: Span): MeasureEffect[] {
		const all = this.data.adjustments ?? [];
		const stages = [this.measured(all.map(off), measures, span)];
		all.forEach((a, i) => {
			const before = stages.at(-1)!;
			stages.push(
				a.on
					? this.measured(
							all.map((x, j) => (j <= i ? x : off(x))),
							measures,
							span
						)
					: before
			);
		});
		this.adjust(all);
		return measures.map((_, m) => ({
			without: stages[0][m],
			with: stages.at(-1)![m],
			effects: all.map((_, i) => number(stages[i + 1][m]) - number(stages[i][m]))
		}));
	}

	/** The steps from the result without adjustments to the one with those that are on. */
	bridge(measure: Measure, span: Span): { start: number; steps: BridgeStep[]; end: number } {
		const all = this.data.adjustments ?? [];
		const on = all.filter((a) => a.on);
		const at = (n: number) =>
			number(this.measured([...on.slice(0, n), ...on.slice(n).map(off)], [measure], span)[0]);
		const effects = successiveEffects(
			on.map((a) => a.name),
			at
		);
		const [start, end] = [at(0), at(on.length)];
		this.adjust(all);
		return { start, steps: bridge(start, effects, end, 'Rounding'), end };
	}

	/**
	 * Which value of an adjustment's step brings a measure to a goal. The adjustment counts as switched on; nothing is
	 * changed.
	 */
	seek(code: string, step: number, measure: Measure, span: Span, goal: number): GoalResult {
		const all = this.data.adjustments ?? [];
		const own = all.find((a) => a.code === code)?.steps[step];
		if (!own || own.operation === 'shift' || typeof own.value !== 'number')
			return { found: false, reason: 'no-effect', input: 0, result: NaN, evaluations: 0 };
		const withValue = (value: number) =>
			all.map((a) =>
				a.code === code
					? {
							...a,
							on: true,
							steps: a.steps.map((s, i) => (i === step ? ({ ...s, value } as AdjustmentStep) : s))
						}
					: a
			);
		const result = goalSeek((value) => number(this.measured(withValue(value), [measure], span)[0]), goal, {
			start: own.value,
			tolerance: 0.005
		});
		this.adjust(all);
		return result;
	}

	/** How far a measure goes when each driver alone is a share lower or higher, the farthest first. */
	tornado(drivers: readonly DriverScope[], share: number, measure: Measure, span: Span) {
		const moved = drivers.map((d) => new Driver(this.plan, d));
		const answer = sensitivity(
			drivers.map(() => ({ low: 1 - share, high: 1 + share })),
			(move) => {
				if (move) moved[move.driver].move('multiply', move.value);
				const result = number(this.measure(measure, span));
				if (move) moved[move.driver].restore();
				return result;
			}
		);
		this.plan.calculation.recalculate();
		return answer;
	}

	/**
	 * The range of a measure month by month, and over the window last, when drivers are uncertain.
	 * @param told hears how many trials are done
	 */
	ranges(
		uncertain: readonly Uncertain[],
		measure: Measure,
		span: Span,
		{ trials, seed }: { trials: number; seed: number },
		told: (done: number) => void = () => {}
	): Ranges {
		const moved = uncertain.map((u) => new Driver(this.plan, u.driver));
		const spans = [...periodsOf(span), span];
		const only = this.leadingTo(measure);
		let done = 0;
		try {
			return monteCarlo(
				uncertain.map((u) => u.distribution),
				spans.length,
				(drawn) => {
					moved.forEach((d, i) => d.move('multiply', drawn[i]));
					this.plan.calculation.recalculate(only);
					told(++done);
					return measureOver(this.plan, measure, spans).map(number);
				},
				{ trials, seed, percentiles: [5, 25, 50, 75, 95] }
			);
		} finally {
			for (const d of moved) d.restore();
			this.plan.calculation.recalculate();
		}
	}

	/** Typed lines of models, and amounts in columns of schedules, that may be moved. */
	drivers(): { block: string; line: string; name: string }[] {
		const { models, schedules } = this.plan;
		const named = (of: { code: string; name: string }) => (own: { code: string; label: string }) => ({
			block: of.code,
			line: own.code,
			name: `${of.name}: ${own.label}`
		});
		return [
			...[...models.values()].flatMap(({ definition }) =>
				definition.lines.filter((l) => l.formula === undefined && !l.scoped?.length).map(named(definition))
			),
			...[...schedules.values()].flatMap(({ definition }) =>
				definition.columns.filter((c) => adjustableAs(c) === 'number').map(named(definition))
			)
		];
	}

	private measured(adjustments: readonly Adjustment[], measures: readonly Measure[], span: Span): Cell[] {
		this.plan.inputs.use(this.plan.calculation, adjustments);
		this.plan.calculation.recalculate();
		return measures.map((m) => measureOver(this.plan, m, [span])[0]);
	}

	/** What has to be calculated to have a measure. */
	private leadingTo(measure: Measure) {
		const { calculation, structure } = this.plan;
		const lines =
			measure.kind === 'account'
				? structure.accounts.leaves(measure.account).map((a) => ({ block: ACCOUNTS_BLOCK, code: a.code }))
				: // Its totals may be made of any of the others.
					(this.plan.models.get(measure.model)?.definition.lines ?? []).map((l) => ({
						block: measure.model,
						code: l.code
					}));
		return calculation.leadingTo(lines.filter((l) => calculation.has(l.block, l.code)));
	}

	private measure(measure: Measure, span: Span): Cell {
		this.plan.calculation.recalculate();
		return measureOver(this.plan, measure, [span])[0];
	}
}

/** One figure of a calculated plan; NaN for an error. */
export const measured = (plan: Plan, measure: Measure, span: Span): number =>
	number(measureOver(plan, measure, [span])[0]);

function measureOver(plan: Plan, measure: Measure, spans: readonly Span[]): Cell[] {
	if (measure.kind === 'line') return spans.map((s) => lineTotal(plan, measure.model, measure.line, s));
	const { account, department } = measure;
	if (!plan.structure.accounts.get(account)) return spans.map(() => null);
	const money = moneyView(plan.structure, department, measure.money ?? null);
	const own = totalsOf(plan, companyOf(plan), ratesIn(plan, money)).of(account, department);
	return spans.map(({ from, to }) => overTime(own, from, to));
}

/** In whose periods spans are named, also where the plan’s later years are coarser. */
const companyOf = (plan: Plan) => companyCalendar(plan.structure.calendar);

const off = (a: Adjustment): Adjustment => ({ ...a, on: false });
/** Nothing counts as 0 in a difference; an error is no number. */
const number = (cell: Cell): number => (typeof cell === 'string' ? NaN : (cell ?? 0));

/** A line over all of its rows and a span, rolled up in its own way. */
function lineTotal(plan: Plan, model: string, line: string, { from, to }: Span): Cell {
	const own = plan.models.get(model);
	if (!own || !plan.calculation.has(model, line)) return null;
	const axis = axisCovering(companyOf(plan), plan.calculation.axis);
	const rows = new Int32Array(plan.calculation.block(model).rows.length);
	const periods = Int32Array.from({ length: axis.length }, (_, t) =>
		axis.first + t >= from && axis.first + t <= to ? 0 : -1
	);
	const rolled = rollUp((l) => carried(plan.calculation, model, l, axis), rollupLines(own.definition), {
		rows,
		groups: 1,
		periods,
		buckets: 1
	});
	const all = [...rows.keys()];
	return currenciesIn(plan, model)(line, all) ? ERROR_TEXT[MIXED] : cellAt(rolled.get(line)!, 0, 0);
}
