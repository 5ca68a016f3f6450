/** A driver that can be moved and put back: the inputs of a line in a scope, in a calculated plan. */
import { mostlyOnto } from '../calendar/onto';
import { BLANK, NUMBER, type Matrix } from '../engine/values';
import { companyCalendar } from '../scenario/calendar';
import type { Plan } from '../scenario/plan';

export interface DriverScope {
	block: string;
	line: string;
	/** Only rows under these members (dimension → member). */
	where: Readonly<Record<string, string>>;
	/** First and last period (ordinals). */
	from: number;
	to: number;
}
/** How a driver is moved: all its inputs times a factor, plus an amount, or to one value. */
export type Move = 'multiply' | 'add' | 'set';

export class Driver {
	/** Cells of the matrix in the scope, and those of them that held a number at first. */
	private readonly cells: Int32Array;
	private readonly numbers: Int32Array;
	private readonly base: Pick<Matrix, 'values' | 'marks'>;
	private last: Move | null = null;
	private readonly dirt: { from: number; lo: number; hi: number };

	constructor(
		private readonly plan: Plan,
		private readonly scope: DriverScope
	) {
		const { calculation } = plan;
		const block = calculation.block(scope.block);
		const within = calculation.network.surroundings.within;
		const rows = block.rows.flatMap((row, r) =>
			Object.entries(scope.where).every(([dimension, member]) => {
				const own = row[block.dimensions.indexOf(dimension)];
				return own !== undefined && (within ? within(dimension, own, member) : own === member);
			})
				? [r]
				: []
		);
		const axis = calculation.axisOf(scope.block);
		const calendar = plan.blocks.get(scope.block)?.calendar ?? plan.structure.calendar;
		const span = mostlyOnto(calendar, companyCalendar(plan.structure.calendar), scope);
		const { values, marks, timeless } = calculation.matrix(scope.block, scope.line);
		// What is the same in all periods stands once.
		const from = timeless ? 0 : Math.max(0, span.from - axis.first);
		const to = timeless ? 1 : Math.min(axis.length, span.to - axis.first + 1);
		this.base = { values: values.slice(), marks: marks?.slice() ?? null };
		const cells: number[] = [];
		for (let t = from; t < to; t++) for (const r of rows) cells.push(t * block.rows.length + r);
		this.cells = Int32Array.from(cells);
		this.numbers = this.cells.filter((i) => this.base.marks?.[i] !== BLANK);
		this.dirt = { from, lo: rows[0] ?? 0, hi: (rows.at(-1) ?? -1) + 1 };
	}

	/** The mean of the driver's inputs as they were; null when all are blank. */
	get mean(): number | null {
		const sum = this.numbers.reduce((total, i) => total + this.base.values[i], 0);
		return this.numbers.length ? sum / this.numbers.length : null;
	}

	/**
	 * Moves the driver from where it was at first; the plan is calculated anew by the caller. Blanks have nothing to
	 * be multiplied; adding and setting make them numbers.
	 */
	move(operation: Move, value: number): void {
		// What another kind of move has written to blanks goes first.
		if (this.last !== operation) this.restore();
		this.last = operation;
		this.write((values, marks, base) => {
			if (operation === 'multiply') for (const i of this.numbers) values[i] = base[i] * value;
			else
				for (const i of this.cells) {
					values[i] = operation === 'add' ? base[i] + value : value;
					if (marks) marks[i] = NUMBER;
				}
		});
	}

	/** Puts the driver back. */
	restore(): void {
		this.write((values, marks, base) => {
			for (const i of this.cells) {
				values[i] = base[i];
				if (marks) marks[i] = this.base.marks?.[i] ?? NUMBER;
			}
		});
	}

	private write(change: (values: Float64Array, marks: Uint8Array | null, base: Float64Array) => void): void {
		if (!this.cells.length) return;
		this.plan.calculation.changeInputs(this.scope.block, this.scope.line, this.dirt, (matrix) =>
			change(matrix.values, matrix.marks, this.base.values)
		);
	}
}
