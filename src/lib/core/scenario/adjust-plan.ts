/** Other adjustments put into a calculated plan. */
import type { Adjustment } from '../inputs/adjust';
import type { Plan } from './plan';

/**
 * Puts adjustments in the place of a plan's own and calculates what depends on them: the same figures, to the bit, as of a
 * plan made anew.
 * @param most does not where that would take longer, in nanoseconds at the worst
 * @returns false when the plan was not built for them, or it takes too long; nothing is changed then
 */
export function adjustPlan(
	{ inputs, calculation }: Pick<Plan, 'inputs' | 'calculation'>,
	adjustments: readonly Adjustment[],
	most = Infinity
): boolean {
	const before = inputs.now;
	if (!inputs.use(calculation, adjustments)) return false;
	if (calculation.costOfChanges <= most) {
		calculation.recalculate();
		return true;
	}
	inputs.use(calculation, before);
	calculation.unchanged();
	return false;
}
