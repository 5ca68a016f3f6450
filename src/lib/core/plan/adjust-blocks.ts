/** Carries a scenario's adjustments into the blocks of its calculation, and keeps what was typed beside them. */
import type { Axis } from '../engine/axis';
import type { Calculation } from '../engine/calculation';
import { ModelError, type BlockSpec, type LineSpec } from '../engine/spec';
import { BLANK, cellAt, marksOf, newMatrix, setCell, type Cell, type Matrix } from '../engine/values';
import { LEDGER_BLOCK } from '../model/schema';
import { adjustInputs, type Adjustment, type AdjustmentStep } from './adjust';
import { call, ref, times } from './basis';
import { typedLine } from './ledger-block';

type Within = (dimension: string, member: string, under: string) => boolean;

const adjustedLine = (part: 'plan' | 'factor' | 'extra', account: string) => `${part}:${account}`;
/** An adjusted account's plan before adjustments. */
export const planLine = (account: string) => adjustedLine('plan', account);

/** A line whose inputs adjustments change, with these inputs as they were. */
interface Target {
	block: BlockSpec;
	line: string;
	/** The line or account that adjustments name. */
	named: string;
	original: Matrix;
	/** What a step does to this line; null when it does nothing. */
	effect: (step: AdjustmentStep) => AdjustmentStep | null;
}

/** Inputs under adjustments: they can be switched, and what was typed can be changed under them. */
export class AdjustedInputs {
	constructor(
		private readonly targets: readonly Target[],
		private adjustments: readonly Adjustment[],
		private readonly axis: Axis,
		private readonly within: Within
	) {}

	/** Whether any adjustment is on. */
	get any(): boolean {
		return this.adjustments.some((a) => a.on);
	}

	/** What was typed, where adjustments may lie over it; undefined where none does. */
	typed(block: string, line: string, row: number, t: number): Cell | undefined {
		const target = this.find(block, line);
		return target && cellAt(target.original, row, t);
	}

	/** Types an input under the adjustments; recalculating is the caller's. */
	setInput(
		calculation: Calculation,
		block: string,
		line: string,
		row: number,
		t: number,
		value: number | null
	): void {
		const target = this.find(block, line);
		if (!target) return calculation.setInput(block, line, row, t, value);
		setCell(target.original, row, t, value);
		calculation.changeInputs(block, line, { from: 0, lo: row, hi: row + 1 }, (matrix) =>
			this.write(target, matrix)
		);
	}

	/**
	 * Works with other adjustments from now on; recalculating is the caller's.
	 * @returns false when they name a line that the scenario was not built for; nothing is changed then
	 */
	use(calculation: Calculation, adjustments: readonly Adjustment[]): boolean {
		const known = new Set(this.targets.map((t) => `${t.block.id}.${t.named}`));
		const named = adjustments.flatMap((a) => a.steps.flatMap((s) => s.lines));
		if (named.some((l) => !known.has(`${l.block}.${l.line}`))) return false;
		this.adjustments = adjustments;
		for (const target of this.targets)
			calculation.changeInputs(
				target.block.id,
				target.line,
				{ from: 0, lo: 0, hi: target.block.rows.length },
				(matrix) => this.write(target, matrix)
			);
		return true;
	}

	/** Writes a line's inputs as the adjustments make them. */
	write(target: Target, matrix: Matrix): void {
		matrix.values.set(target.original.values);
		if (matrix.marks) matrix.marks.set(target.original.marks ?? new Uint8Array(matrix.values.length));
		else if (target.original.marks) matrix.marks = target.original.marks.slice();
		for (const { on, steps } of this.adjustments) {
			if (!on) continue;
			for (const step of steps) {
				if (!step.lines.some((l) => l.block === target.block.id && l.line === target.named)) continue;
				const effect = target.effect(step);
				if (!effect) continue;
				const { rows, from, to } = this.scopeOf(target.block, step);
				adjustInputs(matrix, rows, from, to, effect);
			}
		}
	}

	private find(block: string, line: string): Target | undefined {
		return this.targets.find((t) => t.block.id === block && t.line === line);
	}

