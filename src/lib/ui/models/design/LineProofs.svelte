<script lang="ts">
	import { counted } from '../../writing/count';
	import Button from '../../kit/form/Button.svelte';
	import Input from '../../kit/form/Input.svelte';
	import Label from '../../kit/form/Label.svelte';
	import Textarea from '../../kit/form/Textarea.svelte';
	import { CloseOutline } from 'flowbite-svelte-icons';
	import { untrack } from 'svelte';
	import type { PeriodWords } from '../../../core/calendar/calendar';
	import type { Line, Proof } from '../../../core/blocks/driver-model/schema';
	import Dialog from '../../kit/Dialog.svelte';
	import { readFigure } from '../../writing/format';
	import { readExpected, writeExpected, type DesignDimension } from './design';
	import WherePick from './WherePick.svelte';
	import Choice from '../../kit/form/Choice.svelte';
	import TextButton from '../../kit/form/TextButton.svelte';

	/** Expected figures of a line, compared with what it gives at every calculation. */
	interface Props {
		line: Line;
		proofs: readonly Proof[];
		dimensions: readonly DesignDimension[];
		months: readonly { key: string; label: string }[];
		/** What the model’s periods are called. */
		words: PeriodWords;
		disabled: boolean;
		onchange: (proofs: Proof[]) => void;
	}
	let { line, proofs, dimensions, months, words, disabled, onchange }: Props = $props();
	let at: number | null = $state(null);
	let name = $state('');
	let where: Record<string, string> = $state({});
	let first = $state('');
	let text = $state('');
	let tolerance = $state('0');
	let problem = $state('');
	const monthOf = (key: string) => months.find((m) => m.key === key)?.label ?? key;

	function edit(i: number) {
		const proof = proofs[i];
		at = i;
		problem = '';
		name = proof?.name ?? `${line.label} as expected`;
		where = { ...proof?.where };
		first = proof?.first ?? months[0]?.key ?? '';
		text = proof ? writeExpected(proof.expected, line.format) : '';
		tolerance = String(proof?.tolerance ?? 0);
	}
	function keep() {
		const expected = readExpected(text, line.format);
		const within = readFigure(tolerance || '0', 'number');
		if (!name.trim()) problem = 'Give it a name.';
		else if (proofs.some((p, i) => i !== at && p.name === name.trim())) problem = 'That name is in use.';
		else if (typeof expected === 'string') problem = expected;
		else if (typeof within !== 'number' || within < 0) problem = 'The tolerance is a number from 0 on.';
		else {
			const proof: Proof = {
				name: name.trim(),
				line: line.code,
				where: $state.snapshot(where),
				first,
				expected,
				tolerance: within
			};
			onchange(untrack(() => (at! < proofs.length ? proofs.with(at!, proof) : [...proofs, proof])));
			at = null;
		}
	}
</script>

{#each proofs as proof, i (proof.name)}
	<div class="proof">
		<TextButton {disabled} onclick={() => edit(i)}>{proof.name}</TextButton>
		<span class="muted">{counted(proof.expected.length, 'figure')} from {monthOf(proof.first)}</span>
		{#if !disabled}
			<Button
				quiet
				class="p-1"
				aria-label="Remove the proof {proof.name}"
				onclick={() => onchange(proofs.toSpliced(i, 1))}><CloseOutline class="h-3 w-3" /></Button
			>
		{/if}
	</div>
{/each}
{#if !disabled}
	<Button quiet onclick={() => edit(proofs.length)}>Add expected figures …</Button>
{/if}
{#if at !== null}
	<Dialog
		title="Expected figures of {line.label}"
		action="Keep"
		size="md"
		{problem}
		onaction={keep}
		onclose={() => (at = null)}
	>
		<div class="form">
			<div>
				<Label for="proof-name">Name</Label>
				<Input id="proof-name" bind:value={name} />
			</div>
			<div class="row">
				<div>
					<Label for="proof-first">First {words.one}</Label>
					<Choice id="proof-first" bind:value={first}>
						{#each months as m (m.key)}<option value={m.key}>{m.label}</option>{/each}
					</Choice>
				</div>
				<div>
					<Label for="proof-tolerance">May differ by</Label>
					<Input id="proof-tolerance" bind:value={tolerance} class="w-24" />
				</div>
			</div>
			{#if dimensions.length}
				<div>
					<Label>Of</Label>
					<div class="row">
						<WherePick {dimensions} {where} about="the proof" onchange={(w) => (where = w)} />
					</div>
				</div>
			{/if}
			<div>
				<Label for="proof-figures"
					>Figures, one a {words.one}; paste a row or a column from a spreadsheet</Label
				>
				<Textarea id="proof-figures" rows={8} bind:value={text} class="field" />
			</div>
		</div>
	</Dialog>
{/if}

<style>
	.proof {
		display: flex;
		gap: 10px;
		align-items: center;
		margin-bottom: 4px;
	}
	.form {
		display: grid;
		gap: 12px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 10px;
	}
</style>
