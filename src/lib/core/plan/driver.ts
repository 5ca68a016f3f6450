/** A driver that can be moved and put back: the inputs of a line in a scope, in a calculated plan. */
import { BLANK, type Matrix } from '../engine/values';
import { adjustInputs, type AdjustmentStep } from './adjust';
import type { Plan } from './scenario';

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
	private readonly rows: boolean[];
	private readonly from: number;
	private readonly to: number;
	private readonly base: Pick<Matrix, 'values' | 'marks'>;

	constructor(
		private readonly plan: Plan,
		private readonly scope: DriverScope
	) {
		const { calculation } = plan;
		const block = calculation.block(scope.block);
		const within = calculation.network.surroundings.within;
		this.rows = block.rows.map((row) =>
			Object.entries(scope.where).every(([dimension, member]) => {
				const own = row[block.dimensions.indexOf(dimension)];
				return own !== undefined && (within ? within(dimension, own, member) : own === member);
			})
		);
		this.from = Math.max(0, scope.from - calculation.axis.first);
		this.to = Math.min(calculation.axis.length, scope.to - calculation.axis.first + 1);
		const { values, marks } = calculation.matrix(scope.block, scope.line);
		this.base = { values: values.slice(), marks: marks?.slice() ?? null };
	}

	/** The mean of the driver's inputs as they were; null when all are blank. */
	get mean(): number | null {
		let [sum, n] = [0, 0];
		const { length } = this.rows;
		for (let t = this.from; t < this.to; t++)
			for (let r = 0; r < length; r++) {
				const i = t * length + r;
				if (!this.rows[r] || this.base.marks?.[i] === BLANK) continue;
				sum += this.base.values[i];
				n++;
			}
		return n ? sum / n : null;
	}

	/** Moves the driver from where it was at first; the plan is calculated anew by the caller. */
	move(operation: Move, value: number): void {
		const step: AdjustmentStep = { operation, value, lines: [], where: {} };
		this.write((matrix) => adjustInputs(matrix, this.rows, this.from, this.to, step));
	}
	/** Puts the driver back. */
	restore(): void {
		this.write(() => {});
	}

	private write(change: (matrix: Matrix) => void): void {
		const { calculation } = this.plan;
		const dirt = { from: this.from, lo: this.rows.indexOf(true), hi: this.rows.lastIndexOf(true) + 1 };
		if (dirt.hi === 0) return;
		const size = this.rows.length;
		calculation.changeInputs(this.scope.block, this.scope.line, dirt, (matrix) => {
			const [a, b] = [this.from * size, this.to * size];
			matrix.values.set(this.base.values.subarray(a, b), a);
			if (this.base.marks) matrix.marks!.set(this.base.marks.subarray(a, b), a);
			else matrix.marks?.fill(0, a, b);
			change(matrix);
		});
	}
}
