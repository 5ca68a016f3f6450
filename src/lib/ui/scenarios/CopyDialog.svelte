<script lang="ts">
	import type { ComponentProps } from 'svelte';
	import type { Beginning } from '../../core/scenario/schema';
	import { ApiError, post } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import Field from '../kit/form/Field.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Radio from '../kit/form/Radio.svelte';
	import Select from '../kit/form/Select.svelte';
	import Tick from '../kit/form/Tick.svelte';
	import { useModules } from '../kit/modules';
	import { notices } from '../kit/notices.svelte';
	import { reread } from '../kit/reread';
	import { readFigure } from '../writing/format';
	import CopyPeriods from './CopyPeriods.svelte';

	/** A scenario that begins as another one: with its figures, with none typed, or grown from the year before. */
	interface Props {
		scenario: ComponentProps<typeof CopyPeriods>['scenario'] & { code: string; name: string };
		onclose: () => void;
	}
	let { scenario, onclose }: Props = $props();
	const isOn = useModules();
	// svelte-ignore state_referenced_locally
	let name = $state(`${scenario.name} copy`);
	let kind = $state(isOn('what-ifs') ? 'what-if' : 'forecast');
	let periods: ComponentProps<typeof CopyPeriods>['value'] = $state.raw({});
	let begins: Beginning['with'] = $state('figures');
	let growth = $state('3');
	let withNotes = $state(false);
	let problem = $state('');
	let busy = $state(false);
	const KINDS = ['what-if', 'forecast', 'budget', 'long-range', 'target']
		.filter((k) => (k === 'what-if' ? isOn('what-ifs') : k !== 'target' || isOn('targets')))
		.map((k) => ({ value: k, name: k }));

	function beginning(): Beginning | null {
		if (begins !== 'growth') return { with: begins };
		const share = readFigure(growth.replace('%', ''), 'number');
		return typeof share === 'number'
			? { with: 'growth', share: Number((share / 100).toPrecision(12)) }
			: null;
	}
	async function copy(event: SubmitEvent) {
		event.preventDefault();
		const begin = beginning();
		if (!begin) {
			problem = `“${growth}” is no percentage.`;
			return;
		}
		busy = true;
		problem = '';
		try {
			await post('scenarios', {
				from: scenario.code,
				name,
				kind,
				notes: withNotes && (kind === 'target' || begins === 'figures'),
				...(kind === 'target' ? {} : { ...periods, begins: begin })
			});
			// Nothing of the dialog is there any more once it is closed.
			const said = `${name} is made; it is independent of ${scenario.name}.`;
			onclose();
			await reread();
			notices.say(said);
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'It was not made.';
		} finally {
			busy = false;
		}
	}
</script>

<Dialog
	title="Copy {scenario.name}"
	action={busy ? 'Copying …' : 'Copy'}
	form="copy"
	disabled={busy}
	{problem}
	{onclose}
>
	<form id="copy" class="form" onsubmit={copy}>
		<Label for="answer">Name of the copy</Label>
		<Input id="answer" required bind:value={name} />
		<Label for="kind">Kind</Label>
		<Select id="kind" placeholder="" items={KINDS} bind:value={kind} />
		{#if kind === 'target'}
			<p class="muted">Targets hold the figures of every account, typed; driver models stay behind.</p>
		{:else}
			<CopyPeriods {scenario} bind:value={periods} />
			<div role="radiogroup" aria-label="Begins with" class="begins">
				<p>Begins with</p>
				<Radio name="begins" value="figures" bind:group={begins}>its figures</Radio>
				<Radio name="begins" value="nothing typed" bind:group={begins}
					>nothing typed: its driver models and bases, to be filled in</Radio
				>
				<Radio name="begins" value="growth" bind:group={begins}
					>each account as the year before, changed by so much a year; driver models stay behind</Radio
				>
			</div>
			{#if begins === 'growth'}
				<Label for="growth">Amounts change by, in percent a year</Label>
				<span><Field id="growth" class="num" style="width: 72px" bind:value={growth} /> %</span>
			{/if}
		{/if}
		{#if kind === 'target' || begins === 'figures'}
			<Tick bind:checked={withNotes}>take notes, items and attachments along</Tick>
		{/if}
	</form>
</Dialog>

<style>
	.form,
	.begins {
		display: grid;
		gap: 8px;
	}
	.begins {
		gap: 4px;
	}
</style>
