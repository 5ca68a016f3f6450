/** Lines of other scenarios that formulas read. */
import type { Period } from '../calendar/calendar';
import type { Axis } from '../engine/axis';
import { foreignBlock, type BlockSpec } from '../engine/spec';
import { BLANK, marksOf, newMatrix, type Matrix } from '../engine/values';
import { walk, type Expr } from '../formula/ast';
import { LEDGER_BLOCK } from '../model/schema';
import type { Plan } from './scenario';

/** Those lines as given values on our axis. */
export function foreignBlocks(
	blocks: readonly BlockSpec[],
	others: ReadonlyMap<string, Plan>,
	axis: Axis
): BlockSpec[] {
	const wanted = new Map<string, { plan: Plan; block: string; lines: Set<string> }>();
	const want = (scenario: string, block: string, line: string) => {
		const plan = others.get(scenario);
		if (!plan?.calculation.has(block, line)) return;
		const id = foreignBlock(scenario, block);
		const have = wanted.get(id) ?? { plan, block, lines: new Set() };
		have.lines.add(line);
		wanted.set(id, have);
	};
	for (const block of blocks)
		for (const { rules } of block.lines)
			for (const { expr } of rules ?? [])
				if (expr)
					walk(expr, (e) => {
						if (e.kind !== 'call' || e.name !== 'scenario' || e.args[0].kind !== 'text') return;
						const [{ value: scenario }, what] = e.args as [Expr & { kind: 'text' }, Expr];
						if (what.kind === 'reference') want(scenario, what.block ?? block.id, what.line);
						else if (what.kind === 'call' && what.args[0].kind === 'text')
							want(scenario, LEDGER_BLOCK, what.args[0].value);
					});
	return [...wanted].map(([id, { plan, block, lines }]) => {
		const { dimensions, rows, lines: specs } = plan.calculation.block(block);
		return {
			id,
			dimensions,
			rows,
			lines: [...lines].map((code) => ({
				code,
				additive: specs.find((l) => l.code === code)?.additive ?? true,
				seed: moved(plan.calculation.matrix(block, code), plan.calculation.axis.first, axis)
			}))
		};
	});
}

/** Values on another axis; blank where there are none. Errors stay errors. */
function moved(source: Matrix, first: Period, axis: Axis): Matrix {
	const matrix = newMatrix(source.rows, axis.length);
	const marks = marksOf(matrix).fill(BLANK);
	matrix.errors = source.errors;
	for (let t = 0; t < axis.length; t++) {
		const s = axis.first + t - first;
		if (s < 0 || s >= source.periods) continue;
		const [to, from] = [t * source.rows, s * source.rows];
		matrix.values.set(source.values.subarray(from, from + source.rows), to);
		if (source.marks) marks.set(source.marks.subarray(from, from + source.rows), to);
		else marks.fill(0, to, to + source.rows);
	}
	return matrix;
}
