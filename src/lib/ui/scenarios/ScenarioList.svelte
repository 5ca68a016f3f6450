<script lang="ts">
	import { useModules } from '../kit/modules';
	import { goto } from '$app/navigation';
	import Button from '../kit/form/Button.svelte';
	import { SvelteSet } from 'svelte/reactivity';
	import type { ScenarioKind } from '../../core/scenario/schema';
	import { ApiError, post, remove } from '../kit/api';
	import { useCompany, withSelection } from '../shell/company';
	import Menu from '../kit/Menu.svelte';
	import type { MenuItem } from '../kit/menu';
	import { notices } from '../kit/notices.svelte';
	import ScenarioDialog from './ScenarioDialog.svelte';
	import { reread } from '../kit/reread';
	import Field from '../kit/form/Field.svelte';
	import Listing from '../kit/Listing.svelte';
	import TextButton from '../kit/form/TextButton.svelte';
	import IconButton from '../kit/form/IconButton.svelte';

	/** All scenarios by folder; what can be done with each is in its menu. */
	export interface Entry {
		code: string;
		name: string;
		kind: ScenarioKind;
		first: number;
		last: number;
		actualsThrough: number | null;
		follows: string | null;
		origin: string | null;
		locked: boolean;
		description: string;
		folder: string;
		visibility: 'all' | 'finance' | 'people';
		people: string[];
		owner: string;
		ownerName: string;
		target: string | null;
		rates?: string | null;
		usedIn: string[];
	}
	interface Props {
		list: readonly Entry[];
		users: readonly { email: string; name: string }[];
		rateSets: readonly { code: string; name: string; actuals: boolean }[];
		oncopy: (s: Entry) => void;
		onunlock: (s: Entry) => void;
		onlock: (s: Entry) => void;
	}
	let { list, users, rateSets, oncopy, onunlock, onlock }: Props = $props();
	const isOn = useModules();
	const company = useCompany();
	const { calendar } = company;
	const may = $derived(company.data.may['change scenarios']);
	let words = $state('');
	const folded = new SvelteSet<string>();
	let changing = $state<Entry | null>(null);
	let menu = $state<{ x: number; y: number; scenario: Entry } | null>(null);
	/** Deleted a moment ago. */
	let deleted = $state<{ code: string; name: string } | null>(null);

	const found = $derived(
		list.filter((s) =>
			[s.name, s.folder, s.kind, s.ownerName, s.description]
				.join(' ')
				.toLowerCase()
				.includes(words.trim().toLowerCase())
		)
	);
	const folders = $derived.by(() => {
		const by = new Map<string, Entry[]>();
		for (const s of found) by.set(s.folder, [...(by.get(s.folder) ?? []), s]);
		return [...by].sort(([a], [b]) => (a === '' ? -1 : b === '' ? 1 : a.localeCompare(b)));
	});
	const nameOf = (code: string | null) => list.find((s) => s.code === code)?.name ?? '';
	const SEEN = { all: '', finance: 'finance only', people: 'named people' };
	const to = (path: string, s: Entry) =>
		withSelection(path, company.data.selection, calendar, { scenario: s.code });

	async function act(work: Promise<unknown>, done: string) {
		try {
			await work;
			await reread();
			if (done) notices.say(done);
			return true;
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'This did not work.', true);
			return false;
		}
	}
	async function drop(s: Entry) {
		if (await act(remove(`scenarios/${s.code}`), '')) deleted = { code: s.code, name: s.name };
	}
	async function bringBack() {
		if (deleted && (await act(post(`scenarios/${deleted.code}/restore`, {}), `${deleted.name} is back.`)))
			deleted = null;
	}
	function menuOf(s: Entry): MenuItem[][] {
		const open: MenuItem[] = [
			{ label: 'Plan', act: () => void goto(to('/plan', s)) },
			...(isOn('what-ifs') ? [{ label: 'What if', act: () => void goto(to('/forecast/what-if', s)) }] : []),
			{ label: 'History', act: () => void goto(to('/forecast/history', s)) }
		];
		if (!may || s.kind === 'actuals') return [s.kind === 'actuals' ? open.slice(0, 1) : open];
		return [
			open,
			[
				{
					label: `Name, folder, who sees it${isOn('targets') ? ', targets' : ''} …`,
					act: () => (changing = s)
				},
				{ label: 'Copy …', act: () => oncopy(s) },
				s.locked ? { label: 'Unlock …', act: () => onunlock(s) } : { label: 'Lock', act: () => onlock(s) }
			],
			[
				{
					label: s.usedIn.length ? `Delete (used in ${s.usedIn.length})` : 'Delete',
					disabled: s.usedIn.length > 0 || s.locked,
					act: () => void drop(s)
				}
			]
		];
	}
	function openMenu(event: MouseEvent, scenario: Entry) {
		const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
		menu = { x: box.right, y: box.bottom, scenario };
	}
