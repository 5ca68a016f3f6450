/** A scenario that is worked in a thread of the browser: questions and their answers. */
import type { Span } from '../../core/calendar/spans';
import type { BridgeStep } from '../../core/analysis/bridge';
import type { Adjustment } from '../../core/inputs/adjust';
import type { DriverScope } from '../../core/analysis/driver';
import type { Measure, MeasureEffect, Uncertain } from '../../core/analysis/what-if';
import type { WhyItChanged } from '../../core/explain/why';
import type { GoalResult } from '../../core/analysis/goal-seek';
import type { Ranges } from '../../core/analysis/monte-carlo';
import type { Sensitivity } from '../../core/analysis/sensitivity';
import type { WhatIfAnswer, WhatIfRequest } from './what-if.worker';

type Question = WhatIfRequest extends infer R ? (R extends { id: number } ? Omit<R, 'id'> : never) : never;

export interface Bridge {
	start: number;
	steps: BridgeStep[];
	end: number;
}
export type DriverName = { block: string; line: string; name: string };

async function parcelOf(scenario: string): Promise<string> {
	const response = await fetch(`/api/v1/scenarios/${encodeURIComponent(scenario)}/package`);
	if (response.ok) return response.text();
	const body = (await response.json().catch(() => null)) as { error?: { message?: string } } | null;
	throw new Error(body?.error?.message ?? `The server answered ${response.status}.`);
}

export class Cancelled extends Error {}

export class WhatIfThread {
	#worker = this.#start();
	readonly #waiting = new Map<number, { resolve(v: unknown): void; reject(e: Error): void }>();
	#last = 0;
	#scenario = '';

	/** @param told hears how much of a long answer is done */
	constructor(private readonly told: (done: number) => void) {}

	#start(): Worker {
		const worker = new Worker(new URL('./what-if.worker.ts', import.meta.url), { type: 'module' });
		worker.onmessage = ({ data }: MessageEvent<WhatIfAnswer>) => {
			if ('done' in data) {
				this.told(data.done);
				return;
			}
			const waiting = this.#waiting.get(data.id);
			this.#waiting.delete(data.id);
			if ('failed' in data) waiting?.reject(new Error(data.failed));
			else waiting?.resolve(data.result);
		};
		worker.onerror = (e) => {
			for (const { reject } of this.#waiting.values()) reject(new Error(e.message));
			this.#waiting.clear();
		};
		return worker;
	}
	/** Takes a scenario as it is saved; answers the drivers that can be moved. */
	async load(scenario: string): Promise<{ drivers: DriverName[] }> {
		this.#scenario = scenario;
		return this.#ask({ kind: 'load', parcel: await parcelOf(scenario) });
	}
	effects = (adjustments: Adjustment[], measures: Measure[], span: Span): Promise<MeasureEffect[]> =>
		this.#ask({ kind: 'effects', adjustments, measures, span });
	bridge = (adjustments: Adjustment[], measure: Measure, span: Span): Promise<Bridge> =>
		this.#ask({ kind: 'bridge', adjustments, measure, span });
	seek = (code: string, step: number, measure: Measure, span: Span, goal: number): Promise<GoalResult> =>
		this.#ask({ kind: 'seek', code, step, measure, span, goal });
	tornado = (
		drivers: DriverScope[],
		share: number,
		measure: Measure,
		span: Span
	): Promise<{ base: number; drivers: Sensitivity[] }> =>
		this.#ask({ kind: 'tornado', drivers, share, measure, span });
	ranges = (
		uncertain: Uncertain[],
		measure: Measure,
		span: Span,
		trials: number,
		seed: number
	): Promise<Ranges> => this.#ask({ kind: 'ranges', uncertain, measure, span, trials, seed });
	/** Why a measure differs from what it is in another scenario. */
	async why(other: string, measure: Measure, span: Span): Promise<WhyItChanged> {
		return this.#ask({ kind: 'why', other: await parcelOf(other), measure, span });
	}
	/** Breaks off what is being worked out; the scenario is loaded anew. */
	async cancel(): Promise<void> {
		this.close();
		this.#worker = this.#start();
		await this.load(this.#scenario);
	}
	close(): void {
		this.#worker.terminate();
		for (const { reject } of this.#waiting.values()) reject(new Cancelled());
		this.#waiting.clear();
	}
	#ask<T>(question: Question): Promise<T> {
		const id = ++this.#last;
		return new Promise<T>((resolve, reject) => {
			this.#waiting.set(id, { resolve: resolve as (v: unknown) => void, reject });
			this.#worker.postMessage({ id, ...question });
		});
	}
}
