/** How a cell looks, as plain values: a cell that scrolls into sight is drawn from one of these, in one step. */
import type { GridCell, GridColumn } from './types';

/** What the grid knows of a cell besides what stands in it. */
export interface CellState {
	/** Typed and not saved. */
	unsaved: boolean;
	/** In a block of several chosen cells. */
	chosen: boolean;
	/** The fill handle is being drawn over it. */
	drawnOver: boolean;
	active: boolean;
	focused: boolean;
}

/** The classes of a cell, as one text. */
export function classesOf(column: GridColumn, cell: GridCell | undefined, state: CellState): string {
	let list = `cell ${column.kind}`;
	const add = (name: string, on: unknown) => {
		if (on) list += ` ${name}`;
	};
	add('apart', column.apart);
	add('rightward', column.align === 'right');
	add('unsaved', state.unsaved);
	add('chosen', state.chosen);
	add('drawnover', state.drawnOver);
	add('active', state.active);
	add('focused', state.active && state.focused);
	if (!cell) return list;
	add('editable', cell.editable);
	add('spreads', cell.spreads && !cell.editable);
	add('preview', cell.preview && !state.unsaved);
	add('override', cell.override && !state.unsaved);
	add('blocked', cell.blocked);
	add('error', typeof cell.value === 'string');
	add(cell.tone ?? '', cell.tone);
	add('action', cell.action);
	return list;
}

/** What is special about a cell, for those who do not see it. @param open first open period */
export function describe(
	column: GridColumn,
	cell: GridCell,
	{ unsaved, open }: { unsaved: boolean; open: number }
): string {
	const parts: string[] = [];
	if (unsaved) parts.push('not saved');
	else if (cell.preview) parts.push('with what is not saved');
	if (cell.override) parts.push('typed over its basis');
	if (cell.blocked) parts.push('blocked by a combination rule');
	for (const glyph of cell.glyphs ?? []) parts.push(glyph.words);
	if (column.span !== undefined && column.span.to < open) parts.push('closed');
	else if (cell.editable) parts.push('can be typed');
	else if (cell.spreads) parts.push('a total that can be typed and is spread');
	return parts.length ? `, ${parts.join(', ')}` : '';
}
