<script lang="ts">
	import { monthName } from '../../core/calendar/calendar';
	import { calendarOf } from '../../core/calendar/calendar-of';
	import { yearSaid } from '../../core/calendar/says';
	import type { CalendarSpec } from '../../core/calendar/spec';
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';

	/** How the company divides its year; what that means is said at once, on a real year. */
	let { spec = $bindable(), year }: { spec: CalendarSpec; year: number } = $props();

	const WAYS = [
		{ value: 'months', name: 'Twelve months' },
		{ value: '13x4', name: 'Thirteen periods of four weeks' },
		{ value: '4-4-5', name: 'Weeks, grouped 4-4-5' },
		{ value: '4-5-4', name: 'Weeks, grouped 4-5-4' },
		{ value: '5-4-4', name: 'Weeks, grouped 5-4-4' },
		{ value: 'weeks', name: 'Single weeks' }
	] as const;
	type Way = (typeof WAYS)[number]['value'];
	const MONTHS = Array.from({ length: 12 }, (_, i) => ({ value: i + 1, name: monthName(i + 1) }));
	const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'].map(
		(name, i) => ({ value: i + 1, name })
	);
	const RULES = [
		{ value: 'last', name: 'the last one of the month before' },
		{ value: 'nearest', name: 'the one nearest to its end' }
	] as const;
	const COUNTS = [
		{ value: 'actual', name: 'as they are' },
		{ value: '30/360', name: '30 in each month, 360 in the year' }
	] as const;

	// What does not show in a way is kept for when it is chosen again.
	let way = $state<Way>('months');
	let fiscalStart = $state(1);
	let endsOn = $state(6);
	let rule = $state<'last' | 'nearest'>('nearest');
	let dayCount = $state<'actual' | '30/360'>('actual');
	$effect(() => {
		spec =
			way === 'months'
				? { kind: 'months', fiscalStart, dayCount }
				: { kind: 'weeks', grouping: way, fiscalStart, endsOn, rule };
	});
</script>

<div class="two">
	<div>
		<Label for="way">The year is divided into</Label>
		<Select placeholder="" id="way" items={WAYS} bind:value={way} />
	</div>
	<div>
		<Label for="start">It begins in</Label>
		<Select placeholder="" id="start" items={MONTHS} bind:value={fiscalStart} />
	</div>
	{#if way === 'months'}
		<div>
			<Label for="count">Days are counted</Label>
			<Select placeholder="" id="count" items={COUNTS} bind:value={dayCount} />
		</div>
	{:else}
		<div>
			<Label for="ends">Weeks end on a</Label>
			<Select placeholder="" id="ends" items={DAYS} bind:value={endsOn} />
		</div>
		<div>
			<Label for="rule">The year ends on</Label>
			<Select placeholder="" id="rule" items={RULES} bind:value={rule} />
		</div>
	{/if}
</div>
<p class="muted" role="status">{yearSaid(calendarOf(spec), year)}.</p>

<style>
	.two {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 10px 20px;
	}
	p {
		margin-top: 8px;
	}
</style>
