/** A typed line of any block under adjustments: they change what is typed itself, and keep it beside. */
import { ModelError, type BlockSpec, type LineSpec } from '../engine/spec';
import { rowKey } from '../engine/row-key';
import { cellAt, copyOf } from '../engine/values';
import { adjustInputs } from '../inputs/adjust';
import type { AdjustmentStepDefinition } from '../inputs/schema';
import type { CellEdit } from '../inputs/cell';
import type { AdjustedLine, Adopting, Calculated } from './block';

/** Why a step cannot change figures by period, as a clause; null where it can. */
export const typedStepFault = (step: AdjustmentStepDefinition | undefined): string | null =>
	step?.operation === 'set' && typeof step.value !== 'number' ? `“${step.value}” is no number` : null;

/** @throws ModelError for a line that is computed */
export function adjustedTyped(block: BlockSpec, line: LineSpec): AdjustedLine {
	// A formula counts even where closed months are given.
	if (!line.seed || line.rules?.some((r) => r.expr !== null && !r.rows && r.to === undefined))
		throw new ModelError(
			block.id,
			line.code,
			`${block.id}.${line.code} is computed; an adjustment changes what is typed. Adjust what it is computed from.`
		);
	const original = copyOf(line.seed);
	return {
		lines: [line],
		inputs: [line.code],
		original,
		under: (steps) => {
			const inputs = copyOf(original);
			for (const { step, rows, from, to } of steps) adjustInputs(inputs, rows, from, to, step);
			return [inputs];
		}
	};
}

/** What is typed with some adjustments and not without them. */
export function adoptingTyped(without: Calculated, with_: Calculated, block: string, line: string): Adopting {
	const axis = with_.calculation.axisOf(block);
	const rows = with_.calculation.block(block).rows.map(rowKey);
	const [before, after] = [without, with_].map((p) => p.calculation.matrix(block, line));
	const edits: CellEdit[] = [];
	for (let t = axis.open; t < axis.length; t++)
		rows.forEach((row, r) => {
			const [was, value] = [cellAt(before, r, t), cellAt(after, r, t)];
			if (was === value || typeof was === 'string' || typeof value === 'string') return;
			edits.push({ block, line, row, period: axis.first + t, before: was, value });
		});
	return { cells: edits, values: [] };
}
