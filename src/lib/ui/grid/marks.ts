/** What is marked in a row besides its figures, so that a cell hears of it only when its own row is concerned. */
import type { Block } from './range';
import type { Place } from './types';

/** Columns; none are from 0 to −1. */
export interface RowMarks {
	/** The chosen cell, or −1. */
	active: number;
	/** The chosen block. */
	left: number;
	right: number;
	/** The block is of more than one cell. */
	several: boolean;
	/** The row is the last of the block. */
	foot: boolean;
	/** What the fill handle is drawn over. */
	fillLeft: number;
	fillRight: number;
	/** The cell that is typed into, or −1. */
	typed: number;
}

/** The same for every row in which nothing is marked. */
export const UNMARKED: RowMarks = {
	active: -1,
	left: 0,
	right: -1,
	several: false,
	foot: false,
	fillLeft: 0,
	fillRight: -1,
	typed: -1
};

/** What is marked in the whole grid. */
export interface GridMarks {
	active: Place;
	range: Block;
	several: boolean;
	fills: Block | null;
	typed: Place | null;
}

/** What of it lies in a row; the very `UNMARKED` where nothing does. */
export function marksIn(r: number, { active, range, several, fills, typed }: GridMarks): RowMarks {
	const crosses = (block: Block | null): block is Block =>
		block !== null && r >= block.top && r <= block.bottom;
	const chosen = crosses(range);
	const filled = crosses(fills);
	if (!chosen && !filled && active.r !== r && typed?.r !== r) return UNMARKED;
	return {
		active: active.r === r ? active.c : -1,
		left: chosen ? range.left : 0,
		right: chosen ? range.right : -1,
		several: several && chosen,
		foot: chosen && range.bottom === r,
		fillLeft: filled ? fills.left : 0,
		fillRight: filled ? fills.right : -1,
		typed: typed?.r === r ? typed.c : -1
	};
}

/** Whether two rows are marked alike. */
export const sameMarks = (a: RowMarks, b: RowMarks): boolean =>
	a === b || (Object.keys(a) as (keyof RowMarks)[]).every((key) => a[key] === b[key]);

/** What is marked in one cell. As one number, so that a cell hears nothing while its own marks stay the same. */
export const ACTIVE = 1;
/** In the chosen block. */
export const CHOSEN = 2;
/** In a chosen block of more than one cell. */
export const SEVERAL = 4;
/** The last cell of the chosen block. */
export const LAST = 8;
/** The fill handle is drawn over it. */
export const DRAWN_OVER = 16;
export const TYPED = 32;

/** What of a row's marks lies in a column: the sum of the numbers above that hold. */
export function marksAt(c: number, row: RowMarks): number {
	if (row === UNMARKED) return 0;
	const chosen = c >= row.left && c <= row.right;
	return (
		(row.active === c ? ACTIVE : 0) |
		(chosen ? CHOSEN : 0) |
		(chosen && row.several ? SEVERAL : 0) |
		(row.foot && row.right === c ? LAST : 0) |
		(!chosen && c >= row.fillLeft && c <= row.fillRight ? DRAWN_OVER : 0) |
		(row.typed === c ? TYPED : 0)
	);
}

/** Keeps the last of what it is given, and gives it back as long as what comes has the same in it. */
export function steady<T extends object>(): (next: T) => T {
	let last: T | undefined;
	return (next) => {
		if (last) {
			let same = true;
			for (const key in next) if (next[key] !== last[key]) same = false;
			if (same) return last;
		}
		return (last = next);
	};
}
