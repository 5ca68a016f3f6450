/** A page with another grid, of the same size as ours and with figures of the same kind. */
import { defineCustomElements } from '@revolist/revogrid/loader';

/** Rows and figure columns; the height of a row, the widths of names and figures (pixels). */
export interface Shape {
	rows: number;
	columns: number;
	height: number;
	name: number;
	figure: number;
}

defineCustomElements();
const json = async (path: string) => (await fetch(path)).json();
const [shape, source]: [Shape, Record<string, string>[]] = await Promise.all([json('/shape'), json('/rows')]);
const grid = document.createElement('revo-grid');
grid.rowSize = shape.height;
grid.range = true;
grid.columns = [
	{ prop: 'name', name: 'Line', size: shape.name, pin: 'colPinStart' },
	...Array.from({ length: shape.columns }, (_, c) => ({ prop: `c${c}`, name: `M${c}`, size: shape.figure }))
];
grid.source = source;
document.querySelector('main')!.append(grid);
