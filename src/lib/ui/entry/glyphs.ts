/** What hangs on a cell, as marks of the grid. */
import type { GridCell } from '../grid/types';
import { counted } from '../writing/count';

/** Notes, items and attachments on a cell. */
export interface CellMark {
	notes: number;
	items: number;
	attachments: number;
	/** The last note. */
	last: string;
}

export function glyphsOf(mark: CellMark | undefined): GridCell['glyphs'] {
	if (!mark) return undefined;
	return [
		...(mark.notes
			? [{ shape: 'note' as const, words: `${counted(mark.notes, 'note')}: ${mark.last}` }]
			: []),
		...(mark.items ? [{ shape: 'items' as const, words: `made up of ${counted(mark.items, 'item')}` }] : []),
		...(mark.attachments
			? [{ shape: 'attachment' as const, words: counted(mark.attachments, 'attachment') }]
			: [])
	];
}
