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
	import { plain, readFigure } from '../writing/format';
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
	const periods = (block: string) => company.calendarOf(block).words;

	type Kind = 'percent' | 'multiply' | 'add' | 'set' | 'shift';
	interface Draft {
		block: string;
		line: string;
		kind: Kind;
		amount: string;
		where: Record<string, string>;
		from: string;
		to: string;
	}
	const kinds = (block: string): { value: Kind; name: string }[] => [
		{ value: 'percent', name: 'change by percent' },
		{ value: 'add', name: 'add an amount' },
		{ value: 'multiply', name: 'multiply by' },
		{ value: 'set', name: 'set to' },
		{ value: 'shift', name: `shift by ${periods(block).many}` }
	];
	const fresh = (): Draft => ({
		block: adjustables[0].block,
		line: adjustables[0].lines[0].code,
		kind: 'percent',
		amount: '',
		where: {},
		from: '',
		to: ''
	});
	function draftOf(step: AdjustmentStepDefinition): Draft[] {
		const { where, from, to } = step;
		const kind: Kind = step.operation === 'multiply' ? 'percent' : step.operation;
		const amount =
			step.operation === 'shift'
				? String(step.periods)
				: plain(kind === 'percent' ? Number(((step.value - 1) * 100).toPrecision(12)) : step.value);
		return step.lines.map((l) => ({
			...l,
			kind,
			amount,
			where: { ...where },
			from: from ?? '',
			to: to ?? ''
		}));
	}
	let name = $state(untrack(() => adjustment?.name ?? ''));
	let drafts: Draft[] = $state(untrack(() => adjustment?.steps.flatMap(draftOf) ?? [fresh()]));
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

	function stepOf(d: Draft, i: number): AdjustmentStepDefinition | string {
		const at = drafts.length > 1 ? `Step ${i + 1}: ` : '';
		const amount = readFigure(d.amount.replace(/%\s*$/, ''), 'number');
		if (amount === undefined || amount === null) return `${at}“${d.amount}” is no number.`;
		if (d.from && d.to && d.from > d.to) return `${at}The last ${calendar.words.one} lies before the first.`;
		const scope = {
			lines: [{ block: d.block, line: d.line }],
			where: Object.fromEntries(Object.entries(d.where).filter(([, m]) => m)),
			...(d.from ? { from: d.from } : {}),
			...(d.to ? { to: d.to } : {})
		};
		if (d.kind === 'shift') {
			if (!Number.isInteger(amount)) return `${at}${periods(d.block).Many} are shifted by a whole number.`;
			return { operation: 'shift', periods: amount, ...scope };
		}
		if (d.kind === 'percent')
			return { operation: 'multiply', value: Number((1 + amount / 100).toPrecision(14)), ...scope };
		return { operation: d.kind, value: amount, ...scope };
	}
	function keep() {
		if (!name.trim()) {
			problem = 'Give it a name.';
			return;
		}
		const steps = drafts.map(stepOf);
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
		<fieldset>
			<legend
				>{drafts.length > 1 ? `Step ${i + 1}` : 'What it changes'}
				{#if drafts.length > 1}<TextButton onclick={() => (drafts = drafts.filter((_, j) => j !== i))}
						>Take out</TextButton
					>{/if}</legend
			>
			<div class="line">
				<div>
					<Label for="line-{i}">Line or account</Label>
					<Select
						id="line-{i}"
						items={lineItems}
						value={`${draft.block}.${draft.line}`}
						onchange={(e) => {
							const value = (e.currentTarget as HTMLSelectElement).value;
							const block = value.slice(0, value.indexOf('.'));
							if (block !== draft.block) draft.where = {};
							draft.block = block;
							draft.line = value.slice(block.length + 1);
						}}
					/>
				</div>
				<div>
					<Label for="kind-{i}">What is done</Label>
					<Select id="kind-{i}" items={kinds(draft.block)} bind:value={draft.kind} />
				</div>
				<div>
					<Label for="amount-{i}"
						>{draft.kind === 'percent'
							? 'Percent, − for less'
							: draft.kind === 'shift'
								? `${periods(draft.block).Many} later, − for earlier`
								: 'Amount'}</Label
					>
					<Input id="amount-{i}" bind:value={draft.amount} />
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
