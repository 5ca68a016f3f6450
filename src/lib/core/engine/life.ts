/** Sums an expression over its life, also outside the horizon. */
import { createArena } from './machine/arena';
import type { Axis } from './axis';
import type { Program } from './instructions';
import { Machine } from './machine/machine';
import type { Node } from './network';
import { BLANK, marksOf, newMatrix, NUMBER, type Matrix } from './values';

/** Days that a whole life can span: 1 January 1900 to 31 December 2399. */
const [EARLIEST, LATEST] = [2, 182_621];

/** Fills the node's column. */
export function wholeLife(
	node: Node & { kind: 'life' },
	target: Matrix,
	lines: readonly { matrix: Matrix }[],
	axis: Axis
): void {
	if (node.source !== null) return sumRows(lines[node.source].matrix, target);
	const life = lifeAxis(node.bounds, target.rows, lines, axis);
	const values = newMatrix(target.rows, life.length);
	// What lies before the axis ends where the axis begins.
	const end = node.part === 'whole' ? life.length : axis.first - life.first;
	const machine = new Machine(lines, life, createArena(0), target.rows * life.length);
	machine.run(node.program, values, null, 0, target.rows, 0, end);
	sumRows(values, target);
}

/** All periods between the first and the last day that the rows name; at least those of the axis. */
function lifeAxis(
	bounds: readonly Program[],
	rows: number,
	lines: readonly { matrix: Matrix }[],
	axis: Axis
): Axis {
	let first = axis.firstDay[0];
	let last = axis.lastDay[axis.length - 1];
	const machine = new Machine(lines, axis, createArena(0), rows * axis.length);
	const column = newMatrix(rows, axis.length);
	for (const program of bounds) {
		machine.run(program, column, null, 0, rows, 0, 1);
		for (let r = 0; r < rows; r++) {
			if (column.marks && column.marks[r] !== NUMBER) continue;
			const day = Math.min(LATEST, Math.max(EARLIEST, column.values[r]));
			first = Math.min(first, day);
			last = Math.max(last, day);
		}
	}
	return axis.covering(first, last);
}

function sumRows(source: Matrix, target: Matrix): void {
	target.errors = false;
	for (let r = 0; r < source.rows; r++) {
		let sum = 0;
		let error = NUMBER;
		for (let t = 0; t < source.periods; t++) {
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
