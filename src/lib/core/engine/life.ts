/** Sums an expression over its life, also outside the horizon. */
import { createArena } from './machine/arena';
import type { Axis } from './axis';
import type { Program } from './instructions';
import { Machine } from './machine/machine';
import type { Node } from './network';
import { BLANK, marksOf, newMatrix, NUMBER, type Matrix } from './values';

/** Days that a whole life can span: 1 January 1900 to 31 December 2399. */
const [EARLIEST, LATEST] = [2, 182_621];

/** Fills the node's column, in rows lo (included) to hi (excluded). Each row is summed over its own life and the axis. */
export function wholeLife(
	node: Node & { kind: 'life' },
	target: Matrix,
	lines: readonly { matrix: Matrix }[],
	axis: Axis,
	lo: number,
	hi: number
): void {
	const [from, to] = [Math.max(0, lo), Math.min(hi, target.rows)];
	if (from >= to) return;
	if (node.source !== null) return sumRows(lines[node.source].matrix, target, from, to, () => true);
	const { first, last } = lives(node.bounds, target.rows, lines, axis);
	const life = axis.covering(
		first.reduce((a, b) => Math.min(a, b)),
		last.reduce((a, b) => Math.max(a, b))
	);
	const values = newMatrix(target.rows, life.length);
	// What lies before the axis ends where the axis begins.
	const end = node.part === 'whole' ? life.length : axis.first - life.first;
	const machine = new Machine(lines, life, createArena(0), (to - from) * life.length);
	machine.run(node.program, values, null, from, to, 0, end);
	const { firstDay, lastDay } = life;
	sumRows(values, target, from, to, (row, t) => lastDay[t] >= first[row] && firstDay[t] <= last[row]);
}

/** By row the first and the last day that it names; at least those of the axis. */
function lives(
	bounds: readonly Program[],
	rows: number,
	lines: readonly { matrix: Matrix }[],
	axis: Axis
): { first: Float64Array; last: Float64Array } {
	const first = new Float64Array(rows).fill(axis.firstDay[0]);
	const last = new Float64Array(rows).fill(axis.lastDay[axis.length - 1]);
	const machine = new Machine(lines, axis, createArena(0), rows * axis.length);
	const column = newMatrix(rows, axis.length);
	for (const program of bounds) {
		machine.run(program, column, null, 0, rows, 0, 1);
		for (let r = 0; r < rows; r++) {
			if (column.marks && column.marks[r] !== NUMBER) continue;
			const day = Math.min(LATEST, Math.max(EARLIEST, column.values[r]));
			first[r] = Math.min(first[r], day);
			last[r] = Math.max(last[r], day);
		}
	}
	return { first, last };
}

/** @param counts whether a row's period is part of its life */
function sumRows(
	source: Matrix,
	target: Matrix,
	lo: number,
	hi: number,
	counts: (row: number, t: number) => boolean
): void {
	if (lo === 0 && hi === target.rows) target.errors = false;
	for (let r = lo; r < hi; r++) {
		let sum = 0;
		let error = NUMBER;
		for (let t = 0; t < source.periods; t++) {
			if (!counts(r, t)) continue;
			const i = t * source.rows + r;
			const mark = source.marks ? source.marks[i] : NUMBER;
			if (mark > BLANK && error === NUMBER) error = mark;
			sum += source.values[i];
		}
		target.values[r] = error === NUMBER ? sum : NaN;
		if (error !== NUMBER) {
			marksOf(target)[r] = error;
			target.errors = true;
		} else if (target.marks) target.marks[r] = NUMBER;
	}
}
