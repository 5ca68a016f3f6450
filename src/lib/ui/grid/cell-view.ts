/** How a cell looks, as plain values: a cell that scrolls into sight is drawn from one of these, in one step. */
import { isFault } from '../../core/engine/values';
import { ACTIVE, DRAWN_OVER, SEVERAL } from './marks';
import type { GridCell, GridColumn } from './types';

/** The classes of a cell by what stands in it, as one text. @param unsaved typed and not saved */
export function classesOf(column: GridColumn, cell: GridCell | undefined, unsaved: boolean): string {
	let list = `cell ${column.kind}`;
	const add = (name: string, on: unknown) => {
		if (on) list += ` ${name}`;
	};
	add('apart', column.apart);
	add('rightward', column.align === 'right');
	add('unsaved', unsaved);
	if (!cell) return list;
	add('editable', cell.editable);
	add('spreads', cell.spreads && !cell.editable);
	add('preview', cell.preview && !unsaved);
	add('override', cell.override && !unsaved);
	add('blocked', cell.blocked);
	add(
		typeof cell.value === 'string' && !isFault(cell.value) ? 'mixed' : 'error',
		typeof cell.value === 'string'
	);
	add(cell.tone ?? '', cell.tone);
	add('action', cell.action);
	add('glyphed', cell.glyphs?.length);
	return list;
}

/** The classes that a cell's marks add, with a space before each. */
export const markClasses = (marks: number, focused: boolean): string =>
	(marks & SEVERAL ? ' chosen' : '') +
	(marks & DRAWN_OVER ? ' drawnover' : '') +
	(marks & ACTIVE ? (focused ? ' active focused' : ' active') : '');

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
