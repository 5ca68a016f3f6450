/** Saving a batch of typed cells, and what to do when somebody else was quicker. */
import type { Entered } from '../grid/entered';
import { ApiError, post } from '../kit/api';
import type { CellEdit, Written } from '../../core/inputs/cell';
import type { ConflictView } from './Conflicts.svelte';
import type { Edit, EditBatch } from '../grid/editing/edits.svelte';
import { notices } from '../kit/notices.svelte';
import { sheet } from '../figure/sheet.svelte';
import { reread } from '../kit/reread';

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

/** @template V what can be typed @template C what differs on the server */
export interface SavingPage<V extends Entered, C> {
	edits: EditBatch<V>;
	/** Sends them. @throws ApiError, 409 with what somebody else has changed */
	send(edits: readonly Edit<V>[]): Promise<{ saved: number }>;
	/** Whether what came with a refusal is such a list, one by one. */
	differs(data: unknown): data is C[];
	/** The grid's cell of a conflict, and what stands there now. */
	cellOf(conflict: C): { row: string; column: string; theirs: V };
	view(conflict: C): ConflictView;
	/** “3 cells saved” and what follows of it. */
	told(saved: number): string;
	/** Errors by place, where they are shown one by one. */
	onfaults?(error: ApiError): void;
}

export class Saving<V extends Entered = number | null, C = ServerConflict> {
	busy = $state(false);
	conflicts: ConflictView[] = $state([]);
	#raw: C[] = [];

	constructor(private readonly page: SavingPage<V, C>) {}

	async save(): Promise<void> {
		const { page } = this;
		this.busy = true;
		try {
			const { saved } = await page.send(page.edits.send());
			// Until the page shows what is saved, what was typed stays on it.
			if (!(await reread('The cells are saved. '))) return;
			page.edits.saved();
			sheet.refresh();
			notices.say(page.told(saved));
		} catch (e) {
			if (!(e instanceof ApiError)) throw e;
			if (e.status === 409 && page.differs(e.data)) {
				this.#raw = e.data;
				this.conflicts = this.#raw.map((c) => page.view(c));
			} else if ((e.faults.length || e.data) && page.onfaults) page.onfaults(e);
			else notices.say(e.message, true);
		} finally {
			this.busy = false;
		}
	}

	/** Keeps mine over theirs and saves, or takes theirs. */
	async resolve(keep: boolean): Promise<void> {
		const { edits, cellOf } = this.page;
		for (const c of this.#raw) {
			const { row, column, theirs } = cellOf(c);
			edits.rebase(row, column, theirs);
			if (!keep) edits.apply([{ row, column, before: theirs, value: theirs }]);
		}
		this.conflicts = [];
		await (keep ? this.save() : reread());
	}
}
