/** A scenario that is worked in a thread of the browser: questions and their answers. */
import { proxy, type Remote } from 'comlink';
import type { Span } from '../../core/calendar/spans';
import type { Adjustment } from '../../core/inputs/adjust';
import type { DriverScope } from '../../core/analysis/driver';
import type { MeasureEffect } from '../../core/analysis/effects';
import type { Measure } from '../../core/analysis/measure';
import type { Uncertain } from '../../core/analysis/what-if';
import type { WhyItChanged } from '../../core/explain/why';
import type { GoalResult } from '../../core/analysis/goal-seek';
import type { Ranges } from '../../core/analysis/monte-carlo';
import type { Sensitivity } from '../../core/analysis/sensitivity';
import { parcelOf, ScenarioThread } from '../scenarios/scenario-thread';
import type { WhatIfWork } from './what-if.worker';

export type DriverName = { block: string; line: string; name: string };

export class WhatIfThread {
	readonly #thread = new ScenarioThread<WhatIfWork>(
		() => new Worker(new URL('./what-if.worker.ts', import.meta.url), { type: 'module' })
	);
	#scenario = '';
	/** Counts how often it was taken as it is saved. */
	#version = 0;
	#adjustments: Adjustment[] | null = null;

	/** @param told hears how much of a long answer is done */
	constructor(private readonly told: (done: number) => void) {}

	/** Works with a scenario as it is saved from here on; the thread has it when it is first asked. */
	take(scenario: string): void {
		if (this.#scenario !== scenario) this.#adjustments = null;
		this.#scenario = scenario;
		this.#version++;
	}
	/** The drivers that can be moved. */
	drivers = (): Promise<DriverName[]> => this.#ask((work) => work.drivers());
	/** Works with these adjustments from here on. */
	adjust(adjustments: Adjustment[]): void {
		this.#adjustments = adjustments;
	}
	effects = (measures: Measure[], span: Span): Promise<MeasureEffect[]> =>
		this.#ask((work) => work.effects(measures, span));
	seek = (code: string, step: number, measure: Measure, span: Span, goal: number): Promise<GoalResult> =>
		this.#ask((work) => work.seek(code, step, measure, span, goal) as Promise<GoalResult>);
	tornado = (
		drivers: DriverScope[],
		share: number,
		measure: Measure,
		span: Span
	): Promise<{ base: number; drivers: Sensitivity[] }> =>
		this.#ask((work) => work.tornado(drivers, share, measure, span));
	ranges = (
		uncertain: Uncertain[],
		measure: Measure,
		span: Span,
		trials: number,
		seed: number
	): Promise<Ranges> =>
		this.#ask((work) => work.ranges(uncertain, measure, span, { trials, seed }, proxy(this.told)));
	/** Why a measure differs from what it is in another scenario. */
	async why(other: string, measure: Measure, span: Span): Promise<WhyItChanged> {
		const parcel = await parcelOf({ scenario: other });
		return this.#ask((work) => work.why(parcel, measure, span, proxy(this.told)));
	}
	/** Breaks off what is being worked out; the next question takes the scenario anew. */
	cancel(): void {
		this.#thread.close();
	}

	#ask<T>(question: (work: Remote<WhatIfWork>) => Promise<T>): Promise<T> {
		const adjustments = this.#adjustments;
		return this.#thread.ask({ scenario: this.#scenario }, this.#version, async (work) => {
			if (adjustments) await work.adjust(adjustments);
			return question(work);
		});
	}
}
