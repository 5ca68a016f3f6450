/** Rows of a schedule's grid, with what is typed and what is to be known of each of them. */
import type { Calendar } from '../../core/calendar/calendar';
import type { ScheduleViewRow, Unshared } from '../../core/views/schedule-view';
import type { GridRow } from '../grid/types';
import { counted } from '../writing/count';
import { share } from '../writing/format';
import { spoken } from '../writing/spoken';
import type { ScheduleCells } from './cells.svelte';
import type { Compared } from './compared';
import type { RowBatch } from './row-batch.svelte';
import { gridRows, isUnder, laid, staysLaid, steadyRows } from './rows';

/** What they are made from; asked anew whenever it changes. */
export interface ListRowsSource {
	readonly batch: RowBatch;
	readonly cells: ScheduleCells;
	readonly calendar: Calendar;
	/** As they are saved; by key, these and those that are other by what is typed. */
	readonly rows: readonly ScheduleViewRow[];
	readonly saved: ReadonlyMap<string, ScheduleViewRow>;
	readonly changed: ReadonlyMap<string, ScheduleViewRow>;
	/** What is other in another scenario's rows; null where none is compared. */
	readonly compared: Compared | null;
}

const NONE: ReadonlyMap<string, ScheduleViewRow> = new Map();

export class ListRows {
	readonly #source: ListRowsSource;
	readonly #needs = $derived.by(() => new Map(this.#source.batch.lacking.map((l) => [l.id, l.columns])));
	readonly #new = $derived.by(
		() => new Set(this.#source.compared?.rows.flatMap(({ id, what }) => (what === 'new' ? [id] : [])) ?? [])
	);
	readonly #asSaved = $derived.by(() => {
		const { rows, saved, batch } = this.#source;
		const { added, after, removed } = batch;
		const own = (key: string) => this.#row(key, saved.get(key));
		return laid(gridRows({ saved: rows, changed: NONE, added, after, removed }, own));
	});
	#former: GridRow[] = [];

	/** The very list of before where nothing of it is other. */
	readonly list = $derived.by(() => {
		const { rows, cells, changed, batch } = this.#source;
		const own = (key: string) => this.#row(key, cells.row(key));
		if (staysLaid(this.#asSaved, changed, own)) return (this.#former = this.#asSaved.rows);
		const { added, after, removed } = batch;
		this.#former = steadyRows(this.#former, gridRows({ saved: rows, changed, added, after, removed }, own));
		return this.#former;
	});

	constructor(source: ListRowsSource) {
		this.#source = source;
	}

	/** A row by its key, without those under it; one that is just put in has nothing but its key yet. */
	#row(key: string, row: ScheduleViewRow | undefined): GridRow {
		const { cells } = this.#source;
		const still = this.#needs.get(key);
		const lacks = still && `Still needs ${spoken(still.map((c) => c.label))}`;
		if (!row) return { key, label: key, kind: 'leaf', format: 'money', mark: lacks };
		return {
			key,
			label: labelOf(row),
			note: row.kind === 'share' ? 'share' : row.kind === 'line' ? cells.line(row.line)?.unit : undefined,
			spills: row.kind !== 'row',
			kind: row.kind === 'group' ? 'heading' : isUnder(row) ? 'part' : 'leaf',
			format: cells.formatOf(row.line),
			toggle: row.open === null ? undefined : row.open ? 'open' : 'closed',
			mark: lacks ?? this.#markOf(row)
		};
	}
	#markOf({ kind, id, unshared }: ScheduleViewRow): string | undefined {
		const { compared, calendar } = this.#source;
		if (unshared) return undivided(unshared, calendar);
		return kind === 'row' && this.#new.has(id) ? `Not in ${compared!.name}` : undefined;
	}
}

function labelOf({ kind, id, label, count, in: currency }: ScheduleViewRow): string {
	if (kind === 'row') return id;
	return kind === 'group' ? [label, count, ...(currency ? [currency] : [])].join(', ') : label;
}

function undivided({ first, count, sum }: Unshared, calendar: Calendar): string {
	const { one, many } = calendar.words;
	const more = count > 1 ? ` and in ${counted(count - 1, `more ${one}`, `more ${many}`)}` : '';
	return `Shares come to ${share(sum)} in ${calendar.label(first)}${more}`;
}
