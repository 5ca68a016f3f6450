/** Typing in a cell, from its first key to the figure that is taken up. */
import type { Cell } from '../../../core/engine/values';
import { plain, readTyped } from '../../writing/format';
import { userStyle } from '../../writing/user-style.svelte';
import { formatOf, type Sheet } from '../sheet.svelte';
import type { GridColumn, GridRow, Place } from '../types';

/** So many are offered to pick from; typing narrows them. */
const MOST_OFFERED = 200;

/** What came of it when typing ended. */
export type Typed =
	/** The text is no number: said why, and typing goes on. */
	| { kind: 'refused'; reason: string }
	/** A figure for a total; null where it is what stood there. */
	| { kind: 'total'; cell: { row: GridRow; column: GridColumn }; value: number | null }
	| { kind: 'put'; at: Place };

export class Typing {
	readonly #sheet: Sheet;
	/** The cell and its text so far. */
	at = $state<(Place & { text: string }) | null>(null);
	/** What stood there to begin with; left as it is, nothing was typed. */
	#offered: string | null = null;

	constructor(sheet: Sheet) {
		this.#sheet = sheet;
	}

	/** @param first the key that it begins with, instead of what stands in the cell */
	begin(first?: string): void {
		const place = this.#sheet.active;
		const row = this.#sheet.rowAt(place.r)!;
		const cell = this.#sheet.cellAt(place)!;
		const column = this.#sheet.columns[place.c];
		if (cell.entry)
			return this.#offer(place, cell.entry.typed(this.#sheet.wordsIn(row, column, cell)), first);
		const edit = this.#sheet.pending(row, column, cell);
		const value = edit
			? this.#sheet.valueIn(row, column, { ...cell, without: undefined })
			: (cell.under ?? cell.value);
		const asPercent = formatOf(row, cell) === 'percent' && typeof value === 'number';
		const text = asPercent ? `${plain(Number((value * 100).toPrecision(12)))}%` : plain(asDecimal(value));
		this.#offer(place, text, first);
	}
	#offer(place: Place, text: string, first: string | undefined): void {
		this.#offered = first === undefined ? text : null;
		this.at = { ...place, text: first ?? text };
	}
	/** What can be picked, as far as it fits what is typed: all of it while nothing is. */
	get choices(): readonly string[] {
		if (!this.at) return [];
		const { text } = this.at;
		const all = this.#sheet.cellAt(this.at)?.entry?.choices ?? [];
		const sought = text === this.#offered ? '' : text.trim().toLowerCase();
		return all.filter((c) => c.toLowerCase().includes(sought)).slice(0, MOST_OFFERED);
	}
	cancel(): void {
		this.at = null;
	}
	/** Takes up what was typed; undefined when nothing was, or its cell has gone. */
	end(): Typed | undefined {
		if (!this.at) return undefined;
		const { r, c, text } = this.at;
		const [row, column, cell] = [this.#sheet.rowAt(r), this.#sheet.columns[c], this.#sheet.cellAt({ r, c })];
		if (!row || !cell) {
			this.at = null;
			return undefined;
		}
		if (text === this.#offered) {
			this.at = null;
			return cell.spreads && !cell.editable
				? { kind: 'total', cell: { row, column }, value: null }
				: { kind: 'put', at: { r, c } };
		}
		if (cell.entry) {
			const read = cell.entry.read(text);
			if ('reason' in read) return { kind: 'refused', reason: read.reason };
			this.at = null;
			this.#sheet.put([{ r, c, value: read.value }]);
			return { kind: 'put', at: { r, c } };
		}
		const value = readTyped(text, formatOf(row, cell), this.#sheet.valueIn(row, column, cell));
		if (value === undefined) return { kind: 'refused', reason: noNumber(text) };
		this.at = null;
		if (cell.spreads && !cell.editable)
			return { kind: 'total', cell: { row, column }, value: value === cell.value ? null : value };
		this.#sheet.put([{ r, c, value }]);
		return { kind: 'put', at: { r, c } };
	}
}

/** A calculated figure without the noise of its last binary digits. */
const asDecimal = (value: Cell): Cell => (typeof value === 'number' ? Number(value.toPrecision(15)) : value);

const noNumber = (text: string) =>
	`“${text}” is no number. Type one such as ${userStyle.decimal === ',' ? '1.234,50' : '1,234.50'}, 12k, =1200*1${userStyle.decimal}05 or +5%, or leave the cell empty.`;
