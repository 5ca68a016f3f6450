<script lang="ts">
	import { untrack } from 'svelte';
	import type { ChartRow } from '../../core/views/chart-row';
	import Dialog from '../kit/Dialog.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';
	import Tick from '../kit/form/Tick.svelte';
	import { FLOWS, FORMATS, ROLLUPS, TYPES } from './account-words';

	/** Changes one account. */
	interface Props {
		account: ChartRow;
		/** Headings that it can lie under. */
		headings: readonly ChartRow[];
		problem: string;
		/** What it would do is being calculated. */
		busy: boolean;
		onchange: (change: Partial<ChartRow>) => void;
		onclose: () => void;
	}
	let { account, headings, problem, busy, onchange, onclose }: Props = $props();
	let form = $state(
		untrack(() => ({
			name: account.name,
			parent: account.parent ?? '',
			type: account.type,
			rollup: account.rollup,
			format: account.format,
			cashFlow: account.cashFlow ?? '',
			translation: account.translation === true
		}))
	);
	const places = $derived([
		{ value: '', name: 'the top' },
		...headings.map((h) => ({ value: h.code, name: `${'\u2003'.repeat(h.depth)}${h.name}` }))
	]);
	const flows = [
		{ value: '', name: 'as its heading' },
		...FLOWS.map((f) => (f.value === 'none' ? { ...f, name: 'Never paid, as depreciation is not' } : f))
	];
	/** Only what differs is sent. */
	function keep(event: SubmitEvent) {
		event.preventDefault();
		const now = {
			...form,
			name: form.name.trim(),
			parent: form.parent || null,
			cashFlow: form.cashFlow || null
		};
		const was = {
			...account,
			cashFlow: account.cashFlow ?? null,
			translation: account.translation === true
		};
		onchange(
			Object.fromEntries(
				Object.entries(now).filter(([key, value]) => value !== was[key as keyof typeof now])
			) as Partial<ChartRow>
		);
	}
</script>

<Dialog
	title="Change {account.name}"
	action={busy ? 'Calculating …' : 'Change'}
	disabled={busy}
	form="account-form"
	size="md"
	{problem}
	{onclose}
>
	<form id="account-form" onsubmit={keep}>
		<div>
			<Label for="account-name">Name</Label>
			<Input id="account-name" required maxlength={120} autocomplete="off" bind:value={form.name} />
		</div>
		<div>
			<Label for="account-parent">Lies under</Label>
			<Select placeholder="" id="account-parent" items={places} bind:value={form.parent} />
		</div>
		<div>
			<Label for="account-type">Is</Label>
			<Select placeholder="" id="account-type" items={TYPES} bind:value={form.type} />
		</div>
		<div>
			<Label for="account-rollup">In a quarter or year</Label>
			<Select placeholder="" id="account-rollup" items={ROLLUPS} bind:value={form.rollup} />
		</div>
		<div>
			<Label for="account-format">Is written as</Label>
			<Select placeholder="" id="account-format" items={FORMATS} bind:value={form.format} />
		</div>
		<div>
			<Label for="account-flow">In the cash flow</Label>
			<Select placeholder="" id="account-flow" items={flows} bind:value={form.cashFlow} />
		</div>
		{#if form.type === 'equity' && account.leaf}
			<div class="tick">
				<Tick bind:checked={form.translation}>Takes what translation of currencies leaves</Tick>
			</div>
		{/if}
	</form>
	<p class="muted">
		Its code is {account.code}, and stays. A change holds in all scenarios at once; figures of locked ones
		cannot change.
	</p>
</Dialog>

<style>
	form {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 12px 20px;
	}
	.tick {
		grid-column: span 2;
	}
</style>
