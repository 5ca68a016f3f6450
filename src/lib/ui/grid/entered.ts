/** What is typed into cells: figures, and in lists of things words, dates, yes or no, what is picked. */

/** Null takes away what is typed there. */
export type Entered = number | string | boolean | null;

/** What came of a text: a value, or why it is none. */
export type ReadText = { value: Entered } | { reason: string };

/** How a cell that takes no figures is typed into. */
export interface WordEntry {
	/** As it stands in the cell, and as it is offered to be changed. */
	shown(value: Entered): string;
	typed(value: Entered): string;
	read(text: string): ReadText;
	/** All that it can be, to pick from. */
	choices?: readonly string[];
}
