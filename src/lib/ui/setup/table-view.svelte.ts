/** Whether a tree is looked at as one, or as a table in which is typed. */
import { replaceState } from '$app/navigation';
import { page } from '$app/state';
import { EditBatch } from '../grid/editing/edits.svelte';
import type { Entered } from '../grid/entered';
import { notices } from '../kit/notices.svelte';
import type { View } from './table';

/** Its name in the address. */
const AS = 'as';

export class TableView {
	/** What is typed and not saved. */
	readonly edits = new EditBatch<Entered>();
	now = $state<View>(page.url.searchParams.get(AS) === 'table' ? 'table' : 'tree');

	readonly look = (view: View): void => {
		if (this.edits.count) return notices.say('Save what is typed in the table first, or discard it.', true);
		this.now = view;
		const url = new URL(page.url);
		if (view === 'table') url.searchParams.set(AS, view);
		else url.searchParams.delete(AS);
		replaceState(url, {});
	};
}
