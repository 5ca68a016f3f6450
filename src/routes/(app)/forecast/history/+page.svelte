<script lang="ts">
	import { counted, digits } from '$lib/ui/writing/count';
	import { goto } from '$app/navigation';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import { SvelteSet } from 'svelte/reactivity';
	import { ApiError, get, post } from '$lib/ui/kit/api';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import { moment } from '$lib/ui/writing/format';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import Listing from '$lib/ui/kit/Listing.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';

	let { data } = $props();
	const { calendar } = useCompany();
	type Save = (typeof data.saves)[number];
	let older: Save[] = $state([]);
	let more = $state(true);
	let busy = $state('');
	const open = new SvelteSet<string>();
	const saves = $derived([...data.saves, ...older]);
	const scenario = $derived(data.scenarios.find((s) => s.code === data.selection.scenario));
	const editable = $derived(
		data.may['change driver models'] && scenario && !scenario.locked && scenario.kind !== 'actuals'
	);
	const mayCopy = $derived(data.may['change scenarios']);
	const keyOf = (s: Save) => s.batch || s.at + s.kind;

	const KINDS: Record<string, string> = {
		plan: 'typed in a department’s plan',
		driver: 'typed in a driver model',
		schedule: 'a schedule: rows, or columns and lines',
		adopt: 'adjustments written in',
		adjustment: 'an adjustment',
		undo: 'a save taken back',
		basis: 'a basis',
		formula: 'a formula',
		model: 'lines and formulas of a driver model',
		note: 'a note',
		items: 'items behind a cell',
		attachment: 'an attachment',
		lock: 'the lock',
		copy: 'made as a copy',
		scenario: 'what it is called, where it stands or who sees it',
		close: `a ${calendar.words.one} closed`,
		follow: 'what it looks back through',
		delete: 'deleted or brought back'
	};
	async function takeBack(save: Save) {
		busy = save.batch;
		try {
			const { undone } = await post<{ undone: number }>(`scenarios/${data.selection.scenario}/history/undo`, {
				batch: save.batch
			});
			older = [];
			await reread();
			notices.say(`${counted(undone, 'change is', 'changes are')} taken back.`);
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'This was not taken back.', true);
		} finally {
			busy = '';
		}
	}
	async function asItStood(save: Save) {
		busy = save.batch;
		try {
			const { code } = await post<{ code: string }>(`scenarios/${data.selection.scenario}/history/as-of`, {
				batch: save.batch
			});
			await goto(withSelection('/plan', { ...data.selection, scenario: code }, calendar), {
				invalidateAll: true
			});
			notices.say(
				'This is a locked copy as it stood after that save. It stands in the folder “As it stood”.'
			);
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'The copy was not made.', true);
		} finally {
			busy = '';
		}
	}
	async function load() {
		const last = saves.at(-1);
		if (!last) return;
		const { saves: found } = await get<{ saves: Save[] }>(
			`scenarios/${data.selection.scenario}/history?before=${encodeURIComponent(last.at)}`
		);
		older = [...older, ...found];
		more = found.length > 0;
	}
</script>

<svelte:head><title>History · {scenario?.name} · Yardstave</title></svelte:head>

<h1>History: {scenario?.name}</h1>
<p class="muted">
	<a class="plain" href={withSelection('/forecast', data.selection, calendar)}>All scenarios</a> · every save, newest
	first
</p>
{#if saves.length}
	<Listing class="mt-2.5">
		<thead><tr><th>When</th><th>Who</th><th>What</th><th>Changes</th><th></th></tr></thead>
		<tbody>
			{#each saves as save (keyOf(save))}
				<tr>
					<td class="when">{moment(save.at)}</td>
					<td>{save.user}</td>
					<td>{KINDS[save.kind] ?? save.kind}</td>
					<td>
						<TextButton
							aria-expanded={open.has(keyOf(save))}
							onclick={() => (open.has(keyOf(save)) ? open.delete(keyOf(save)) : open.add(keyOf(save)))}
							>{counted(save.count, 'change')}</TextButton
						>
						{#if open.has(keyOf(save))}
							<ul>
								{#each save.changes as c (c.subject)}
									<li>
										{c.words.place}{#if c.words.before || c.words.after}: <s>{c.words.before}</s> →
											<b>{c.words.after}</b>{/if}
										{#if c.why}<span class="muted">{c.why}</span>{/if}
									</li>
								{/each}
								{#if save.count > save.changes.length}<li class="muted">
										and {digits(save.count - save.changes.length)} more
									</li>{/if}
							</ul>
						{/if}
					</td>
					<td class="end"
						>{#if save.batch && mayCopy}<Button quiet disabled={busy !== ''} onclick={() => asItStood(save)}
								>As it stood then</Button
							>{/if}
						{#if save.undoable && editable}<Button quiet disabled={busy !== ''} onclick={() => takeBack(save)}
								>{busy === save.batch ? 'Taking back …' : 'Take back'}</Button
							>{/if}</td
					>
				</tr>
			{/each}
		</tbody>
	</Listing>
	{#if more && saves.length >= 50}<p>
			<Button quiet onclick={load}>Earlier saves</Button>
		</p>{/if}
{:else}
	<p class="muted empty">Nothing has been changed here since the company was loaded.</p>
{/if}

<style>
	td {
		vertical-align: top;
	}
	.when {
		white-space: nowrap;
	}
	ul {
		margin: 4px 0;
		font-size: 13px;
	}
	.end {
		text-align: right;
		white-space: nowrap;
	}
	.empty {
		margin-top: 14px;
	}
</style>
