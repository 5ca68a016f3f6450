<script lang="ts">
	import type { ComponentProps } from 'svelte';
	import type { Department, Entity } from '$lib/core/company/schema';
	import type { DepartmentRow } from '$lib/core/views/department-row';
	import { patch, post } from '$lib/ui/kit/api';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Label from '$lib/ui/kit/form/Label.svelte';
	import Select from '$lib/ui/kit/form/Select.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import AddToTree from '$lib/ui/setup/AddToTree.svelte';
	import AskMove from '$lib/ui/setup/AskMove.svelte';
	import { DEPARTMENT_COLUMNS, departmentCells } from '$lib/ui/setup/department-cells';
	import DepartmentDialog from '$lib/ui/setup/DepartmentDialog.svelte';
	import EntityDialog from '$lib/ui/setup/EntityDialog.svelte';
	import { notUnder } from '$lib/ui/setup/steps';
	import { tableRows } from '$lib/ui/setup/table';
	import TreeListing from '$lib/ui/setup/TreeListing.svelte';
	import TreePage from '$lib/ui/setup/TreePage.svelte';
	import { TreeChanges } from '$lib/ui/setup/tree-changes.svelte';
	import { counted } from '$lib/ui/writing/count';

	let { data } = $props();
	const EXAMPLE = 'Customer care\nProjects\n  Planning\n  Delivery';
	let text = $state('');
	/** Of those that are added; empty for that of what they lie under. */
	let entity = $state('');
	let naming = $state.raw<{ entity: Entity | null } | null>(null);

	const changes = new TreeChanges<DepartmentRow>({
		get items() {
			return data.tree;
		},
		path: 'departments',
		one: 'department',
		counts: ['parent'],
		async putBack({ name, parent, entity: own }, before) {
			const [made] = await post<Department[]>('departments', { parent, outline: name, entity: own });
			await patch(`departments/${encodeURIComponent(made.code)}`, { before });
		}
	});
	const byCode = $derived(new Map(data.tree.map((d) => [d.code, d])));
	const cells = $derived(departmentCells(data.entities));
	const nameOf = $derived(new Map(data.entities.map((e) => [e.code, e.name])));
	const words = $derived(text.toLowerCase().split(/\s+/).filter(Boolean));
	const shown = $derived(
		data.tree.filter((d) => {
			const all = [d.name, d.code, nameOf.get(d.entity), ...d.plans, ...d.reviews].join(' ').toLowerCase();
			return words.every((w) => all.includes(w));
		})
	);
	const added = (made: Department[]) =>
		void changes.added(
			made.map((d) => ({ ...d, depth: 0, leaf: true, holds: false, plans: [], reviews: [] }))
		);
	async function named(said: string) {
		naming = null;
		await reread();
		notices.say(said);
	}
	/** The same as a table. */
	const table: ComponentProps<typeof TreePage>['table'] = $derived({
		path: 'departments',
		one: 'department',
		columns: DEPARTMENT_COLUMNS,
		rows: tableRows(shown),
		cell: (row, column) => cells.cell(byCode.get(row.key)!, column.key),
		wordsOf: cells.words,
		nameOf: (code) => byCode.get(code)?.name ?? code,
		counts: ['entity'],
		moves: 'Their figures count in another currency from then on (their results):'
	});
</script>

<TreePage title="Departments" find="Find a department" bind:text {table}>
	{#snippet says()}{counted(data.tree.filter((d) => d.leaf).length, 'department')} that can be planned, in
		{counted(data.entities.length, 'legal entity', 'legal entities')}:
		{#each data.entities as e, i (e.code)}{i ? ', ' : ''}<TextButton onclick={() => (naming = { entity: e })}
				>{e.name}{e.currency === data.company.currency ? '' : ` (${e.currency})`}</TextButton
			>{/each}.{/snippet}
	{#snippet action()}<Button quiet onclick={() => (naming = { entity: null })}>New legal entity …</Button
		>{/snippet}
	{#snippet tree()}
		<TreeListing
			one="Department"
			items={shown}
			found={words.length > 0}
			{changes}
			columns={3}
			onadd={(department) => {
				entity = '';
				changes.add(department);
			}}
		>
			{#snippet heads()}<th>Legal entity</th><th>Plans it</th><th>Reviews it</th>{/snippet}
			{#snippet cells(d)}
				<td>{nameOf.get(d.entity)}</td>
				<td>{d.plans.join(', ')}</td>
				<td>{d.reviews.join(', ')}</td>
			{/snippet}
		</TreeListing>
	{/snippet}
</TreePage>
{#if changes.editing}
	<DepartmentDialog
		department={changes.editing}
		places={notUnder(data.tree, changes.editing.code, data.tree)}
		entities={data.entities}
		problem={changes.problem}
		busy={changes.busy}
		onchange={(change) => void changes.change(changes.editing!, change)}
		onclose={() => (changes.editing = null)}
	/>
{/if}
{#if changes.adding}
	<AddToTree
		path="departments"
		one="department"
		under={changes.adding.under}
		also={entity ? { entity } : {}}
		lead="One a line"
		example={EXAMPLE}
		ondone={added}
		onclose={() => (changes.adding = null)}
	>
		{#snippet fields()}
			<Label for="new-entity">They belong to</Label>
			<Select
				placeholder=""
				id="new-entity"
				items={[
					{ value: '', name: `what ${changes.adding?.under?.name} belongs to` },
					...data.entities.map((e) => ({ value: e.code, name: e.name }))
				]}
				bind:value={entity}
			/>
		{/snippet}
	</AddToTree>
{/if}
{#if changes.asking}<AskMove asked={changes.asking} {changes} of="its result" />{/if}
{#if naming}
	<EntityDialog
		entity={naming.entity}
		reporting={data.company.currency}
		ondone={named}
		onclose={() => (naming = null)}
	/>
{/if}
