/** What keys do in a grid, as spreadsheets have taught them. */
import { edgeFrom } from './range';
import type { Place } from './types';

/** What matters of a key. */
export type Key = Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'shiftKey' | 'altKey'>;

const ARROWS: Record<string, readonly [number, number]> = {
	ArrowUp: [-1, 0],
	ArrowDown: [1, 0],
	ArrowLeft: [0, -1],
	ArrowRight: [0, 1]
};
const controls = (key: Key) => key.ctrlKey || key.metaKey;

/** Where a key leads from a place; undefined when it leads nowhere. It may lead out of the grid. */
export function placeAfter(
	key: Key,
	from: Place,
	grid: {
		size: { rows: number; columns: number };
		/** Rows in sight. */
		page: number;
		filled: (place: Place) => boolean;
	}
): Place | undefined {
	const { size, page } = grid;
	const step = ARROWS[key.key];
	if (step && key.altKey && key.shiftKey) return undefined;
	if (step)
		return controls(key)
			? edgeFrom(from, step, size, grid.filled)
			: { r: from.r + step[0], c: from.c + step[1] };
	switch (key.key) {
		case 'Home':
			return { r: controls(key) ? 0 : from.r, c: 0 };
		case 'End':
			return { r: controls(key) ? size.rows - 1 : from.r, c: size.columns - 1 };
		case 'PageDown':
			return { r: from.r + page, c: from.c };
		case 'PageUp':
			return { r: from.r - page, c: from.c };
	}
	return undefined;
}

/** Whether Alt and an arrow fold or unfold a row. */
export function foldOf(key: Key): 'fold' | 'unfold' | undefined {
	if (!key.altKey || key.shiftKey) return undefined;
	return key.key === 'ArrowLeft' ? 'fold' : key.key === 'ArrowRight' ? 'unfold' : undefined;
}

export type Command =
	| 'open'
	| 'enter'
	| 'type'
	| 'follow'
	| 'menu'
	| 'help'
	| 'clear'
	| 'one'
	| 'all'
	| 'undo'
	| 'redo'
	| 'fill right'
	| 'fill down'
	| 'wider'
	| 'narrower';

/** Commands that belong to grids that can be typed in; elsewhere the browser has their keys. */
export const CHANGING: ReadonlySet<Command> = new Set(['undo', 'redo', 'fill right', 'fill down']);

export function commandOf(key: Key): Command | undefined {
	switch (key.key) {
		case ' ':
			return 'open';
		case 'Enter':
			return key.altKey ? 'follow' : 'enter';
		case 'F1':
			return 'help';
		case 'F2':
			return 'type';
		case 'ContextMenu':
			return 'menu';
		case 'F10':
			return key.shiftKey ? 'menu' : undefined;
		case 'Delete':
		case 'Backspace':
			return key.altKey || controls(key) ? undefined : 'clear';
		case 'Escape':
			return 'one';
		case 'ArrowRight':
			return key.altKey && key.shiftKey ? 'wider' : undefined;
		case 'ArrowLeft':
			return key.altKey && key.shiftKey ? 'narrower' : undefined;
	}
	if (!controls(key)) return undefined;
	switch (key.key.toLowerCase()) {
		case 'a':
			return 'all';
		case 'z':
			return key.shiftKey ? 'redo' : 'undo';
		case 'y':
			return 'redo';
		case 'r':
			return 'fill right';
		case 'd':
			return 'fill down';
	}
	return undefined;
}

/** A key that begins typing. */
export const begins = (key: Key) => key.key.length === 1 && !controls(key) && !key.altKey;
