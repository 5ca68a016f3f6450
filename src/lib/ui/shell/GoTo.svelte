<script lang="ts">
	import { goto } from '$app/navigation';
	import { tick } from 'svelte';
	import { useCompany, withSelection } from './company';

	/** One box that leads anywhere: stages, departments, scenarios, accounts, driver models. */
	let { open = $bindable(false) }: { open: boolean } = $props();
	const company = useCompany();
	let text = $state('');
	let at = $state(0);
	let dialog: HTMLDialogElement | undefined = $state();
	let field: HTMLInputElement | undefined = $state();

	interface Entry {
		kind: string;
		name: string;
		href: string;
	}
	const entries = $derived.by((): Entry[] => {
		const { data, calendar } = company;
		const to = (path: string, change = {}, more = {}) =>
			withSelection(path, data.selection, calendar, change, more);
		return [
			...data.stages.map((s) => ({ kind: 'Stage', name: s.name, href: to(s.href) })),
			...(data.may['run feeds'] ? [{ kind: 'Do', name: 'Load a ledger file', href: to('/setup/feed') }] : []),
			...(data.may['map ledger accounts']
				? [{ kind: 'Do', name: 'Map ledger accounts', href: to('/setup/map') }]
				: []),
			...(data.may['close months']
				? [{ kind: 'Do', name: `Close a ${calendar.words.one}`, href: to('/forecast') }]
				: []),
			...data.models.map((m) => ({ kind: 'Driver model', name: m.name, href: to(`/drivers/${m.code}`) })),
			...data.departments.map((d) => ({
				kind: 'Plan of',
				name: d.name,
				href: to('/plan', { department: d.code })
			})),
			...data.scenarios.map((s) => ({
				kind: 'Scenario',
				name: s.name,
				href: to('/plan', { scenario: s.code })
			})),
			...data.accounts.map((a) => ({
				kind: `Account ${a.code}`,
				name: a.name,
				href: to('/plan', {}, { account: a.code })
			}))
		];
	});
	const found = $derived.by(() => {
		if (!open) return [];
		const words = text.toLowerCase().split(/\s+/).filter(Boolean);
		return entries
			.filter((e) => words.every((w) => `${e.kind} ${e.name}`.toLowerCase().includes(w)))
			.slice(0, 12);
	});

	$effect(() => {
		if (open && dialog && !dialog.open) {
			text = '';
			at = 0;
			dialog.showModal();
			void tick().then(() => field?.focus());
		} else if (!open && dialog?.open) dialog.close();
	});

	function follow(entry: Entry | undefined) {
		if (!entry) return;
		open = false;
		void goto(entry.href);
	}
	function onkeydown(event: KeyboardEvent) {
		if (event.key === 'ArrowDown') at = Math.min(at + 1, found.length - 1);
		else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0);
		else if (event.key === 'Enter') follow(found[at]);
		else return;
		event.preventDefault();
	}
</script>

<dialog
	bind:this={dialog}
	aria-label="Go to or do"
	onclose={() => (open = false)}
	onclick={(e) => e.target === dialog && (open = false)}
>
	<div class="box">
		<input
			bind:this={field}
			bind:value={text}
			oninput={() => (at = 0)}
			{onkeydown}
			placeholder="A department, account, scenario, or something to do"
			role="combobox"
			aria-label="Go to or do"
			aria-expanded="true"
			aria-controls="goto-list"
			aria-activedescendant={found.length ? `goto-${at}` : undefined}
		/>
		<ul id="goto-list" role="listbox" aria-label="Places">
			{#each found as entry, i (entry.kind + entry.href)}
				<!-- svelte-ignore a11y_click_events_have_key_events -->
				<li id="goto-{i}" role="option" aria-selected={i === at} onclick={() => follow(entry)}>
					<span>{entry.name}</span><small>{entry.kind}</small>
				</li>
			{:else}
				<li class="none" role="option" aria-selected="false">Nothing has this name.</li>
			{/each}
		</ul>
	</div>
</dialog>

<style>
	dialog {
		margin: 90px auto auto;
		width: 520px;
		border: 1px solid var(--rule-strong);
		border-radius: 8px;
		background: var(--sheet);
		color: var(--ink);
		padding: 0;
		box-shadow: 0 16px 48px var(--shade);
	}
	dialog::backdrop {
		background: var(--shade);
	}
	input {
		width: 100%;
		border: 0;
		border-bottom: 1px solid var(--rule);
		padding: 12px 16px;
		font: inherit;
		font-size: 15px;
		background: transparent;
		color: var(--ink);
		outline: none;
	}
	li {
		display: flex;
		justify-content: space-between;
		padding: 6px 16px;
		cursor: pointer;
	}
	li small {
		color: var(--ink-2);
	}
	[aria-selected='true'] {
		background: var(--green-tint);
	}
	.none {
		color: var(--ink-2);
	}
</style>