	/** Rows and period indexes of a step. */
	private scopeOf(block: BlockSpec, { where, from, to }: AdjustmentStep) {
		const { axis, within } = this;
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
}

const copyOf = (m: Matrix): Matrix => ({ ...m, values: m.values.slice(), marks: m.marks?.slice() ?? null });

/**
 * Applies the adjustments that are on, in their order, to the open periods of the blocks given. The blocks are made
 * for those that are off too, so that they can be switched.
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
): { blocks: BlockSpec[]; inputs: AdjustedInputs } {
	const named = new Map<string, Adjustment>();
	for (const a of adjustments)
		for (const step of a.steps) for (const l of step.lines) named.set(`${l.block}.${l.line}`, a);
	const targets: Target[] = [];
	const adjusted = blocks.map((block) => ({
		...block,
		lines: block.lines.flatMap((line): LineSpec[] => {
			if (!named.delete(`${block.id}.${line.code}`)) return [line];
			return block.id === LEDGER_BLOCK
				? adjustAccount(block, line, axis, targets)
				: [adjustTyped(block, line, targets)];
		})
	}));
	for (const [key, { name }] of named) {
		const [block, line] = key.split('.');
		throw new ModelError(block, line, `“${name}” changes ${key}, which is not there.`);
	}
	const inputs = new AdjustedInputs(targets, adjustments, axis, within);
	for (const target of targets) {
		const line = adjusted.find((b) => b.id === target.block.id)!.lines.find((l) => l.code === target.line)!;
		inputs.write(target, line.seed!);
	}
	return { blocks: adjusted, inputs };
}

function adjustTyped(block: BlockSpec, line: LineSpec, targets: Target[]): LineSpec {
	// A formula counts even where closed months are given.
	if (!line.seed || line.rules?.some((r) => r.expr !== null && !r.rows && r.to === undefined))
		throw new ModelError(
			block.id,
			line.code,
			`${block.id}.${line.code} is computed; an adjustment changes what is typed. Adjust what it is computed from.`
		);
	targets.push({ block, line: line.code, named: line.code, original: copyOf(line.seed), effect: (s) => s });
	return line;
}

/** The account's plan before adjustments gets a line of its own, and the account becomes plan × factor + extra. */
function adjustAccount(block: BlockSpec, line: LineSpec, axis: Axis, targets: Target[]): LineSpec[] {
	const rows = block.rows.length;
	const factor = newMatrix(rows, axis.length);
	factor.values.fill(1);
	const extra = newMatrix(rows, axis.length);
	marksOf(extra).fill(BLANK);
	const typed = block.lines.find((l) => l.code === typedLine(line.code));
	const at = (code: string, original: Matrix, effect: Target['effect']) =>
		targets.push({ block, line: code, named: line.code, original: copyOf(original), effect });
	at(adjustedLine('factor', line.code), factor, (s) =>
		s.operation === 'shift' || s.operation === 'add'
			? null
			: { ...s, value: s.operation === 'multiply' ? s.value : 0 }
	);
	at(adjustedLine('extra', line.code), extra, (s) => (s.operation === 'shift' ? null : s));
	if (typed?.seed) at(typed.code, typed.seed, (s) => (s.operation === 'shift' ? s : null));
	const plan = ref(planLine(line.code));
	const more = ref(adjustedLine('extra', line.code));
	const scaled = times(plan, ref(adjustedLine('factor', line.code)));
	return [
		{ ...line, code: planLine(line.code), seed: { ...line.seed! } },
		{ code: adjustedLine('factor', line.code), additive: false, seed: factor },
		{ code: adjustedLine('extra', line.code), additive: true, seed: extra },
		{
			...line,
			rules: [
				{
					from: axis.open,
					// A blank has nothing to be multiplied.
					expr: call('if', call('is_blank', plan), more, {
						kind: 'binary',
						op: '+',
						left: scaled,
						right: more,
						span: { from: 0, to: 0 }
					})
				}
			]
		}
	];
}
