<script lang="ts">
	import { ownValue } from '$lib/core/text';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Input from '$lib/ui/kit/form/Input.svelte';
	import Label from '$lib/ui/kit/form/Label.svelte';
	import { ApiError, post, remove } from '$lib/ui/kit/api';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import Dialog from '$lib/ui/kit/Dialog.svelte';
	import ImportMembers from '$lib/ui/models/design/ImportMembers.svelte';
	import MemberDialog from '$lib/ui/models/design/MemberDialog.svelte';
	import { counted } from '$lib/ui/writing/count';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import Field from '$lib/ui/kit/form/Field.svelte';
	import Listing from '$lib/ui/kit/Listing.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';
	import Tabs from '$lib/ui/kit/Tabs.svelte';
	import { tabPanel } from '$lib/ui/kit/tab-panel';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	let text = $state('');
	let editing: { member: string | null; parent: string | null } | null = $state(null);
	let naming = $state(false);
	let loading = $state(false);
	let name = $state('');
	let problem = $state('');
	const editable = $derived(data.may['change driver models']);
	const dimension = $derived(
		data.dimensions.find((d) => d.code === page.url.searchParams.get('dimension')) ?? data.dimensions[0]
	);
	const words = $derived(text.toLowerCase().split(/\s+/).filter(Boolean));
	const shown = $derived(
		dimension?.members.filter((m) => {
			const all = [m.name, m.code, ...Object.values(m.attributes), ...Object.values(m.inherited)];
			return words.every((w) => all.join(' ').toLowerCase().includes(w));
		}) ?? []
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
		editing = null;
		await reread();
		notices.say(said);
	}
	async function removeMember(code: string, called: string) {
		try {
			await remove(`dimensions/${dimension.code}/members/${code}`);
			await done(`${called} is removed.`);
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'It was not removed.', true);
		}
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
			<a class="plain" href={withSelection('/drivers', data.selection, calendar)}>All drivers</a> · What driver
			models are laid out by. A new member is usable at once in every model, plan and report.
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
				<Button onclick={() => (editing = { member: null, parent: null })}
					>Add a {dimension.name.toLowerCase()} …</Button
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
		<Listing>
			<thead
				><tr
					><th>{dimension.name}</th>{#each dimension.attributes as a (a)}<th>{a}</th>{/each}<th class="num"
						>Rows</th
					><th></th></tr
				></thead
			>
			<tbody>
				{#each shown as m (m.code)}
					<tr>
						<td style:padding-left="{10 + m.depth * 18}px" class:parent={!m.leaf}
							>{m.name} <span class="muted code">{m.code}</span></td
						>
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
						<td class="doing">
							{#if editable}
								<TextButton onclick={() => (editing = { member: m.code, parent: null })}
									>change<span class="sr-only"> {m.name}</span></TextButton
								>
								{#if !m.leaf || m.rows === 0}<TextButton
										onclick={() => (editing = { member: null, parent: m.code })}
										>add under<span class="sr-only"> {m.name}</span></TextButton
									>{/if}
								{#if m.leaf && m.rows === 0}<TextButton onclick={() => removeMember(m.code, m.name)}
										>remove<span class="sr-only"> {m.name}</span></TextButton
									>{/if}
							{/if}
						</td>
					</tr>
				{:else}
					<tr
						><td colspan={dimension.attributes.length + 3} class="muted"
							>{dimension.members.length ? 'No member fits.' : 'No members yet. Add the first one.'}</td
						></tr
					>
				{/each}
			</tbody>
		</Listing>
	</div>
{:else}
	<p class="muted">There is no dimension yet. Products, regions or channels are usual ones.</p>
{/if}
{#if editing && dimension}
	<MemberDialog
		{dimension}
		member={dimension.members.find((m) => m.code === editing!.member) ?? null}
		parent={editing.parent}
		{scenarios}
		ondone={done}
		onclose={() => (editing = null)}
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
	.parent {
		font-weight: 600;
	}
	.code {
		font-weight: 400;
		font-size: 12px;
	}
	.doing {
		white-space: nowrap;
		text-align: right;
	}
	.doing > :global(*) {
		margin-left: 12px;
	}
</style>
