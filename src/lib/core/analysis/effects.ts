/** What adjustments do to figures, one after the other. */
import type { Cell } from '../engine/values';
import type { Span } from '../calendar/spans';
import type { Adjustment } from '../inputs/adjust';
import type { Plan } from '../scenario/plan';
import { bridge, type BridgeStep } from './bridge';
import { measureOver, number, type Measure } from './measure';

export interface MeasureEffect {
	without: Cell;
	with: Cell;
	/** What each adjustment does after those before it, in their order; 0 for one that is off. */
	effects: number[];
}

/**
 * Each measure without and with the adjustments that are on, and what each of them does.
 * @param under the plan as it is with these adjustments; it is left with the last that it was asked for
 */
export function effectsOf(
	under: (adjustments: readonly Adjustment[]) => Plan,
	adjustments: readonly Adjustment[],
	measures: readonly Measure[],
	span: Span
): MeasureEffect[] {
	const at = (list: readonly Adjustment[]): Cell[] => {
		const plan = under(list);
		return measures.map((m) => measureOver(plan, m, [span])[0]);
	};
	const stages = [at(adjustments.map(off))];
	adjustments.forEach((a, i) => {
		const before = stages.at(-1)!;
		stages.push(a.on ? at(adjustments.map((x, j) => (j <= i ? x : off(x)))) : before);
	});
	return measures.map((_, m) => ({
		without: stages[0][m],
		with: stages.at(-1)![m],
		effects: adjustments.map((_, i) => number(stages[i + 1][m]) - number(stages[i][m]))
	}));
}

const off = (a: Adjustment): Adjustment => ({ ...a, on: false });

export interface Bridge {
	start: number;
	steps: BridgeStep[];
	end: number;
}

/**
 * The steps from a result without adjustments to the one with those that are on.
 * @param adjustments those whose effects these are
 */
export function bridgeOf(
	{ without, with: under, effects }: MeasureEffect,
	adjustments: readonly { name: string; on: boolean }[]
): Bridge {
	const [start, end] = [number(without), number(under)];
	const steps = adjustments.flatMap(({ name, on }, i) => (on ? { name, amount: effects[i] } : []));
	return { start, steps: bridge(start, steps, end, 'Rounding'), end };
}
