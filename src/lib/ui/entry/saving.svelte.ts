/** Saving a batch of typed cells, and what to do when somebody else was quicker. */
import { counted } from '../writing/count';
import { ApiError, post } from '../kit/api';
import type { CellEdit, Written } from '../../core/inputs/cell';
import type { ConflictView } from './Conflicts.svelte';
import type { Edit, EditBatch } from '../grid/editing/edits.svelte';
import { notices } from '../kit/notices.svelte';
import { sheet } from '../figure/sheet.svelte';
import { reachable, reread } from '../kit/reread';

/** A cell that differs on the server, as the API tells it. */
export interface ServerConflict {
	edit: CellEdit;
	theirs: number | null;
	user: string;
	at: string;
}

/** Saves typed cells of any blocks. @throws ApiError, 409 with a ServerConflict for each that somebody else has changed */
export const saveCells = (scenario: string, edits: readonly Written<CellEdit>[]) =>
	post<{ saved: number; batch: string }>(`scenarios/${encodeURIComponent(scenario)}/cells`, { edits });

export interface SavingPage {
	edits: EditBatch;
	scenario(): string;
	/** A cell of the grid as it is sent. */
	written(edit: Edit): Written<CellEdit>;
	/** The grid's cell of a conflict. */
	cellOf(conflict: ServerConflict): { row: string; column: string };
	view(conflict: ServerConflict): ConflictView;
	/** Words after "n cells saved". */
	after?: (count: number) => string;
}

export class Saving {
	busy = $state(false);
	conflicts: ConflictView[] = $state([]);
	#raw: ServerConflict[] = [];

	constructor(private readonly page: SavingPage) {}

	async save(): Promise<void> {
		const { page } = this;
		this.busy = true;
		try {
			const { saved } = await saveCells(page.scenario(), page.edits.send().map(page.written));
			// Until the page shows what is saved, what was typed stays on it.
			if (!(await reachable('The cells are saved. '))) return;
			await reread();
			page.edits.saved();
			sheet.refresh();
			notices.say(`${counted(saved, 'cell')} saved${page.after?.(saved) ?? ''}.`);
		} catch (e) {
			if (!(e instanceof ApiError)) throw e;
			if (e.status === 409 && Array.isArray(e.data)) {
				this.#raw = e.data as ServerConflict[];
				this.conflicts = this.#raw.map((c) => page.view(c));
			} else notices.say(e.message, true);
		} finally {
			this.busy = false;
		}
	}

	/** Keeps mine over theirs and saves, or takes theirs. */
	async resolve(keep: boolean): Promise<void> {
		const { edits, cellOf } = this.page;
		for (const c of this.#raw) {
			const { row, column } = cellOf(c);
			edits.rebase(row, column, c.theirs);
			if (!keep) edits.apply([{ row, column, before: c.theirs, value: c.theirs }]);
		}
		this.conflicts = [];
		await (keep ? this.save() : reread());
	}
}
