/** What a grid shows, as plain data. */
import type { Span } from '../../core/calendar/spans';
import type { Cell } from '../../core/engine/values';
import type { NumberFormat } from '../../core/company/schema';
import type { Entered, WordEntry } from './entered';

export interface GridColumn {
	key: string;
	label: string;
	/** Words above the labels, over neighbours that share them. */
	group?: string;
	width: number;
	/** Figures, words, a small line of the row's values, or a bar from a zero line (value −1 to 1). */
	kind: 'figure' | 'text' | 'shape' | 'bar';
	/** The period or periods it stands for; the rod is drawn over them. */
	span?: Span;
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
	typed?: Entered;
	/** It takes words rather than figures; `typed` is what stands in it. */
	entry?: WordEntry;
	/** What stands in the cell when it is typed, where the value shown is something made of it. */
	under?: Cell;
	/** Under which names what is typed here is kept until it is saved; the row's and column's keys when absent. */
	at?: { row: string; column: string };
	/** What stands here once what is typed is taken away. */
	without?: Cell;
	editable?: boolean;
	/** What stands here may be taken out, and nothing be typed. */
	erasable?: boolean;
	/** A total that may be typed into: what is typed is spread into the cells under it. */
	spreads?: boolean;
	/** A typed value over a basis. */
	override?: boolean;
	/** Differs from what is saved, because of what is typed elsewhere and not saved yet. */
	preview?: boolean;
	/** A combination that a rule forbids. */
	blocked?: boolean;
	/** Notes, items, attachments that hang on the cell, in words. */
	glyphs?: readonly { shape: 'note' | 'items' | 'attachment'; words: string }[];
	/** Favourable, unfavourable, or worth attention. */
	tone?: 'good' | 'bad' | 'attention';
	/** Said when the pointer rests on it; worked out only then when it is a function. */
	title?: string | (() => string | undefined);
	/** Why it cannot be typed. */
	reason?: string;
	format?: NumberFormat;
	/** Values of a shape column. */
	values?: readonly Cell[];
	/** Opens something of its own on Enter or a click. */
	action?: boolean;
	/** Words that can be opened as a figure is. */
	opens?: boolean;
}

/** Whether it can be looked into. */
export const isOpened = (cell: GridCell | undefined, column: GridColumn): boolean =>
	cell !== undefined && (column.kind === 'figure' || cell.opens === true);

export interface GridRow {
	key: string;
	label: string;
	/** Quiet words behind the label: a unit. */
	note?: string;
	kind: 'heading' | 'leaf' | 'part' | 'total';
	format: NumberFormat;
	toggle?: 'open' | 'closed';
	/** Drawn in the gutter, with words for those who do not see it. */
	mark?: string;
	/** Rows under it that are shown. */
	rows?: GridRow[];
	/** Its name may run over the columns beside it, in which nothing stands. */
	spills?: boolean;
	/** How far in the name stands; by default as deep as it lies in the tree. */
	indent?: number;
}

/** The cell of a row under a column; undefined where there is none. It is asked for what is in sight only. */
export type CellOf = (row: GridRow, column: GridColumn) => GridCell | undefined;

/** A cell in the grid's own count: shown rows, and columns without the row's name. */
export interface Place {
	r: number;
	c: number;
}
