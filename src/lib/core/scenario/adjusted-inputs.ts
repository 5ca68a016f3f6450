/** Carries a scenario's adjustments into the blocks of its calculation, and keeps what was typed beside them. */
import type { Calendar } from '../calendar/calendar';
import { mostlyOnto } from '../calendar/onto';
import type { Axis } from '../engine/axis';
import type { Calculation } from '../engine/calculation';
import { ModelError, type BlockSpec, type LineSpec } from '../engine/spec';
import { cellAt, marksOf, setCell, type Cell, type Matrix } from '../engine/values';
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
	/** What the targets hold under the adjustments, so that only what becomes other is calculated anew. */
	private held: Matrix[][];

	constructor(
		private readonly targets: readonly Target[],
		private adjustments: readonly Adjustment[],
		/** The calculation’s own periods, in which steps say from when to when. */
		private readonly axis: Axis,
		private readonly calendar: Calendar,
		private readonly within: Within
	) {
		this.held = this.under(adjustments)!;
	}

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
		const now = target.under(this.stepsOn(target, this.adjustments))!;
		this.held[this.targets.indexOf(target)] = now;
		const place = { from: 0, lo: row, hi: row + 1 };
		calculation.changeInputs(block, line, place, (m) => put(now[0], m, place));
	}

	/** The adjustments it works with. */
	get now(): readonly Adjustment[] {
		return this.adjustments;
	}

	/** Whether the scenario was built for adjustments that name these lines and move an account's plan by these periods. */
	takes(adjustments: readonly Adjustment[]): boolean {
		return this.under(adjustments) !== null;
	}

	/**
	 * Works with other adjustments from now on; recalculating is the caller's.
	 * @returns false when they do what the scenario was not built for; nothing is changed then
	 */
	use(calculation: Calculation, adjustments: readonly Adjustment[]): boolean {
		const inputs = this.under(adjustments);
		if (!inputs) return false;
		this.targets.forEach(({ block, inputs: lines }, i) =>
			lines.forEach((line, k) => {
				const now = inputs[i][k];
				const place = difference(this.held[i][k], now);
				if (place) calculation.changeInputs(block.id, line, place, (m) => put(now, m, place));
			})
		);
		this.adjustments = adjustments;
		this.held = inputs;
		return true;
	}

	/** Inputs as the adjustments make them, before anything is calculated. */
	begin(): { block: string; line: string; matrix: Matrix }[] {
		return this.targets.flatMap((target, i) =>
			target.inputs.map((line, k) => ({ block: target.block.id, line, matrix: this.held[i][k] }))
		);
	}

	/** What each target holds under these adjustments; null where they do what the scenario was not built for. */
	private under(adjustments: readonly Adjustment[]): Matrix[][] | null {
		const known = new Set(this.targets.map((t) => `${t.block.id}.${t.named}`));
		const named = adjustments.flatMap((a) => a.steps.flatMap((s) => s.lines));
		if (named.some((l) => !known.has(`${l.block}.${l.line}`))) return null;
		const inputs = this.targets.map((t) => t.under(this.stepsOn(t, adjustments)));
		return inputs.every((own) => own !== null) ? inputs : null;
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

/** Rows from lo (included) to hi (excluded), from a period index on. */
interface Region {
	from: number;
	lo: number;
	hi: number;
}

/** Where two matrices of one line differ; null where they hold the same, to the bit. */
function difference(a: Matrix, b: Matrix): Region | null {
	if (a === b) return null;
	const { rows, periods } = a;
	const found = { from: periods, lo: rows, hi: 0 };
	for (let i = 0; i < rows * periods; i++) {
		const same = Object.is(a.values[i], b.values[i]) && (a.marks?.[i] ?? 0) === (b.marks?.[i] ?? 0);
		if (same) continue;
		const row = i % rows;
		found.from = Math.min(found.from, (i - row) / rows);
		found.lo = Math.min(found.lo, row);
		found.hi = Math.max(found.hi, row + 1);
	}
	return found.hi ? found : null;
}

/** Writes inputs over a line's matrix: what lies outside the region may hold what a formula has computed. */
function put(from: Matrix, into: Matrix, { from: first, lo, hi }: Region = whole(from)): void {
	for (let t = first; t < from.periods; t++) {
		const [a, b] = [t * from.rows + lo, t * from.rows + hi];
		into.values.set(from.values.subarray(a, b), a);
		if (from.marks) marksOf(into).set(from.marks.subarray(a, b), a);
		else into.marks?.fill(0, a, b);
	}
}
const whole = ({ rows }: Matrix): Region => ({ from: 0, lo: 0, hi: rows });

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
