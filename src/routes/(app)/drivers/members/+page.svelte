<script lang="ts">
	import { ownValue } from '$lib/core/text';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Input from '$lib/ui/kit/form/Input.svelte';
	import Label from '$lib/ui/kit/form/Label.svelte';
	import { ApiError, patch, post } from '$lib/ui/kit/api';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import Dialog from '$lib/ui/kit/Dialog.svelte';
	import ImportMembers from '$lib/ui/models/design/ImportMembers.svelte';
	import MemberDialog from '$lib/ui/models/design/MemberDialog.svelte';
	import { counted } from '$lib/ui/writing/count';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import Field from '$lib/ui/kit/form/Field.svelte';
	import TreeListing from '$lib/ui/setup/TreeListing.svelte';
	import { TreeChanges } from '$lib/ui/setup/tree-changes.svelte';
	import type { DimensionView } from '$lib/core/views/dimension-view';
	import Tabs from '$lib/ui/kit/Tabs.svelte';
	import { tabPanel } from '$lib/ui/kit/tab-panel';

	type Member = DimensionView['members'][number] & { holds: boolean };
	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	let text = $state('');
	/** A new one is being added, under which. */
	let adding: { parent: string | null } | null = $state(null);
	let naming = $state(false);
	let loading = $state(false);
	let name = $state('');
	let problem = $state('');
	const editable = $derived(data.may['change driver models']);
	const dimension = $derived(
		data.dimensions.find((d) => d.code === page.url.searchParams.get('dimension')) ?? data.dimensions[0]
	);
	const changes = new TreeChanges<Member>({
		get items() {
			return (dimension?.members ?? []).map((m) => ({ ...m, holds: m.rows > 0 }));
		},
		get path() {
			return `dimensions/${encodeURIComponent(dimension.code)}/members`;
		},
		one: 'member',
		counts: [],
		says: ({ name }, { retired }) =>
			retired === undefined
				? undefined
				: retired
					? `${name} is retired: it stays where it holds figures, and is offered no more.`
					: `${name} is offered again.`,
		async putBack({ code, name, parent, retired, attributes }, before) {
			const path = `dimensions/${encodeURIComponent(dimension.code)}/members`;
			await post(path, { code, name, parent, attributes });
			const change = { ...(before === null ? {} : { before }), ...(retired ? { retired } : {}) };
			if (Object.keys(change).length) await patch(`${path}/${encodeURIComponent(code)}`, change);
		}
	});
	const words = $derived(text.toLowerCase().split(/\s+/).filter(Boolean));
	const shown = $derived(
		changes.items.filter((m) => {
			const all = [m.name, m.code, ...Object.values(m.attributes), ...Object.values(m.inherited)];
			return words.every((w) => all.join(' ').toLowerCase().includes(w));
		})
	);
	const scenarios = $derived.by(() => {
		const open = data.scenarios.filter((s) => s.kind !== 'actuals' && !s.locked);
		const chosen = open.filter((s) => s.code === data.selection.scenario);
		return [...chosen, ...open.filter((s) => s.code !== data.selection.scenario)];
	});
	function show(code: string) {
		const url = new URL(page.url);
		url.searchParams.set('dimension', code);
		void goto(url, { keepFocus: true, noScroll: true });
	}
	async function done(said: string) {
		adding = changes.editing = null;
		await reread();
		notices.say(said);
	}
	async function addDimension() {
		problem = '';
		try {
			const { code } = await post<{ code: string }>('dimensions', { name });
			naming = false;
			await reread();
			show(code);
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'It was not added.';
		}
	}
</script>

<svelte:head><title>Members · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>Members</h1>
		<p class="muted">
			<a class="plain" href={withSelection('/drivers', data.selection, calendar)}>All drivers</a> · What
			driver models are laid out by. A new member is usable at once in every model, plan and report.{editable
				? ' Arrow keys lead from row to row; drag a row to move it, or press Alt with an arrow key in it.'
				: ''}
		</p>
	</div>
	{#if editable}
		<div class="actions">
			<Button
				quiet
				onclick={() => {
					name = '';
					naming = true;
				}}>New dimension …</Button
			>
			{#if dimension}<Button quiet onclick={() => (loading = true)}>Paste or load …</Button>
				<Button onclick={() => (adding = { parent: null })}>Add a {dimension.name.toLowerCase()} …</Button
				>{/if}
		</div>
	{/if}
</div>
{#if dimension}
	<div class="tools">
		<Tabs
			label="Dimensions"
			panel="members"
			tabs={data.dimensions.map((d) => ({ key: d.code, name: d.name, count: d.members.length }))}
			chosen={dimension.code}
			onchoose={show}
		/>
		<Field placeholder="Find a member" aria-label="Find a member" bind:value={text} />
	</div>
	<div class="scroll" {...tabPanel('members', dimension.code)}>
		{#key dimension.code}
			<TreeListing
				one={dimension.name}
				items={shown}
				found={words.length > 0}
				{changes}
				{editable}
				columns={dimension.attributes.length + 1}
				mark={(m) => (m.retired ? 'retired' : '')}
				more={[
					{
						words: 'retire',
						fits: (m) => m.offered && (m.holds || !m.leaf),
						act: (m) => void changes.change(m, { retired: true })
					},
					{
						words: 'bring back',
						fits: (m) => m.retired,
						act: (m) => void changes.change(m, { retired: false })
					}
				]}
				onadd={(m) => (adding = { parent: m.code })}
			>
				{#snippet heads()}{#each dimension.attributes as a (a)}<th>{a}</th>{/each}<th class="num">Rows</th
					>{/snippet}
				{#snippet cells(m)}
					{#each dimension.attributes as a (a)}
						<td
							>{#if ownValue(m.attributes, a)}{ownValue(
									m.attributes,
									a
								)}{:else if ownValue(m.inherited, a)}<span class="muted" title="From above"
									>{ownValue(m.inherited, a)}</span
								>{/if}</td
						>
					{/each}
					<td class="num">{m.rows || ''}</td>
				{/snippet}
			</TreeListing>
		{/key}
	</div>
{:else}
	<p class="muted">There is no dimension yet. Products, regions or channels are usual ones.</p>
{/if}
{#if (adding || changes.editing) && dimension}
	<MemberDialog
		{dimension}
		member={changes.editing}
		parent={adding?.parent ?? null}
		{scenarios}
		ondone={done}
		onclose={() => (adding = changes.editing = null)}
	/>
{/if}
{#if loading}
	<ImportMembers
		{dimension}
		ondone={(count) => {
			loading = false;
			void done(`${counted(count, 'member')} added or changed.`);
		}}
		onclose={() => (loading = false)}
	/>
{/if}
{#if naming}
	<Dialog
		title="A new dimension"
		action="Add"
		disabled={!name.trim()}
		{problem}
		onaction={addDimension}
		onclose={() => (naming = false)}
	>
		<Label for="dimension-name">Name</Label>
		<Input id="dimension-name" bind:value={name} placeholder="Boat yard" />
	</Dialog>
{/if}

<style>
	.tools {
		display: flex;
		justify-content: space-between;
		align-items: end;
		margin: 10px 0;
	}
	.scroll {
		overflow: auto;
		flex: 1;
		min-height: 0;
	}
	.scroll :global(.doing) {
		white-space: nowrap;
		text-align: right;
	}
	.scroll :global(.doing button) {
		margin-left: 12px;
	}
</style>
