/** What a grid shows, as plain data. */
import type { Cell } from '../core/engine/values';
import type { NumberFormat } from '../core/model/schema';

export interface GridColumn {
	key: string;
	label: string;
	width: number;
	/** Figures, words, a small line of the row's values, or a bar from a zero line (value −1 to 1). */
	kind: 'figure' | 'text' | 'shape' | 'bar';
	/** Draws the rod over columns that are periods. */
	period?: number;
	/** Words that are numbers stand at the right. */
	align?: 'right';
	/** Takes up what room is left. */
	grows?: boolean;
	/** Stays in sight beside the row's name; such columns come first. */
	frozen?: boolean;
	/** Set off from the columns before it. */
	apart?: boolean;
}

export interface GridCell {
	value: Cell;
	/** Words in a text column. */
	text?: string;
	/** What was typed here, under an override or as the value itself. */
	typed?: number | null;
	editable?: boolean;
	/** A total that may be typed into: what is typed is spread into the cells under it. */
	spreads?: boolean;
	/** A typed value over a basis. */
	override?: boolean;
	/** Differs from what is saved, because of what is typed elsewhere and not saved yet. */
	preview?: boolean;
	/** Favourable, unfavourable, or worth attention. */
	tone?: 'good' | 'bad' | 'attention';
	title?: string;
	format?: NumberFormat;
	/** Values of a shape column. */
	values?: readonly Cell[];
	/** Opens something of its own on Enter or a click. */
	action?: boolean;
}

export interface GridRow {
	key: string;
	label: string;
	/** Quiet words behind the label: a unit. */
	note?: string;
	depth: number;
	kind: 'heading' | 'leaf' | 'part' | 'total';
	format: NumberFormat;
	cells: GridCell[];
	toggle?: 'open' | 'closed';
	/** Drawn in the gutter, with words for those who do not see it. */
	mark?: string;
}
