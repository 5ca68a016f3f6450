/** Carries a scenario's adjustments into the blocks of its calculation, and keeps what was typed beside them. */
import type { Calendar } from '../calendar/calendar';
import { mostlyOnto } from '../calendar/onto';
import type { Axis } from '../engine/axis';
import type { Calculation } from '../engine/calculation';
import { ModelError, type BlockSpec, type LineSpec } from '../engine/spec';
import { cellAt, setCell, type Cell, type Matrix } from '../engine/values';
import type { AdjustedLine, Block } from '../blocks/block';
import { rowsWithin } from '../blocks/traits';
import type { Adjustment, AdjustmentStep, ScopedStep } from '../inputs/adjust';

type Within = (dimension: string, member: string, under: string) => boolean;

/** A line that adjustments name, with the inputs they write. */
interface Target extends Omit<AdjustedLine, 'lines'> {
	block: BlockSpec;
	source: Block;
	named: string;
}

/** Inputs under adjustments: they can be switched, and what was typed can be changed under them. */
export class AdjustedInputs {
	constructor(
		private readonly targets: readonly Target[],
		private adjustments: readonly Adjustment[],
		/** The calculation’s own periods, in which steps say from when to when. */
		private readonly axis: Axis,
		private readonly calendar: Calendar,
		private readonly within: Within
	) {}

	/** Whether any adjustment is on. */
	get any(): boolean {
		return this.adjustments.some((a) => a.on);
	}

	/** What was typed in a line that adjustments may lie over; null where none does. */
	original(block: string, line: string): Matrix | null {
		return this.find(block, line)?.original ?? null;
	}
	/** One cell of that; undefined where none does. */
	typed(block: string, line: string, row: number, t: number): Cell | undefined {
		const original = this.original(block, line);
		return original ? cellAt(original, row, t) : undefined;
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
		if (!target?.original) return calculation.setInput(block, line, row, t, value);
		setCell(target.original, row, t, value);
		const [now] = target.under(this.stepsOn(target, this.adjustments))!;
		calculation.changeInputs(block, line, { from: 0, lo: row, hi: row + 1 }, (m) => put(now, m));
	}

	/**
	 * Works with other adjustments from now on; recalculating is the caller's.
	 * @returns false when they do what the scenario was not built for: name another line, or move an account's plan by
	 * other periods; nothing is changed then
	 */
	use(calculation: Calculation, adjustments: readonly Adjustment[]): boolean {
		const known = new Set(this.targets.map((t) => `${t.block.id}.${t.named}`));
		const named = adjustments.flatMap((a) => a.steps.flatMap((s) => s.lines));
		if (named.some((l) => !known.has(`${l.block}.${l.line}`))) return false;
		const inputs = this.targets.map((t) => t.under(this.stepsOn(t, adjustments)));
		if (inputs.includes(null)) return false;
		this.adjustments = adjustments;
		this.targets.forEach(({ block, inputs: lines }, i) =>
			lines.forEach((line, k) =>
				calculation.changeInputs(block.id, line, { from: 0, lo: 0, hi: block.rows.length }, (m) =>
					put(inputs[i]![k], m)
				)
			)
		);
		return true;
	}

	/** Inputs as the adjustments make them, before anything is calculated. */
	begin(): { block: string; line: string; matrix: Matrix }[] {
		return this.targets.flatMap((target) => {
			const inputs = target.under(this.stepsOn(target, this.adjustments))!;
			return target.inputs.map((line, k) => ({ block: target.block.id, line, matrix: inputs[k] }));
		});
	}

	/** Steps that are on and change the target, in their order, each with what it reaches. */
	private stepsOn({ block, source, named }: Target, adjustments: readonly Adjustment[]): ScopedStep[] {
		return adjustments
			.filter((a) => a.on)
			.flatMap((a) => a.steps)
			.filter((step) => step.lines.some((l) => l.block === block.id && l.line === named))
			.map((step) => ({ step, ...this.scopeOf(block, source, step) }));
	}

	private find(block: string, line: string): Target | undefined {
		return this.targets.find((t) => t.block.id === block && t.inputs.includes(line));
	}

	/** Rows and period indexes of a step. */
	private scopeOf(block: BlockSpec, source: Block, { where, from, to }: AdjustmentStep) {
		const axis = block.axis ?? this.axis;
		const last = this.axis.first + this.axis.length - 1;
		const span = mostlyOnto(source.calendar, this.calendar, {
			from: from ?? this.axis.first,
			to: to ?? last
		});
		return {
			rows: rowsWithin(source, where, this.within),
			from: Math.max(axis.open, from === undefined ? 0 : span.from - axis.first),
			to: Math.min(axis.length, to === undefined ? axis.length : span.to - axis.first + 1)
		};
	}
}

/** Writes inputs over a line's matrix. */
function put(from: Matrix, into: Matrix): void {
	into.values.set(from.values);
	if (into.marks) into.marks.set(from.marks ?? new Uint8Array(into.values.length));
	else if (from.marks) into.marks = from.marks.slice();
}

/**
 * Applies the adjustments that are on, in their order, to the open periods of the blocks given, as each kind of block
 * takes them. The blocks are made for those that are off too, so that they can be switched.
 * @throws ModelError for a line that is computed or not there
 */
export function adjustBlocks(
	blocks: readonly { block: Block; spec: BlockSpec }[],
	adjustments: readonly Adjustment[],
	axis: Axis,
	calendar: Calendar,
	within: Within
): { blocks: BlockSpec[]; inputs: AdjustedInputs } {
	const named = new Map<string, { name: string; steps: AdjustmentStep[] }>();
	for (const { name, steps } of adjustments)
		for (const step of steps)
			for (const l of step.lines) {
				const key = `${l.block}.${l.line}`;
				const found = named.get(key);
				if (found) found.steps.push(step);
				else named.set(key, { name, steps: [step] });
			}
	const targets: Target[] = [];
	const adjusted = blocks.map(({ block, spec }) => ({
		...spec,
		lines: spec.lines.flatMap((line): LineSpec[] => {
			const key = `${spec.id}.${line.code}`;
			const own = named.get(key);
			if (!own || !named.delete(key)) return [line];
			const { lines, ...target } = block.adjusted(spec, line, spec.axis ?? axis, own.steps);
			targets.push({ block: spec, source: block, named: line.code, ...target });
			return lines;
		})
	}));
	for (const [key, { name }] of named) {
		const [block, line] = key.split('.');
		throw new ModelError(block, line, `“${name}” changes ${key}, which is not there.`);
	}
	const inputs = new AdjustedInputs(targets, adjustments, axis, calendar, within);
	for (const { block, line, matrix } of inputs.begin())
		put(matrix, adjusted.find((b) => b.id === block)!.lines.find((l) => l.code === line)!.seed!);
	return { blocks: adjusted, inputs };
}