</script>

<section>
	<div class="head">
		<h2>Scenarios</h2>
		<label class="find"
			><span class="sr-only">Find scenarios</span>
			<Field type="search" placeholder="Find scenarios" bind:value={words} /></label
		>
		<span class="muted">{found.length} of {list.length}</span>
	</div>
	{#if deleted}
		<p class="deleted" role="status">
			{deleted.name} is deleted. <Button quiet onclick={bringBack}>Bring it back</Button>
		</p>
	{/if}
	<Listing>
		<thead>
			<tr
				><th>Name</th><th>Kind</th><th>Span</th><th>Actuals through</th><th>From</th><th>Owner</th><th
					>Used in</th
				><th><span class="sr-only">Actions</span></th></tr
			>
		</thead>
		<tbody>
			{#each folders as [folder, entries] (folder)}
				{#if folder}
					<tr class="folder">
						<th colspan="8" scope="rowgroup">
							<TextButton
								class="folds"
								aria-expanded={!folded.has(folder)}
								onclick={() => (folded.has(folder) ? folded.delete(folder) : folded.add(folder))}
								>{folded.has(folder) ? '▸' : '▾'}
								{folder}
								<span class="count">· {entries.length}</span></TextButton
							>
						</th>
					</tr>
				{/if}
				{#if !folded.has(folder)}
					{#each entries as s (s.code)}
						<tr class:here={s.code === company.data.selection.scenario} data-scenario={s.code}>
							<td class:inside={folder}>
								<a class="plain" title={s.description} href={to('/forecast', s)}>{s.name}</a>
								{#if s.locked && s.kind !== 'actuals'}<span class="badge">locked</span>{/if}
								{#if SEEN[s.visibility]}<span class="badge">{SEEN[s.visibility]}</span>{/if}
							</td>
							<td>{s.kind}</td>
							<td>{calendar.label(s.first)} – {calendar.label(s.last)}</td>
							<td>{s.actualsThrough === null ? '–' : calendar.label(s.actualsThrough)}</td>
							<td>{nameOf(s.origin)}</td>
							<td>{s.ownerName}</td>
							<td title={s.usedIn.join(', ')} class="uses"
								>{s.usedIn.length > 1 ? `${s.usedIn[0]} and ${s.usedIn.length - 1} more` : s.usedIn[0]}</td
							>
							<td class="buttons"
								><IconButton
									class="dots"
									aria-haspopup="menu"
									label="Actions for {s.name}"
									onclick={(e) => openMenu(e, s)}>…</IconButton
								></td
							>
						</tr>
					{/each}
				{/if}
			{:else}
				<tr><td colspan="8" class="muted">No scenario is found by these words.</td></tr>
			{/each}
		</tbody>
	</Listing>
</section>
{#if menu}
	{@const at = menu}
	<Menu
		x={at.x}
		y={at.y}
		label="Actions for {at.scenario.name}"
		groups={menuOf(at.scenario)}
		onclose={() => (menu = null)}
	/>
{/if}
{#if changing}
	<ScenarioDialog
		scenario={changing}
		{users}
		{rateSets}
		folders={[...new Set(list.map((s) => s.folder).filter(Boolean))]}
		others={list.filter((s) => s.kind !== 'actuals' && s.code !== changing!.code)}
		onclose={() => (changing = null)}
	/>
{/if}

<style>
	.head {
		display: flex;
		gap: 14px;
		align-items: center;
		margin-bottom: 6px;
	}
	.find {
		margin-left: auto;
	}
	.count {
		color: var(--ink-2);
		font-weight: 400;
	}
	.folder th {
		text-align: left;
		padding: 6px 8px 4px;
		font-weight: 600;
		background: var(--ground);
	}
	.inside {
		padding-left: 24px;
	}
	.here td {
		background: var(--green-tint);
	}
	.badge {
		font-size: 11px;
		border: 1px solid var(--rule-strong);
		border-radius: 3px;
		padding: 0 4px;
		margin-left: 4px;
		color: var(--ink-2);
		white-space: nowrap;
	}
	.uses {
		max-width: 190px;
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.buttons {
		text-align: right;
	}
	.buttons :global(.dots) {
		padding: 2px 10px;
		font-weight: 600;
		letter-spacing: 1px;
	}
	.folder :global(.folds) {
		color: inherit;
		text-decoration: none;
	}
	.deleted {
		background: var(--green-tint);
		padding: 6px 12px;
		border-radius: 6px;
		margin-bottom: 8px;
	}
</style>
