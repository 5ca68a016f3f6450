<script lang="ts">
	import { tick, untrack } from 'svelte';
	import Dialog from '../kit/Dialog.svelte';
	import Choice from '../kit/form/Choice.svelte';
	import Field from '../kit/form/Field.svelte';
	import Radio from '../kit/form/Radio.svelte';
	import { readDay } from '../writing/dates';
	import { readFigure } from '../writing/format';
	import type { Held, Together } from './together';

	/** Changes many cells of a list at once: dates move, amounts rise, all become the same. */
	interface Props {
		held: Held;
		count: number;
		onchange: (change: Together) => void;
		onclose: () => void;
	}
	let { held, count, onchange, onclose }: Props = $props();

	const dates = $derived(held === 'date');
	type Way = 'move' | 'percent' | 'add' | 'set';
	let way: Way = $state(untrack(() => (held === 'date' ? 'move' : 'percent')));
	let unit: 'months' | 'days' = $state('months');
	let text = $state('');
	const WAYS: readonly (readonly [Way, string])[] = $derived(
		dates
			? [
					['move', 'move by'],
					['set', 'set to a date']
				]
			: [
					['percent', 'raise by a percentage'],
					['add', 'raise by an amount'],
					['set', 'set to']
				]
	);
	const change: Together | null = $derived.by(() => {
		if (way === 'set' && dates) {
			const value = readDay(text);
			return value === null ? null : { kind: 'set', value };
		}
		const number = readFigure(text, way === 'percent' ? 'percent' : 'number');
		if (typeof number !== 'number') return null;
		switch (way) {
			case 'move':
				return Number.isInteger(number) && number !== 0 ? { kind: unit, by: number } : null;
			case 'percent':
				return { kind: 'percent', share: number };
			case 'add':
				return { kind: 'add', amount: number };
			default:
				return { kind: 'set', value: number };
		}
	});
	const example = $derived(
		way === 'move' ? '2, or −1' : way === 'percent' ? '3 %' : dates ? '1 Apr 2027' : ''
	);
	const apply = () => change && onchange(change);
</script>

<Dialog
	title="Change {count} cells together"
	action="Change them"
	disabled={!change}
	onaction={apply}
	{onclose}
>
	<div class="ways">
		{#each WAYS as [value, name] (value)}
			<Radio name="together" {value} bind:group={way}>{name}</Radio>
		{/each}
	</div>
	<div class="by">
		<Field
			aria-label="By how much, or to what"
			placeholder={example}
			bind:value={text}
			{@attach (node) => void tick().then(() => node.focus())}
			onkeydown={(e) => {
				if (e.key !== 'Enter') return;
				e.preventDefault();
				apply();
			}}
		/>
		{#if way === 'move'}
			<Choice aria-label="Unit" value={unit} onpick={(v) => (unit = v as typeof unit)}>
				<option value="months">months</option>
				<option value="days">days</option>
			</Choice>
		{/if}
	</div>
	<p class="muted">
		{way === 'set' ? 'All of them become this.' : 'Blank cells stay blank.'} Nothing is saved before you save.
	</p>
</Dialog>

<style>
	.ways {
		display: grid;
		gap: 6px;
		margin-bottom: 10px;
	}
	.by {
		display: flex;
		gap: 8px;
		align-items: center;
		max-width: 300px;
	}
</style>
