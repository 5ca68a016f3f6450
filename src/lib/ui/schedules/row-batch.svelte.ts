/** Rows of a schedule that are put in, changed and taken out, until they are saved. */
import { identifierFault } from '../../core/blocks/schedule/check-rows';
import { freshIds } from '../../core/blocks/schedule/identifiers';
import { rowValue } from '../../core/blocks/schedule/row-changes';
import {
	departmentColumn,
	type ScheduleDefinition,
	type ScheduleRow
} from '../../core/blocks/schedule/schema';
import type { Calendar } from '../../core/calendar/calendar';
import { aOf } from '../../core/company/counted';
import { EditBatch, type Edit } from '../grid/editing/edits.svelte';
import type { Entered } from '../grid/entered';
import { rowColumns } from './columns';
import { addedIn, isOf, lackingIn, PRESENCE, removedIn, renamed, sentOf, type SentRows } from './edits';

/** What it is made from; asked anew whenever it changes. */
export interface RowBatchSource {
	readonly definition: ScheduleDefinition;
	readonly calendar: Calendar;
	/** Rows as they are saved, by what they are known by. */
	readonly list: ReadonlyMap<string, ScheduleRow>;
	/** Of all rows, whether they are in sight or not, the identifier with the highest number; null where none has one. */
	readonly lastId: string | null;
	/** The department in which new rows begin; null where it is to be chosen. */
	readonly department: string | null;
}

/** What was given before, where it says the same. */
function steady<T>(now: () => T, said: (value: T) => string): () => T {
	let former: { value: T; said: string } | undefined;
	return () => {
		const value = now();
		const next = { value, said: said(value) };
		if (former?.said !== next.said) former = next;
		return former!.value;
	};
}
const words = (list: Iterable<string>) => [...list].join('\n');

export class RowBatch {
	readonly edits = new EditBatch<Entered>();
	/** Of rows that are put in, the ones that they follow; kept when they are taken back and put in again. */
	readonly after = new Map<string, string | null>();
	readonly #source: RowBatchSource;
	readonly sent = $derived.by(() => this.send(this.edits.list));
	// The same lists for as long as they hold the same, so that a figure that is typed moves no row.
	readonly added = $derived.by(steady(() => addedIn(this.edits.list), words));
	readonly removed = $derived.by(steady(() => removedIn(this.edits.list), words));
	/** Rows that are put in and cannot be saved yet, with what they still need. */
	readonly lacking = $derived.by(
		steady(
			() => lackingIn(this.#source.definition, this.added, (id, column) => this.standing(id, column)),
			(list) => list.flatMap(({ id, columns }) => [id, ...columns.map((c) => c.code), '']).join('\n')
		)
	);

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
		const { definition, department } = this.#source;
		const ids = this.#fresh(count);
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
	#fresh(count: number): string[] {
		const { definition, list, lastId } = this.#source;
		const last = lastId === null ? [] : [lastId];
		return freshIds([...list.keys(), ...last, ...this.added, ...this.after.keys()], definition.one, count);
	}
	/** Why a row that is put in cannot be known by this; null where it can. */
	nameFault(id: string, to: string): string | null {
		if (to === id) return null;
		const taken = this.#source.list.has(to) || this.added.includes(to);
		return taken ? `there is ${aOf(this.#source.definition.one)} “${to}” already` : identifierFault(to);
	}
	/** Lets a row that is put in be known by something else: what is free where nothing is said. */
	rename(id: string, to = this.#fresh(1)[0]): string {
		if (to === id) return to;
		this.after.set(to, this.after.get(id) ?? null);
		for (const [row, follows] of this.after) if (follows === id) this.after.set(row, to);
		this.edits.apply(renamed(this.edits.list, id, to, this.#source.calendar));
		return to;
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
				if (e.column !== PRESENCE && isOf(e, id, this.#source.calendar)) step.push({ ...e, value: e.before });
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
