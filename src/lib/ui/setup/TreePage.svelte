<script lang="ts">
	import type { ComponentProps, Snippet } from 'svelte';
	import SaveBar from '../entry/SaveBar.svelte';
	import ListPage from '../kit/ListPage.svelte';
	import Segments from '../kit/Segments.svelte';
	import { useCompany } from '../shell/company';
	import { TableView } from './table-view.svelte';
	import { VIEWS } from './table';
	import TreeTable from './TreeTable.svelte';

	/** A page that is a tree of the company: to be arranged as one, or typed into as a table. */
	interface Props {
		title: string;
		find: string;
		text: string;
		/** The state of things, as sentences. */
		says: Snippet;
		/** What can be added to the tree. */
		action: Snippet;
		tree: Snippet;
		table: Omit<ComponentProps<typeof TreeTable>, 'label' | 'edits' | 'calendar'>;
	}
	let { title, find, text = $bindable(), says: words, action: add, tree, table: own }: Props = $props();
	const { calendar } = useCompany();
	const view = new TableView();
	let table = $state<TreeTable>();
</script>

<ListPage {title} {find} bind:text>
	{#snippet says()}{@render words()}
		{#if view.now === 'tree'}Arrow keys lead from row to row; drag a row to move it, or press Alt with an
			arrow key in it.{:else}Type, paste or fill down; what would move figures is said before it is saved.{/if}{/snippet}
	{#snippet action()}
		{#if view.now === 'table'}
			<SaveBar edits={view.edits} saving={table?.busy() ?? false} onsave={() => void table?.save()} />
		{:else}{@render add()}{/if}
	{/snippet}
	{#snippet views()}<Segments
			label="Shown as"
			choices={VIEWS}
			chosen={view.now}
			onchoose={view.look}
		/>{/snippet}
	{#if view.now === 'table'}<TreeTable
			bind:this={table}
			label={title}
			{...own}
			edits={view.edits}
			{calendar}
		/>{:else}{@render tree()}{/if}
</ListPage>
