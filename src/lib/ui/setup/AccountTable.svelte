<script lang="ts">
	import type { Calendar } from '../../core/calendar/calendar';
	import type { ChartRow, MovedFigures } from '../../core/views/chart-row';
	import Conflicts from '../entry/Conflicts.svelte';
	import { Saving } from '../entry/saving.svelte';
	import type { EditBatch } from '../grid/editing/edits.svelte';
	import type { Entered } from '../grid/entered';
	import Grid from '../grid/Grid.svelte';
	import type { CellOf } from '../grid/types';
	import { ApiError, patch } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import { notices } from '../kit/notices.svelte';
	import { counted } from '../writing/count';
	import {
		ACCOUNT_COLUMNS,
		accountCell,
		accountEdits,
		accountRows,
		accountWords,
		countsIn,
		movedByAccount,
		type AccountColumn
	} from './account-table';
	import Moved from './Moved.svelte';

	/** The chart as a table: what accounts are is typed, pasted and filled down, many at once. */
	interface Props {
		/** Those that are shown, in the order of the chart. */
		accounts: readonly ChartRow[];
		all: readonly ChartRow[];
		edits: EditBatch<Entered>;
		calendar: Calendar;
	}
	let { accounts, all, edits, calendar }: Props = $props();

	interface Conflict {
		cell: { account: string; column: AccountColumn; value: string | null };
		theirs: string | null;
	}
	/** What would move. */
	let asking = $state.raw<MovedFigures[] | null>(null);
	let trying = $state(false);
	const byCode = $derived(new Map(all.map((a) => [a.code, a])));
	const nameOf = (code: string) => byCode.get(code)?.name ?? code;
	const columns = [...ACCOUNT_COLUMNS];
	const rows = $derived(accountRows(accounts));
	const cell: CellOf = (row, column) => accountCell(byCode.get(row.key)!, column.key);

	const saving = new Saving<Entered, Conflict>({
		get edits() {
			return edits;
		},
		send: (typed) => patch('accounts', { cells: accountEdits(typed) }),
		differs: (data): data is Conflict[] => Array.isArray(data),
		cellOf: ({ cell, theirs }) => ({ row: cell.account, column: cell.column, theirs }),
		view: ({ cell, theirs }) => ({
			name: `${nameOf(cell.account)}, ${columns.find((c) => c.key === cell.column)!.label}`,
			mine: accountWords(cell.column, cell.value),
			theirs: accountWords(cell.column, theirs),
			user: '',
			at: ''
		}),
		told: (count) => `${counted(count, 'change')} saved, in all scenarios.`
	});
	export const busy = (): boolean => saving.busy || trying;
	/** Saves what is typed; what would move by it is said before. */
	export async function save(): Promise<void> {
		if (!countsIn(edits.list)) return saving.save();
		trying = true;
		try {
			const cells = accountEdits(edits.list);
			const { moved } = await patch<{ moved: MovedFigures[] }>('accounts', { cells, dry: true });
			if (moved.length) asking = moved;
			else await saving.save();
		} catch (e) {
			if (!(e instanceof ApiError)) throw e;
			// What somebody else has changed is shown where it is saved.
			if (e.status === 409) await saving.save();
			else notices.say(e.message, true);
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
		label="Accounts"
		head="Code"
		{columns}
		{rows}
		{cell}
		{calendar}
		open={0}
		figures="whole"
		{edits}
		labelWidth={170}
		keeps="accounts"
		onsay={(m) => notices.say(m)}
	/>
</div>
<Conflicts
	bind:list={saving.conflicts}
	onkeep={() => void saving.resolve(true)}
	ontake={() => void saving.resolve(false)}
/>
{#if asking}
	<Dialog title="Change these accounts?" action="Change" onaction={sure} onclose={() => (asking = null)}>
		<p>Totals that hold them change, for they have figures:</p>
		{#each movedByAccount(asking) as [account, moved] (account)}
			<h3>{nameOf(account)}</h3>
			<Moved {moved} format={byCode.get(account)?.format} />
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
