/** Carries a scenario's adjustments into the blocks of its calculation. */
import type { Axis } from '../engine/axis';
import { ModelError, type BlockSpec, type LineSpec, type RuleSpec } from '../engine/spec';
import { newMatrix } from '../engine/values';
import { LEDGER_BLOCK } from '../model/schema';
import { adjustInputs, type Adjustment, type AdjustmentStep } from './adjust';
import { ref } from './basis';
import { typedLine } from './ledger-block';

type Within = (dimension: string, member: string, under: string) => boolean;

const adjustedLine = (part: 'plan' | 'factor' | 'extra', account: string) => `${part}:${account}`;

/**
 * Applies the adjustments that are on, in their order, to the open periods of the blocks given; a line that is not
 * named stays as it is.
 * - A typed line is changed itself.
 * - An account's plan, wherever it comes from, is multiplied, added to or set after its basis; only what was typed
 *   for it can be shifted in time.
 * @throws ModelError for a line that is computed or not there
 */
export function adjustBlocks(
	blocks: readonly BlockSpec[],
	adjustments: readonly Adjustment[],
	axis: Axis,
	within: Within
): BlockSpec[] {
	const steps = adjustments.filter((a) => a.on).flatMap((a) => a.steps);
	if (!steps.length) return [...blocks];
	return blocks.map((block) => ({
		...block,
		lines: block.lines.flatMap((line): LineSpec[] => {
			const own = steps.filter((s) => s.lines.some((l) => l.block === block.id && l.line === line.code));
			if (!own.length) return [line];
			return block.id === LEDGER_BLOCK
				? adjustAccount(block, line, own, axis, within)
				: [adjustTyped(block, line, own, axis, within)];
		})
	}));
}

/** Rows and periods of a step. */
function scopeOf(block: BlockSpec, { where, from, to }: AdjustmentStep, axis: Axis, within: Within) {
	const places = Object.entries(where).map(
		([dimension, member]) => [block.dimensions.indexOf(dimension), dimension, member] as const
	);
	return {
		rows: block.rows.map((row) =>
			places.every(([place, dimension, member]) => place >= 0 && within(dimension, row[place], member))
		),
		from: Math.max(axis.open, from === undefined ? 0 : from - axis.first),
		to: Math.min(axis.length, to === undefined ? axis.length : to - axis.first + 1)
	};
}

function adjustTyped(
	block: BlockSpec,
	line: LineSpec,
	steps: readonly AdjustmentStep[],
	axis: Axis,
	within: Within
): LineSpec {
	if (!line.seed)
		throw new ModelError(
			block.id,
			line.code,
			`${block.id}.${line.code} is computed; an adjustment changes what is typed. Adjust what it is computed from.`
		);
	for (const step of steps) {
		const { rows, from, to } = scopeOf(block, step, axis, within);
		adjustInputs(line.seed, rows, from, to, step);
	}
	return line;
}

/** The account's plan before adjustments gets a line of its own, and the account becomes plan × factor + extra. */
function adjustAccount(
	block: BlockSpec,
	line: LineSpec,
	steps: readonly AdjustmentStep[],
	axis: Axis,
	within: Within
): LineSpec[] {
	const rows = block.rows.length;
	const factor = newMatrix(rows, axis.length);
	factor.values.fill(1);
	const extra = newMatrix(rows, axis.length);
	const touched: number[] = [];
	const typed = block.lines.find((l) => l.code === typedLine(line.code));
	for (const step of steps) {
		const scope = scopeOf(block, step, axis, within);
		if (step.operation === 'shift') {
			if (typed?.seed) adjustInputs(typed.seed, scope.rows, scope.from, scope.to, step);
			continue;
		}
		adjustInputs(factor, scope.rows, scope.from, scope.to, {
			...step,
			value: step.operation === 'multiply' ? step.value : 0
		});
		adjustInputs(extra, scope.rows, scope.from, scope.to, step);
		scope.rows.forEach((inScope, r) => inScope && touched.push(r));
	}
	const scoped = [...new Set(touched)].sort((a, b) => a - b);
	if (!scoped.length) return [line];
	const plan: LineSpec = { ...line, code: adjustedLine('plan', line.code), seed: { ...line.seed! } };
	const adjusted: RuleSpec = {
		rows: scoped,
		from: axis.open,
		expr: {
			kind: 'binary',
			op: '+',
			left: {
				kind: 'binary',
				op: '*',
				left: ref(plan.code),
				right: ref(adjustedLine('factor', line.code)),
				span: { from: 0, to: 0 }
			},
			right: ref(adjustedLine('extra', line.code)),
			span: { from: 0, to: 0 }
		}
	};
	return [
		plan,
		{ code: adjustedLine('factor', line.code), additive: false, seed: factor },
		{ code: adjustedLine('extra', line.code), additive: true, seed: extra },
		{ ...line, rules: [adjusted, ...(line.rules ?? [])] }
	];
}
