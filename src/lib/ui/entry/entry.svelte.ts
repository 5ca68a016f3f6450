/**
 * What pages share on which figures of a block are typed into a grid: what is typed and not saved, saving it and meeting
 * what others have saved, quarters that fold, another scenario beside, totals that are spread, the cell that an address
 * leads to. A page says what its block is, and what stands in its rows, columns and cells.
 */
import { page } from '$app/state';
import { untrack } from 'svelte';
import type { Calendar } from '../../core/calendar/calendar';
import { spanOnto } from '../../core/calendar/onto';
import { columnSpans, type Span } from '../../core/calendar/spans';
import type { NumberFormat } from '../../core/company/schema';
import type { CellAddress, CellEdit, TypedCell, Written } from '../../core/inputs/cell';
import type { Landing } from '../figure/trail.svelte';
import { EditBatch, type Edit } from '../grid/editing/edits.svelte';
import { Folds } from '../grid/folds.svelte';
import type Grid from '../grid/Grid.svelte';
import type { GridColumn, GridRow } from '../grid/types';
import { ApiError } from '../kit/api';
import { counted } from '../writing/count';
import { exact } from '../writing/format';
import { notices } from '../kit/notices.svelte';
import type { CompanyContext, FrameData } from '../shell/company';
import { showMonths } from '../shell/window';
import { besideColumns } from './beside';
import { Beside } from './beside.svelte';
import { saveCells, Saving, type ServerConflict } from './saving.svelte';
import { CannotSpread, type Spread } from './spread';

/** Cells of a grid, as they are chosen. */
export type Chosen = readonly { row: GridRow; column: GridColumn }[];

/** A cell of the block, whatever the period. */
export type Place = Omit<CellAddress, 'block' | 'period'>;
/** What a page says of itself. */
export interface EntrySource<S extends Spread> {
	readonly block: string;
	/** In whose periods the block is kept. */
	readonly calendar: Calendar;
	/** New with each load of what is saved. */
	readonly loaded: unknown;
	/** Scenarios that can stand beside the one selected. */
	readonly others: FrameData['scenarios'];
	/** Where another scenario’s figures of the same rows and periods are read. */
	pathOf(scenario: string): string;
	/** The grid’s row of a cell, and the other way round. */
	rowOf(place: Place): string;
	placeOf(row: string): Place;
	/** The scenario that they stand in. */
	readonly scenario: string;
	/** Words after “n cells saved”. */
	after?(count: number): string;
	/** A cell in words, its period apart, and how its figures are written. */
	named(place: Place): { name: string; format: NumberFormat };
	/** The cell to which the address leads, once its row is there. */
	readonly landing: Landing | null;
	/**
	 * The cells under those chosen.
	 * @returns null where there are none
	 * @throws CannotSpread, ApiError
	 */
	gather(chosen: Chosen, typed: number | null): Promise<S | null>;
	/** The same cells in another scenario, or a year ago. */
	shapeOf(spread: S, scenario: string): Promise<(number | null)[][]>;
}

/** @template B what is read for another scenario */
export class Entry<B, S extends Spread = Spread> {
	readonly edits = new EditBatch();
	readonly beside = new Beside<B>();
	readonly saving: Saving;
	readonly #company: CompanyContext;
	readonly #source: EntrySource<S>;
	grid: Grid | undefined = $state();
	spreading = $state.raw<S | null>(null);
	#landed = '';

	/** Begun with what the address says when the page is opened; then it follows the hand alone. */
	readonly folds = $derived.by(() => {
		const { calendar } = this;
		return untrack(() => new Folds(calendar));
	});
	/** The window in the block’s own periods. */
	readonly window = $derived.by(() =>
		spanOnto(this.calendar, this.#company.calendar, this.#company.data.selection)
	);
	readonly spans = $derived.by(() =>
		columnSpans(this.calendar, this.window, (first) => this.folds.has(first))
	);
	/** The scenario beside, where there is one. */
	readonly other = $derived.by(() => this.#source.others.find((s) => s.code === this.beside.scenario));
	/** What is typed and not saved. */
	readonly typed = $derived.by(() =>
		this.edits.list.map((e): TypedCell => ({
			block: this.#source.block,
			...this.#source.placeOf(e.row),
			period: this.calendar.parse(e.column)!,
			value: e.value
		}))
	);

	constructor(company: CompanyContext, source: EntrySource<S>) {
		this.#company = company;
		this.#source = source;
		this.saving = new Saving({
			edits: this.edits,
			send: (edits) =>
				saveCells(
					source.scenario,
					edits.map((e) => this.#written(e))
				),
			differs: (data): data is ServerConflict[] => Array.isArray(data),
			cellOf: ({ edit, theirs }) => ({
				row: source.rowOf(edit),
				column: this.calendar.key(edit.period),
				theirs
			}),
			view: ({ edit, theirs, user, at }) => {
				const { name, format } = source.named(edit);
				return {
					name: `${name}, ${this.calendar.label(edit.period)}`,
					mine: exact(edit.value, format),
					theirs: exact(theirs, format),
					user,
					at
				};
			},
			told: (count) => `${counted(count, 'cell')} saved${source.after?.(count) ?? ''}.`
		});
		$effect(() => {
			void source.loaded;
			const path = this.other ? source.pathOf(this.other.code) : '';
			untrack(() => this.beside.read(path));
		});
		// Leads to the cell the address asks for, once for each.
		$effect(() => {
			const { landing } = source;
			if (!landing || !this.grid) return;
			const month = this.#columnOf(landing.month);
			untrack(() => {
				const at = `${page.url.pathname} ${landing.row}/${month}`;
				if (this.#landed === at) return;
				this.#landed = at;
				this.grid?.goTo(landing.row, month);
			});
		});
	}

	get calendar(): Calendar {
		return this.#source.calendar;
	}

	/** A cell of the grid as it is sent. */
	#written({ row, column, before, value }: Edit): Written<CellEdit> {
		return { block: this.#source.block, ...this.#source.placeOf(row), period: column, before, value };
	}
	/** A figure that is seen in the company’s periods leads to the first of ours in it. */
	#columnOf(month: string): string {
		const company = this.#company.calendar;
		const asked = this.calendar.parse(month) === null ? company.parse(month) : null;
		return asked === null
			? month
			: this.calendar.key(spanOnto(this.calendar, company, { from: asked, to: asked }).from);
	}

	/** Columns of the scenario beside; none where there is none. */
	besideColumns(width: number): GridColumn[] {
		const { other, beside } = this;
		if (!other) return [];
		return besideColumns(
			this.calendar,
			this.spans,
			{ name: other.name, difference: beside.difference },
			width
		);
	}
	/** What is typed in a cell and not saved. */
	editAt(place: Place, period: number): Edit | undefined {
		return this.edits.at(this.#source.rowOf(place), this.calendar.key(period));
	}
	/** Shows some periods alone. */
	show(span: Span): void {
		const { calendar } = this.#company;
		showMonths(calendar, spanOnto(calendar, this.calendar, span));
	}
	/** A total was typed, or cells are to be changed together: the cells under them are gathered, and how is asked. */
	async spread(chosen: Chosen, typed: number | null): Promise<void> {
		try {
			const gathered = await this.#source.gather(chosen, typed);
			if (gathered) this.spreading = gathered;
		} catch (e) {
			const said = e instanceof CannotSpread || e instanceof ApiError;
			notices.say(said ? e.message : 'The cells under it could not be read.', !(e instanceof CannotSpread));
		}
	}
	shapeOf(scenario: string): Promise<(number | null)[][]> {
		return this.#source.shapeOf(this.spreading!, scenario);
	}
}
