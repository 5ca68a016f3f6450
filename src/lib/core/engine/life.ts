/** Sums an expression over its life, also outside the horizon. */
import { createArena } from './machine/arena';
import type { Axis } from './axis';
import type { Program } from './instructions';
import { Machine } from './machine/machine';
import type { Node } from './network';
import { BLANK, marksOf, newMatrix, NUMBER, type Matrix } from './values';

/** Days that a whole life can span: 1 January 1900 to 31 December 2399. */
const [EARLIEST, LATEST] = [2, 182_621];

/** Over which periods each node was summed last. */
const spans = new WeakMap<Node, { first: number; length: number }>();

/** Fills the node's column, in rows lo (included) to hi (excluded) where nothing else can have changed. */
export function wholeLife(
	node: Node & { kind: 'life' },
	target: Matrix,
	lines: readonly { matrix: Matrix }[],
	axis: Axis,
	lo: number,
	hi: number
): void {
	if (node.source !== null) return sumRows(lines[node.source].matrix, target, 0, target.rows);
	const life = lifeAxis(node.bounds, target.rows, lines, axis);
	const before = spans.get(node);
	spans.set(node, { first: life.first, length: life.length });
	// Over other periods than before, every row may come to something else.
	const same = before?.first === life.first && before.length === life.length;
	const [from, to] = same ? [Math.max(0, lo), Math.min(hi, target.rows)] : [0, target.rows];
	if (from >= to) return;
	const values = newMatrix(target.rows, life.length);
	// What lies before the axis ends where the axis begins.
	const end = node.part === 'whole' ? life.length : axis.first - life.first;
	const machine = new Machine(lines, life, createArena(0), (to - from) * life.length);
	machine.run(node.program, values, null, from, to, 0, end);
	sumRows(values, target, from, to);
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

function sumRows(source: Matrix, target: Matrix, lo: number, hi: number): void {
	if (lo === 0 && hi === target.rows) target.errors = false;
	for (let r = lo; r < hi; r++) {
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
