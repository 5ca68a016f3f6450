/** Rows of a schedule that are put in, changed and taken out, until they are saved. */
import { rowValue } from '../../core/blocks/schedule/row-changes';
import {
	departmentColumn,
	type ScheduleDefinition,
	type ScheduleRow
} from '../../core/blocks/schedule/schema';
import type { Calendar } from '../../core/calendar/calendar';
import { EditBatch, type Edit } from '../grid/editing/edits.svelte';
import type { Entered } from '../grid/entered';
import { rowColumns } from './columns';
import { addedIn, freshIds, PRESENCE, removedIn, sentOf, type SentRows } from './edits';

/** What it is made from; asked anew whenever it changes. */
export interface RowBatchSource {
	readonly definition: ScheduleDefinition;
	readonly calendar: Calendar;
	/** Rows as they are saved, by what they are known by. */
	readonly list: ReadonlyMap<string, ScheduleRow>;
	/** The department in which new rows begin; null where it is to be chosen. */
	readonly department: string | null;
}

/** What was given before, where it holds the same in the same order. */
function steady<T extends Iterable<string>>(now: () => T): () => T {
	let former: T | undefined;
	return () => {
		const next = now();
		const same = former !== undefined && [...former].join('\n') === [...next].join('\n');
		return (former = same ? former! : next);
	};
}

export class RowBatch {
	readonly edits = new EditBatch<Entered>();
	/** Of rows that are put in, the ones that they follow; kept when they are taken back and put in again. */
	readonly after = new Map<string, string | null>();
	readonly #source: RowBatchSource;
	readonly sent = $derived.by(() => this.send(this.edits.list));
	// The same lists for as long as they hold the same, so that a figure that is typed moves no row.
	readonly added = $derived.by(steady(() => addedIn(this.edits.list)));
	readonly removed = $derived.by(steady(() => removedIn(this.edits.list)));

	constructor(source: RowBatchSource) {
		this.#source = source;
	}

	/** As they are sent to be saved. */
	send(edits: readonly Edit<Entered>[]): SentRows {
		const { definition, calendar } = this.#source;
		return sentOf(definition.code, calendar, edits, this.after);
	}

	/**
	 * Puts rows in behind another, or first for null, with what is usual in their columns.
	 * @returns what they are known by
	 */
	add(count: number, follows: string | null, like: Readonly<Record<string, Entered>> = {}): string[] {
		const { definition, list, department } = this.#source;
		const taken = [...list.keys(), ...this.added, ...this.after.keys()];
		const ids = freshIds(taken, definition.one, count);
		const usual: Record<string, Entered> = {};
		for (const c of definition.columns)
			if (c.formula === undefined && c.default !== undefined) usual[c.code] = c.default;
		const own = departmentColumn(definition)?.code;
		if (own && department !== null) usual[own] = department;
		const step: Edit<Entered>[] = [];
		let last = follows;
		for (const id of ids) {
			this.after.set(id, last);
			last = id;
			step.push({ row: id, column: PRESENCE, before: null, value: true });
			for (const [column, value] of Object.entries({ ...usual, ...like }))
				if (value !== null) step.push({ row: id, column, before: null, value });
		}
		this.edits.apply(step);
		return ids;
	}
	/** Puts one in behind another that holds the same. */
	duplicate(id: string): string {
		const typed = rowColumns(this.#source.definition).filter((c) => c.column?.formula === undefined);
		return this.add(1, id, Object.fromEntries(typed.map(({ code }) => [code, this.standing(id, code)])))[0];
	}
	/** Takes rows out, as one step. */
	remove(ids: readonly string[]): void {
		const step: Edit<Entered>[] = [];
		for (const id of ids) {
			const fresh = this.added.includes(id);
			step.push({ row: id, column: PRESENCE, before: fresh ? null : true, value: null });
			if (!fresh) continue;
			// Of one that was never saved nothing stays behind.
			for (const e of this.edits.list)
				if (e.row === id && e.column !== PRESENCE) step.push({ ...e, value: e.before });
		}
		this.edits.apply(step);
	}
	/** What stands in a column of a row now, typed or saved. */
	standing(id: string, column: string): Entered {
		const edit = this.edits.at(id, column);
		if (edit) return edit.value;
		const row = this.#source.list.get(id);
		return row ? rowValue(row, column) : null;
	}
	/** The last row that is there or put in; null where there is none. */
	get last(): string | null {
		return this.added.at(-1) ?? [...this.#source.list.keys()].at(-1) ?? null;
	}
}
