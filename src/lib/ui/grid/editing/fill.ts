/** Filling cells from their neighbours. */
import { heightOf, type Block } from '../range';
import type { Place } from '../types';

/**
 * What follows after some figures: steps of equal size go on, anything else begins again from the first.
 * A single figure is repeated.
 */
export function continued(source: readonly (number | null)[], count: number): (number | null)[] {
	const steps = source.slice(1).map((v, i) => (v === null || source[i] === null ? NaN : v - source[i]));
	const last = source.at(-1) ?? null;
	const even =
		steps.length > 0 && steps.every((s) => Math.abs(s - steps[0]) <= 1e-9 * Math.max(1, Math.abs(s)));
	return Array.from({ length: count }, (_, i) =>
		even && last !== null
			? Number((last + steps[0] * (i + 1)).toPrecision(15))
			: (source[i % source.length] ?? null)
	);
}

/**
 * The block that a fill handle drawn to a place covers, with the block it began at. A drag goes either across or down,
 * whichever is farther; null while it has not left the block.
 */
export function drawnTo(from: Block, to: Place): Block | null {
	const across = Math.max(from.left - to.c, to.c - from.right);
	const below = Math.max(from.top - to.r, to.r - from.bottom);
	if (across <= 0 && below <= 0) return null;
	return below >= across
		? { ...from, top: Math.min(from.top, to.r), bottom: Math.max(from.bottom, to.r) }
		: { ...from, left: Math.min(from.left, to.c), right: Math.max(from.right, to.c) };
}

/**
 * The lines along which a block goes on into a larger one, on each side that it grew.
 * @returns for each line the places it is known from and those it goes on onto, both in the direction it goes
 */
export function linesFrom(block: Block, target: Block): { known: Place[]; onto: Place[] }[] {
	const downwards = heightOf(target) > heightOf(block);
	const [first, last, least, most] = downwards
		? [block.top, block.bottom, target.top, target.bottom]
		: [block.left, block.right, target.left, target.right];
	const lines: { known: Place[]; onto: Place[] }[] = [];
	const across = downwards ? counted(block.left, block.right) : counted(block.top, block.bottom);
	for (const line of across) {
		const places = (along: number[]) => along.map((i) => (downwards ? { r: i, c: line } : { r: line, c: i }));
		const known = places(counted(first, last));
		if (most > last) lines.push({ known, onto: places(counted(last + 1, most)) });
		if (least < first)
			lines.push({ known: known.toReversed(), onto: places(counted(least, first - 1).toReversed()) });
	}
	return lines;
}

const counted = (from: number, to: number) =>
	Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => from + i);
