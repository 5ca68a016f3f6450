<script lang="ts">
	import Tick from '../kit/form/Tick.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Radio from '../kit/form/Radio.svelte';
	import Select from '../kit/form/Select.svelte';
	import { untrack } from 'svelte';
	import { MODEL_TEMPLATES } from '../../core/blocks/driver-model/templates';
	import type { CalendarSpec } from '../../core/calendar/spec';
	import { ApiError, post } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import PeriodsPick from './design/PeriodsPick.svelte';

	/** Begins a driver model: blank, from a template, or as a copy. */
	interface Props {
		scenario: { code: string; name: string };
		/** Other scenarios that may get it too. */
		others: readonly { code: string; name: string }[];
		models: readonly { code: string; name: string; dimensionCodes: readonly string[] }[];
		dimensions: readonly { code: string; name: string }[];
		onmade: (code: string) => void;
		onclose: () => void;
	}
	let { scenario, others, models, dimensions, onmade, onclose }: Props = $props();

	let kind: 'template' | 'blank' | 'copy' = $state('template');
	let template = $state(MODEL_TEMPLATES[0].code);
	let copied = $state(untrack(() => models[0]?.code ?? ''));
	let withValues = $state(true);
	let name = $state('');
	let description = $state('');
	let chosen: string[] = $state([]);
	let calendar: CalendarSpec | undefined = $state.raw();
	let rows = $state('all');
	let also: string[] = $state([]);
	let problem = $state('');
	let busy = $state(false);
	/** Models whose rows can be taken over. */
	const alike = $derived(models.filter((m) => chosen.every((d) => m.dimensionCodes.includes(d))));
	const rowsFrom = $derived(
		rows === 'all' || rows === 'none' || alike.some((m) => m.code === rows) ? rows : 'all'
	);

	async function make() {
		if (!name.trim()) {
			problem = 'Give it a name.';
			return;
		}
		busy = true;
		problem = '';
		try {
			const from =
				kind === 'copy'
					? { kind, model: copied, withValues }
					: {
							dimensions: chosen,
							...(calendar ? { calendar } : {}),
							...(kind === 'template' ? { kind, template } : { kind })
						};
			const wanted =
				rowsFrom === 'all' || rowsFrom === 'none' ? { kind: rowsFrom } : { kind: 'like', model: rowsFrom };
			const { code } = await post<{ code: string }>('models', {
				scenarios: [scenario.code, ...also],
				name,
				description,
				from,
				rows: wanted
			});
			onmade(code);
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'The model was not made.';
		} finally {
			busy = false;
		}
	}
</script>

<Dialog
	title="A new driver model in {scenario.name}"
	action={busy ? 'Calculating …' : 'Make it'}
	size="md"
	disabled={busy}
	{problem}
	onaction={make}
	{onclose}
>
	<div class="form">
		<div>
			<Label for="model-name">Name</Label>
			<Input id="model-name" bind:value={name} placeholder="Refit jobs" />
		</div>
		<fieldset>
			<legend>Start from</legend>
			<div class="ways">
				<Radio name="from" value="template" bind:group={kind}>a template</Radio>
				<Radio name="from" value="blank" bind:group={kind}>a blank model</Radio>
				{#if models.length}<Radio name="from" value="copy" bind:group={kind}>a copy</Radio>{/if}
			</div>
			{#if kind === 'template'}
				<Select
					aria-label="Template"
					placeholder=""
					bind:value={template}
					items={MODEL_TEMPLATES.map((t) => ({ value: t.code, name: t.name }))}
				/>
				<p class="muted">{MODEL_TEMPLATES.find((t) => t.code === template)?.description}</p>
			{:else if kind === 'copy'}
				<Select
					aria-label="Copy of"
					placeholder=""
					bind:value={copied}
					items={models.map((m) => ({ value: m.code, name: m.name }))}
				/>
				<Tick bind:checked={withValues}>with its typed figures</Tick>
				<p class="muted">A copy posts to no account, so that nothing counts twice.</p>
			{/if}
		</fieldset>
		{#if kind !== 'copy'}
			<fieldset>
				<legend>By dimension; none makes one table</legend>
				<div class="ways">
					{#each dimensions as d (d.code)}<Tick value={d.code} bind:group={chosen}>{d.name}</Tick>{/each}
				</div>
			</fieldset>
			{#if chosen.length}
				<div>
					<Label for="model-rows">Rows</Label>
					<Select
						id="model-rows"
						placeholder=""
						bind:value={() => rowsFrom, (v) => (rows = v)}
						items={[
							{ value: 'all', name: 'every combination that rules allow' },
							...alike.map((m) => ({ value: m.code, name: `the combinations of ${m.name}` })),
							{ value: 'none', name: 'none yet' }
						]}
					/>
				</div>
			{/if}
		{/if}
		{#if kind !== 'copy'}<PeriodsPick {calendar} onchange={(c) => (calendar = c)} />{/if}
		<div>
			<Label for="model-description">Description</Label>
			<Input id="model-description" bind:value={description} placeholder="What it works out, for others" />
		</div>
		{#if others.length}
			<fieldset>
				<legend>Also in</legend>
				<div class="ways">
					{#each others as s (s.code)}<Tick value={s.code} bind:group={also}>{s.name}</Tick>{/each}
				</div>
			</fieldset>
		{/if}
	</div>
</Dialog>

<style>
	.form {
		display: grid;
		gap: 12px;
	}
	fieldset {
		display: grid;
		gap: 6px;
	}
	legend {
		color: var(--ink-2);
		margin-bottom: 4px;
	}
	.ways {
		display: flex;
		flex-wrap: wrap;
		gap: 6px 20px;
	}
</style>
