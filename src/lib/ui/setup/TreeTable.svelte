<script lang="ts">
	import type { Calendar } from '../../core/calendar/calendar';
	import type { NumberFormat } from '../../core/company/schema';
	import type { MovedFigures } from '../../core/views/chart-row';
	import Conflicts from '../entry/Conflicts.svelte';
	import { Saving } from '../entry/saving.svelte';
	import type { Edit, EditBatch } from '../grid/editing/edits.svelte';
	import type { Entered } from '../grid/entered';
	import Grid from '../grid/Grid.svelte';
	import type { CellOf, GridColumn, GridRow } from '../grid/types';
	import { ApiError, patch } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import { notices } from '../kit/notices.svelte';
	import { counted } from '../writing/count';
	import Moved from './Moved.svelte';
	import { movedBy } from './table';

	/** A tree of the company as a table: what its items are is typed, pasted and filled down, many at once. */
	interface Props {
		label: string;
		/** Its place in the API, and what one of them is called there. */
		path: string;
		one: 'account' | 'department';
		columns: readonly GridColumn[];
		rows: GridRow[];
		cell: CellOf;
		/** What stands in a column, in words. */
		wordsOf: (column: string, value: Entered) => string;
		nameOf: (code: string) => string;
		formatOf?: (code: string) => NumberFormat | undefined;
		/** Columns by which figures may go elsewhere. */
		counts: readonly string[];
		/** Said above figures that move. */
		moves: string;
		edits: EditBatch<Entered>;
		calendar: Calendar;
	}
	let {
		label,
		path,
		one,
		columns,
		rows,
		cell,
		wordsOf,
		nameOf,
		formatOf,
		counts,
		moves,
		edits,
		calendar
	}: Props = $props();

	interface Conflict {
		cell: { account?: string; department?: string; column: string; value: string | null };
		theirs: string | null;
	}
	interface Answer {
		saved: number;
		moved: MovedFigures[];
	}
	/** What would move. */
	let asking = $state.raw<MovedFigures[] | null>(null);
	let trying = $state(false);

	const sent = (list: readonly Edit<Entered>[]) =>
		list.map(({ row, column, before, value }) => ({ [one]: row, column, before, value }));
	const saving = new Saving<Entered, Conflict>({
		get edits() {
			return edits;
		},
		send: (typed) => patch<Answer>(path, { cells: sent(typed) }),
		differs: (data): data is Conflict[] => Array.isArray(data),
		cellOf: ({ cell, theirs }) => ({ row: cell[one]!, column: cell.column, theirs }),
		view: ({ cell, theirs }) => ({
			name: `${nameOf(cell[one]!)}, ${columns.find((c) => c.key === cell.column)!.label}`,
			mine: wordsOf(cell.column, cell.value),
			theirs: wordsOf(cell.column, theirs),
			user: '',
			at: ''
		}),
		told: (count) => `${counted(count, 'change')} saved, in all scenarios.`,
		onfaults: refused
	});
	/** Says why, and in which column. */
	function refused({ message, faults: [fault] }: ApiError) {
		const column = columns.find((c) => c.key === fault?.column);
		notices.say(column ? `In “${column.label}”, ${fault.message}. Nothing was saved.` : message, true);
	}
	export const busy = (): boolean => saving.busy || trying;
	/** Saves what is typed; what would move by it is said before. */
	export async function save(): Promise<void> {
		if (!edits.list.some((e) => counts.includes(e.column))) return saving.save();
		trying = true;
		try {
			const { moved } = await patch<Answer>(path, { cells: sent(edits.list), dry: true });
			if (moved.length) asking = moved;
			else await saving.save();
		} catch (e) {
			if (!(e instanceof ApiError)) throw e;
			// What somebody else has changed is shown where it is saved.
			if (e.status === 409) await saving.save();
			else refused(e);
		} finally {
			trying = false;
		}
	}
	function sure() {
		asking = null;
		void saving.save();
	}
</script>

<div class="table">
	<Grid
		{label}
		head="Code"
		columns={[...columns]}
		{rows}
		{cell}
		{calendar}
		open={0}
		figures="whole"
		{edits}
		labelWidth={170}
		keeps={path}
		onsay={(m) => notices.say(m)}
	/>
</div>
<Conflicts
	bind:list={saving.conflicts}
	onkeep={() => void saving.resolve(true)}
	ontake={() => void saving.resolve(false)}
/>
{#if asking}
	<Dialog title="Change these {one}s?" action="Change" onaction={sure} onclose={() => (asking = null)}>
		<p>{moves}</p>
		{#each movedBy(one, asking) as [code, moved] (code)}
			<h3>{nameOf(code)}</h3>
			<Moved {moved} format={formatOf?.(code)} />
		{/each}
	</Dialog>
{/if}

<style>
	.table {
		display: flex;
		flex-direction: column;
		height: 100%;
	}
	h3 {
		margin-top: 10px;
	}
</style>
