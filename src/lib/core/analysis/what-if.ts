/** A scenario under adjustments, worked live: what each does, what value reaches a goal, what moves a result most. */
import { periodsOf, type Span } from '../calendar/spans';
import { ACCOUNTS_BLOCK } from '../engine/spec';
import { effectsOf, type MeasureEffect } from './effects';
import { goalSeek, type GoalResult } from './goal-seek';
import { measured, measureOver, number, type Measure } from './measure';
import { monteCarlo, type Ranges } from './monte-carlo';
import type { Distribution } from './random';
import { sensitivity } from './sensitivity';
import type { Adjustment, AdjustmentStep } from '../inputs/adjust';
import { adjustableAs } from '../blocks/schedule/adjust-column';
import { adjustPlan } from '../scenario/adjust-plan';
import { calculateScenario } from '../scenario/assemble';
import { Driver, type DriverScope } from './driver';
import { unpackScenario, type ScenarioPackage } from '../scenario/package';
import type { Plan } from '../scenario/plan';
import type { ScenarioData } from '../scenario/data';
import type { Structure } from '../company/structure';

export interface Uncertain {
	driver: DriverScope;
	/** Of the factor that all of the driver's inputs are multiplied by. */
	distribution: Distribution;
}

export class WhatIf {
	private readonly structure: Structure;
	private data: ScenarioData;
	private plan: Plan;
	/** What is in the figures whatever is tried. */
	private readonly untold: readonly Adjustment[];

	/** @throws ModelError for a scenario that cannot be calculated */
	constructor(parcel: ScenarioPackage) {
		const { structure, data } = unpackScenario(parcel);
		this.structure = structure;
		this.data = data;
		this.plan = calculateScenario(structure, data);
		this.untold = data.adjustments?.filter((a) => a.untold !== undefined) ?? [];
	}

	/** The adjustments that can be worked with. */
	private get told(): readonly Adjustment[] {
		return this.data.adjustments?.filter((a) => a.untold === undefined) ?? [];
	}
	/** All that are in the figures, in their order, with these among them. */
	private among(told: readonly Adjustment[]): Adjustment[] {
		const all = [...told];
		this.untold.forEach((a, i) => all.splice(a.untold! + i, 0, a));
		return all;
	}

	/**
	 * Puts adjustments in the place of those there are.
	 * @throws ModelError for one that changes what is computed, or is not there; the former stand then
	 */
	adjust(told: readonly Adjustment[]): void {
		const adjustments = this.among(told);
		const data = { ...this.data, adjustments };
		if (!adjustPlan(this.plan, adjustments)) this.plan = calculateScenario(this.structure, data);
		this.data = data;
	}

	/** What is calculated now, with the adjustments it is worked with. */
	get current(): { structure: Structure; data: ScenarioData } {
		return { structure: this.structure, data: this.data };
	}

	/** Each measure without and with the adjustments that are on, and what each of them does. */
	effects(measures: readonly Measure[], span: Span): MeasureEffect[] {
		const all = this.told;
		const found = effectsOf((list) => this.under(list), all, measures, span);
		this.adjust(all);
		return found;
	}

	/**
	 * Which value of an adjustment's step brings a measure to a goal. The adjustment counts as switched on; nothing is
	 * changed.
	 */
	seek(code: string, step: number, measure: Measure, span: Span, goal: number): GoalResult {
		const all = this.told;
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
		const result = goalSeek((value) => measured(this.under(withValue(value)), measure, span), goal, {
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
				const result = this.measure(measure, span);
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

	private under(adjustments: readonly Adjustment[]): Plan {
		adjustPlan(this.plan, this.among(adjustments));
		return this.plan;
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

	private measure(measure: Measure, span: Span): number {
		this.plan.calculation.recalculate();
		return measured(this.plan, measure, span);
	}
}
