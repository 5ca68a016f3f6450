/** What a grid holds and what is chosen in it, without any element of a page. */
import { digits } from '../writing/count';
import type { Cell } from '../../core/engine/values';
import { figure, type Figures } from '../writing/format';
import type { Edit, EditBatch } from './editing/edits.svelte';
import type { Entered } from './entered';
import { blockOf, heightOf, placesOf, widthOfBlock, type Block } from './range';
import type { CellOf, GridCell, GridColumn, GridRow, Place } from './types';

/** What a sheet is read from; asked anew whenever it changes. */
export interface SheetSource {
	/** Rows that are shown, in their order. */
	readonly rows: readonly { row: GridRow }[];
	readonly columns: readonly GridColumn[];
	readonly cell: CellOf;
	readonly edits: EditBatch<Entered> | undefined;
	readonly figures: Figures;
}

/** A figure or words for a place, or null to take away what is typed there. */
export type Put = Place & { value: Entered };

/** Whether anything can be typed into a cell: a figure of its own, or a total that is spread. */
export const typable = (cell: GridCell | undefined) => cell?.editable === true || cell?.spreads === true;
export const reasonOf = (cell: GridCell | undefined) =>
	cell?.reason ?? 'This figure is calculated and cannot be typed.';
export const formatOf = (row: GridRow, cell: GridCell) => cell.format ?? row.format;

/** Among so many rows the first cell that can be typed is sought. */
const FIRST_ROWS = 60;

export class Sheet {
	readonly #source: SheetSource;
	/** The chosen cell, and the one that a chosen block was begun at. */
	#active = $state.raw<Place>({ r: 0, c: 0 });
	#anchor = $state.raw<Place>({ r: 0, c: 0 });
	range = $derived(blockOf(this.#active, this.#anchor));
	several = $derived(heightOf(this.range) > 1 || widthOfBlock(this.range) > 1);

	constructor(source: SheetSource) {
		this.#source = source;
	}

	get active(): Place {
		return this.#active;
	}
	get edits(): EditBatch<Entered> | undefined {
		return this.#source.edits;
	}
	get columns(): readonly GridColumn[] {
		return this.#source.columns;
	}
	get size(): { rows: number; columns: number } {
		return { rows: this.#source.rows.length, columns: this.#source.columns.length };
	}

	/** @param extend the block reaches from where it was begun to here */
	select({ r, c }: Place, extend = false): void {
		const within = (v: number, n: number) => Math.max(0, Math.min(n - 1, v));
		const { rows, columns } = this.size;
		this.#active = { r: within(r, rows), c: within(c, columns) };
		if (!extend) this.#anchor = this.#active;
	}
	selectBlock(block: Block): void {
		this.#anchor = { r: block.top, c: block.left };
		this.#active = { r: block.bottom, c: block.right };
	}
	/** The first cell that can be typed, row by row, not far down. */
	firstTypable(): Place | undefined {
		const { rows, columns } = this.size;
		for (let r = 0; r < Math.min(rows, FIRST_ROWS); r++)
			for (let c = 0; c < columns; c++) if (typable(this.cellAt({ r, c }))) return { r, c };
		return undefined;
	}
	/** Of a block, the chosen cell alone stays chosen. */
	selectOne(): void {
		this.#anchor = this.#active;
	}
	/** Stays within rows and columns that are there, when some have gone. */
	hold(): void {
		const { rows, columns } = this.size;
		if (this.#active.r >= rows) this.select({ r: rows - 1, c: this.#active.c });
		if (this.#active.c >= columns) this.select({ r: this.#active.r, c: columns - 1 }, true);
	}

	rowAt(r: number): GridRow | undefined {
		return this.#source.rows[r]?.row;
	}
	cellOf(row: GridRow, column: GridColumn): GridCell | undefined {
		return this.#source.cell(row, column);
	}
	cellAt({ r, c }: Place): GridCell | undefined {
		const [row, column] = [this.rowAt(r), this.columns[c]];
		return row && column ? this.cellOf(row, column) : undefined;
	}
	/** What is typed there and not saved. */
	pending(row: GridRow, column: GridColumn, cell: GridCell | undefined): Edit<Entered> | undefined {
		const edits = this.edits;
		if (!edits || !(cell?.editable || cell?.erasable)) return undefined;
		const at = addressOf(row, column, cell);
		return edits.at(at.row, at.column);
	}
	/** The figure that stands in a cell now: typed and not saved, or as loaded. */
	valueIn(row: GridRow, column: GridColumn, cell: GridCell): Cell {
		const edit = this.pending(row, column, cell);
		if (!edit) return cell.value;
		return typeof edit.value === 'number' ? edit.value : (cell.without ?? null);
	}
	/** The same of a cell that takes words. */
	wordsIn(row: GridRow, column: GridColumn, cell: GridCell): Entered {
		const edit = this.pending(row, column, cell);
		return edit ? edit.value : (cell.typed ?? null);
	}
	/** What typing into another cell would put there; undefined where it fits no such cell. */
	copiedTo(from: Place, to: Place): Entered | undefined {
		const [row, column, cell] = [this.rowAt(from.r), this.columns[from.c], this.cellAt(from)];
		const target = this.cellAt(to);
		if (!target?.entry) return this.numberAt(from);
		if (!row || !cell) return null;
		const read = target.entry.read(cell.entry ? cell.entry.typed(this.wordsIn(row, column, cell)) : '');
		return 'value' in read ? read.value : undefined;
	}
	shown(row: GridRow, column: GridColumn, cell: GridCell): string {
		if (cell.entry) return cell.entry.shown(this.wordsIn(row, column, cell));
		if (column.kind === 'text') return cell.text ?? '';
		const { figures, edits } = this.#source;
		// Who types sees whole figures.
		const detail = figures === 'thousand' && edits ? 'whole' : figures;
		return figure(this.valueIn(row, column, cell), formatOf(row, cell), detail);
	}
	/** The figure of a place; null where there is none. */
	numberAt(place: Place): number | null {
		const cell = this.cellAt(place);
		const value = cell && this.valueIn(this.rowAt(place.r)!, this.columns[place.c], cell);
		return typeof value === 'number' ? value : null;
	}
	writable(place: Place): boolean {
		return this.edits !== undefined && this.cellAt(place)?.editable === true;
	}
	/** Whether what is typed there can be taken away. */
	clearable(place: Place): boolean {
		return this.writable(place) || (this.edits !== undefined && this.cellAt(place)?.erasable === true);
	}
	/** Takes up figures as one step of the edits. */
	put(list: readonly Put[]): void {
		this.edits?.apply(
			list.map(({ value, ...place }) => {
				const [row, column, cell] = [this.rowAt(place.r)!, this.columns[place.c], this.cellAt(place)!];
				return { ...addressOf(row, column, cell), before: cell.typed ?? null, value };
			})
		);
	}

	/** Sum, average and count of several chosen figures, in words; empty where there are none. */
	summary = $derived.by(() => {
		if (!this.several) return '';
		let [sum, count] = [0, 0];
		for (const place of placesOf(this.range)) {
			const value = this.columns[place.c]?.kind === 'figure' ? this.numberAt(place) : null;
			if (value === null) continue;
			sum += value;
			count++;
		}
		if (!count) return '';
		const show = (v: number) => figure(v, 'money', 'cents');
		return `Sum ${show(sum)} · Average ${show(sum / count)} · Count ${digits(count)}`;
	});
}

/** Under which names what is typed in a cell is kept. */
const addressOf = (row: GridRow, column: GridColumn, cell: GridCell) =>
	cell.at ?? { row: row.key, column: column.key };
