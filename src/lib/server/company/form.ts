/** How the files of a company folder are described. */
import type { Columns } from './table';

/** One sort of file in the company folder; `<…>` in its path stands for a code or a month. */
export interface FileForm {
	path: string;
	/** What the list of files says of it, behind the headings of a table. */
	says?: string;
	/** A company has to have it. */
	needed?: boolean;
}

/** A table of the folder: its headings, each with how a cell of it is read. */
export interface TableForm<C extends Columns = Columns> extends FileForm {
	columns: C;
	/** What the list of files says of single headings. */
	notes?: { [K in keyof C]?: string };
	/** Headings that have come with a later version; where they are missing, they are empty, and this is what that means. */
	later?: { [K in keyof C]?: string };
	/** Headings that no two rows have alike; a fault stands at the last of them. */
	unique?: readonly (keyof C & string)[];
}
export const tableForm = <C extends Columns>(form: TableForm<C>): TableForm<C> => form;
