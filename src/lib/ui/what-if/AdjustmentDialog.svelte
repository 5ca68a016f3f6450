<script lang="ts">
	import Button from '../kit/form/Button.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';
	import { untrack } from 'svelte';
	import { codeFor } from '../../core/company/code';
	import type { AdjustmentDefinition, AdjustmentStepDefinition } from '../../core/inputs/schema';
	import Dialog from '../kit/Dialog.svelte';
	import { useCompany } from '../shell/company';
	import { amountLabel, draftsOf, kindsOf, lineOf, stepOf, type Draft } from './draft';
	import type { Adjustable } from './words';
	import TextButton from '../kit/form/TextButton.svelte';

	/** Names an adjustment and says what it does, step by step. */
	interface Props {
		/** Null for a new one. */
		adjustment: AdjustmentDefinition | null;
		adjustables: readonly Adjustable[];
		/** Open periods (ordinals). */
		open: number;
		last: number;
		taken: readonly string[];
		onkeep: (adjustment: AdjustmentDefinition) => void;
		onclose: () => void;
	}
	let { adjustment, adjustables, open, last, taken, onkeep, onclose }: Props = $props();
	const company = useCompany();
	const { calendar } = company;
	/** In what a line is shifted: a weekly one by weeks. */
	const periodsOf = (block: string) => company.calendarOf(block);
	const fresh = (): Draft => ({
		block: adjustables[0].block,
		line: adjustables[0].lines[0].code,
		kind: 'percent',
		amount: '',
		where: {},
		from: '',
		to: ''
	});
	let name = $state(untrack(() => adjustment?.name ?? ''));
	let drafts: Draft[] = $state(
		untrack(() => adjustment?.steps.flatMap((step) => draftsOf(step, adjustables)) ?? [fresh()])
	);
	let problem = $state('');
	const months = $derived(
		Array.from({ length: last - open + 1 }, (_, i) => ({
			value: calendar.key(open + i),
			name: calendar.label(open + i)
		}))
	);
	const of = (block: string) => adjustables.find((a) => a.block === block)!;
	/** In a select, one text names block and line. */
	const lineItems = $derived(
		adjustables.flatMap((a) =>
			a.lines.map((l) => ({ value: `${a.block}.${l.code}`, name: `${a.name}: ${l.name}` }))
		)
	);

	const readStep = (d: Draft, i: number): AdjustmentStepDefinition | string => {
		const step = stepOf(d, lineOf(adjustables, d), periodsOf(d.block), calendar);
		return typeof step === 'string' && drafts.length > 1 ? `Step ${i + 1}: ${step}` : step;
	};
	/** What cannot be done to another line begins anew. */
	function choose(draft: Draft, block: string, line: string) {
		if (block !== draft.block) draft.where = {};
		draft.block = block;
		draft.line = line;
		const kinds = kindsOf(lineOf(adjustables, draft), periodsOf(block));
		if (kinds.some((k) => k.value === draft.kind) && draft.kind !== 'set') return;
		draft.kind = kinds[0].value;
		draft.amount = '';
	}
	function keep() {
		if (!name.trim()) {
			problem = 'Give it a name.';
			return;
		}
		const steps = drafts.map(readStep);
		const fault = steps.find((s) => typeof s === 'string');
		if (fault !== undefined) {
			problem = fault;
			return;
		}
		onkeep({
			code: adjustment?.code ?? codeFor(name, '-', taken, 'adjustment'),
			name: name.trim(),
			on: adjustment?.on ?? true,
			steps: steps as AdjustmentStepDefinition[],
			adopted: null
		});
	}
</script>

<Dialog
	title={adjustment ? 'Change the adjustment' : 'Add an adjustment'}
	action={adjustment ? 'Change' : 'Add'}
	size="lg"
	{problem}
	onaction={keep}
	{onclose}
>
	<Label for="adjustment-name">Name</Label>
	<Input id="adjustment-name" bind:value={name} placeholder="What would be done, in a few words" />
	{#each drafts as draft, i (i)}
		{@const line = lineOf(adjustables, draft)}
		{@const own = periodsOf(draft.block)}
		<fieldset>
			<legend
				>{drafts.length > 1 ? `Step ${i + 1}` : 'What it changes'}
				{#if drafts.length > 1}<TextButton onclick={() => (drafts = drafts.filter((_, j) => j !== i))}
						>Take out</TextButton
					>{/if}</legend
			>
			<div class="line">
				<div>
					<Label for="line-{i}">Line, column or account</Label>
					<Select
						id="line-{i}"
						items={lineItems}
						value={`${draft.block}.${draft.line}`}
						onchange={(e) => {
							const value = (e.currentTarget as HTMLSelectElement).value;
							const block = value.slice(0, value.indexOf('.'));
							choose(draft, block, value.slice(block.length + 1));
						}}
					/>
				</div>
				<div>
					<Label for="kind-{i}">What is done</Label>
					<Select id="kind-{i}" items={kindsOf(line, own)} bind:value={draft.kind} />
				</div>
				<div>
					<Label for="amount-{i}">{amountLabel(draft.kind, line, own)}</Label>
					{#if line?.column === 'choice'}
						<Select
							id="amount-{i}"
							placeholder="choose"
							items={(line.choices ?? []).map((c) => ({ value: String(c.value), name: c.name }))}
							bind:value={draft.amount}
						/>
					{:else}
						<Input id="amount-{i}" bind:value={draft.amount} />
					{/if}
				</div>
			</div>
			<div class="line">
				{#each of(draft.block).dimensions as d (d.code)}
					<div>
						<Label for="where-{i}-{d.code}">{d.name}</Label>
						<Select
							id="where-{i}-{d.code}"
							placeholder="all"
							items={[
								{ value: '', name: 'all' },
								...d.members.map((m) => ({ value: m.code, name: '\u00a0\u00a0'.repeat(m.depth) + m.name }))
							]}
							value={draft.where[d.code] ?? ''}
							onchange={(e) => (draft.where[d.code] = (e.currentTarget as HTMLSelectElement).value)}
						/>
					</div>
				{/each}
				{#if line?.column === undefined}
					<div>
						<Label for="from-{i}">From</Label>
						<Select
							id="from-{i}"
							placeholder="first open {calendar.words.one}"
							items={[{ value: '', name: `first open ${calendar.words.one}` }, ...months]}
							bind:value={draft.from}
						/>
					</div>
					<div>
						<Label for="to-{i}">To</Label>
						<Select
							id="to-{i}"
							placeholder="the end"
							items={[{ value: '', name: 'the end' }, ...months]}
							bind:value={draft.to}
						/>
					</div>
				{/if}
			</div>
		</fieldset>
	{/each}
	<Button quiet onclick={() => (drafts = [...drafts, fresh()])}>Add a step</Button>
</Dialog>

<style>
	fieldset {
		margin: 14px 0 10px;
	}
	legend {
		color: var(--ink-2);
		margin-bottom: 4px;
	}
	.line {
		display: grid;
		grid-template-columns: repeat(auto-fit, minmax(130px, 1fr));
		gap: 8px 14px;
		margin-bottom: 8px;
	}
	.line:first-of-type {
		grid-template-columns: 2fr 1fr 1fr;
	}
</style>
