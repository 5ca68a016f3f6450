<script lang="ts">
	import Button from '../../kit/form/Button.svelte';
	import type { PeriodWords } from '../../../core/calendar/calendar';
	import type { Names } from '../../../core/formula/check';
	import type { Quantity } from '../../../core/formula/units';
	import type { Line, ScopedFormula } from '../../../core/blocks/driver-model/schema';
	import FormulaField from '../../design/FormulaField.svelte';
	import { type DesignDimension } from './design';
	import { omit } from '../../design/lists';
	import Moves from './Moves.svelte';
	import WherePick from './WherePick.svelte';
	import Choice from '../../kit/form/Choice.svelte';
	import Tick from '../../kit/form/Tick.svelte';

	/** Other formulas of a line for some members or months; the first that fits applies. */
	interface Props {
		line: Line;
		dimensions: readonly DesignDimension[];
		months: readonly { key: string; label: string }[];
		names: Names;
		result?: Quantity;
		/** What the model’s periods are called. */
		words: PeriodWords;
		disabled: boolean;
		onchange: (scoped: ScopedFormula[]) => void;
	}
	let { line, dimensions, months, names, result, words, disabled, onchange }: Props = $props();
	const list = $derived(line.scoped ?? []);
	const put = (i: number, more: Partial<ScopedFormula>) => {
		const next = { ...list[i], ...more };
		// What is left open stands nowhere.
		if (!next.from) delete next.from;
		if (!next.to) delete next.to;
		onchange(list.with(i, next));
	};
	const typed = (i: number, is: boolean) => {
		const rest = omit(list[i], 'formula');
		onchange(list.with(i, is ? rest : { ...rest, formula: line.formula ?? '0' }));
	};
</script>

{#each list as scope, i (i)}
	{@const about = `exception ${i + 1} of ${line.label}`}
	<div class="scope">
		<span class="number">{i + 1}</span>
		<div class="where">
			<WherePick
				{dimensions}
				where={scope.where}
				{about}
				{disabled}
				onchange={(where) => put(i, { where })}
			/>
			<Choice
				aria-label="First {words.one} of {about}"
				{disabled}
				value={scope.from ?? ''}
				onpick={(v) => put(i, { from: v })}
			>
				<option value="">from the beginning</option>
				{#each months as m (m.key)}<option value={m.key}>from {m.label}</option>{/each}
			</Choice>
			<Choice
				aria-label="Last {words.one} of {about}"
				{disabled}
				value={scope.to ?? ''}
				onpick={(v) => put(i, { to: v })}
			>
				<option value="">to the end</option>
				{#each months as m (m.key)}<option value={m.key}>to {m.label}</option>{/each}
			</Choice>
			<Tick {disabled} checked={scope.formula === undefined} onpick={(on) => typed(i, on)}>typed there</Tick>
		</div>
		<Moves {list} at={i} {about} {disabled} {onchange} />
		{#if scope.formula !== undefined}
			<div class="formula">
				{#key list.length}
					<FormulaField
						bind:value={
							() => scope.formula ?? '',
							(formula) => {
								if (formula !== scope.formula) put(i, { formula });
							}
						}
						{names}
						{result}
						focuses={false}
						label="Formula of {about}"
					/>
				{/key}
			</div>
		{/if}
	</div>
{/each}
{#if !disabled}
	<Button quiet onclick={() => onchange([...list, { where: {}, formula: line.formula ?? '0' }])}
		>Add an exception …</Button
	>
{/if}

<style>
	.scope {
		display: grid;
		grid-template-columns: 20px 1fr auto;
		gap: 4px 8px;
		align-items: start;
		margin-bottom: 8px;
	}
	.number {
		padding-top: 4px;
		color: var(--ink-2);
	}
	.where {
		display: flex;
		flex-wrap: wrap;
		gap: 6px;
		align-items: center;
	}
	.formula {
		grid-column: 2;
	}
</style>
