/**
 * Which cells, values of rows and adjustments each revision of a scenario has typed, so that a calculated plan can follow
 * without being made anew.
 */
import type { Knex } from 'knex';
import type { TypedCell } from '../../core/inputs/cell';
import type { AdjustmentDefinition } from '../../core/inputs/schema';
import type { TypedValue } from '../../core/scenario/type-cells';
import { sharedBy } from '../platform/db/kept';

export interface Typed {
	cells: readonly TypedCell[];
	/** Of rows of schedules, which stand where they stood. */
	values: readonly TypedValue[];
	/** All of the scenario's, as they are now; null where they stayed what they were. */
	adjustments: readonly AdjustmentDefinition[] | null;
}
/** By scenario: what stands between a revision and the one before it, for the latest of those that typed nothing else. */
type Steps = Map<number, Typed>;
const kept = new WeakMap<object, Map<string, Steps>>();
const MOST_STEPS = 50;
/** More cells at once are read anew as quickly. */
const MOST_CELLS = 2000;

/** Remembers, once the transaction is kept, that a scenario’s figures came to their revision by these and nothing else. */
export function rememberTyped(
	trx: Knex.Transaction,
	scenario: string,
	revision: number,
	{ cells = [], values = [], adjustments = null }: Partial<Typed>
): void {
	if (cells.length + values.length > MOST_CELLS) return;
	let outermost = trx;
	while (outermost.parentTransaction) outermost = outermost.parentTransaction;
	outermost.executionPromise.then(
		() => {
			const scenarios = kept.get(sharedBy(trx)) ?? new Map<string, Steps>();
			kept.set(sharedBy(trx), scenarios);
			const steps: Steps = scenarios.get(scenario) ?? new Map();
			scenarios.set(scenario, steps);
			steps.set(revision, { cells, values, adjustments });
			if (steps.size > MOST_STEPS) steps.delete(steps.keys().next().value!);
		},
		// Taken back, it has not been.
		() => {}
	);
}

/** What was typed after one revision up to another, in its order; null when anything else may have changed. */
export function typedSince(db: Knex, scenario: string, after: number, upTo: number): Typed | null {
	const steps = kept.get(sharedBy(db))?.get(scenario);
	const cells: TypedCell[] = [];
	const values: TypedValue[] = [];
	let adjustments: Typed['adjustments'] = null;
	for (let revision = after + 1; revision <= upTo; revision++) {
		const step = steps?.get(revision);
		if (!step) return null;
		cells.push(...step.cells);
		values.push(...step.values);
		adjustments = step.adjustments ?? adjustments;
	}
	return { cells, values, adjustments };
}
