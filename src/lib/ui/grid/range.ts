/** Places and blocks of cells. */
import type { Place } from './types';

/** A block of cells, all bounds included. */
export interface Block {
	top: number;
	bottom: number;
	left: number;
	right: number;
}

export const blockOf = (a: Place, b: Place): Block => ({
	top: Math.min(a.r, b.r),
	bottom: Math.max(a.r, b.r),
	left: Math.min(a.c, b.c),
	right: Math.max(a.c, b.c)
});

export const contains = (block: Block, { r, c }: Place) =>
	r >= block.top && r <= block.bottom && c >= block.left && c <= block.right;

export const heightOf = (block: Block) => block.bottom - block.top + 1;
export const widthOfBlock = (block: Block) => block.right - block.left + 1;

/** All places of a block, row by row. */
export function placesOf(block: Block): Place[] {
	const list: Place[] = [];
	for (let r = block.top; r <= block.bottom; r++)
		for (let c = block.left; c <= block.right; c++) list.push({ r, c });
	return list;
}

/** The next place in a direction where filled and empty meet, as spreadsheets do. */
export function edgeFrom(
	from: Place,
	[dr, dc]: readonly [number, number],
	size: { rows: number; columns: number },
	filled: (place: Place) => boolean
): Place {
	let { r, c } = from;
	const inside = (y: number, x: number) => y >= 0 && y < size.rows && x >= 0 && x < size.columns;
	const through = inside(r + dr, c + dc) && filled({ r, c }) && filled({ r: r + dr, c: c + dc });
	while (inside(r + dr, c + dc)) {
		if (through && !filled({ r: r + dr, c: c + dc })) break;
		r += dr;
		c += dc;
		if (!through && filled({ r, c })) break;
	}
	return { r, c };
}
