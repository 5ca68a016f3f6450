<script lang="ts">
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';
	import type { Grain, LaterYears } from '../../core/calendar/spec';
	import { useCompany } from '../shell/company';

	/** How far a copy reaches, and how its later years are divided. */
	interface Props {
		scenario: { first: number; last: number; actualsThrough: number | null; laterYears?: LaterYears | null };
		/** What is other than in the scenario. */
		value: { last?: string; laterYears?: LaterYears | null };
	}
	let { scenario, value = $bindable() }: Props = $props();
	const { calendar } = useCompany();
	const MOST_YEARS = 10;
	const WAYS: { value: string; name: string; grains: Grain[] }[] = [
		{ value: 'quarter', name: 'in quarters', grains: ['quarter'] },
		{ value: 'half', name: 'in half-years', grains: ['half'] },
		{ value: 'year', name: 'in years', grains: ['year'] },
		{ value: 'quarter;year', name: 'a year in quarters, then years', grains: ['quarter', 'year'] }
	];
	const year = (period: number) => calendar.fiscalYear(period);
	const endOf = (fiscalYear: number) => calendar.yearStart(fiscalYear + 1) - 1;
	const reaches = $derived(
		Array.from({ length: MOST_YEARS }, (_, i) => endOf(year(scenario.first) + i))
			.filter((end) => end > scenario.last && end - scenario.first < MOST_YEARS * calendar.periodsPerYear)
			.map((end) => ({ value: calendar.key(end), name: calendar.longLabel(end) }))
	);
	/** The first year that is planned stands in months. */
	const planned = $derived(year(Math.max(scenario.first, (scenario.actualsThrough ?? -Infinity) + 1)));
	const years = $derived(
		Array.from({ length: MOST_YEARS }, (_, i) => planned + i).map((y) => ({
			value: String(y),
			name: calendar.yearLabel(y)
		}))
	);
	const ALIKE = '';
	let last = $state(ALIKE);
	let through = $state(ALIKE);
	let way = $state('quarter');
	$effect(() => {
		const { grains } = WAYS.find((w) => w.value === way)!;
		value = {
			...(last ? { last } : {}),
			...(through ? { laterYears: { firstYear: Number(through) + 1, grains } } : {})
		};
	});
	const alike = $derived(scenario.laterYears ? 'as it is there' : 'all in months');
</script>

<Label for="copy-last">Reaches to</Label>
<Select
	id="copy-last"
	placeholder=""
	items={[{ value: ALIKE, name: `${calendar.longLabel(scenario.last)}, as it does` }, ...reaches]}
	bind:value={last}
/>
{#if calendar.spec.kind === 'months'}
	<Label for="copy-through">In months through</Label>
	<Select
		id="copy-through"
		placeholder=""
		items={[{ value: ALIKE, name: alike }, ...years]}
		bind:value={through}
	/>
	{#if through}
		<Label for="copy-way">Later years</Label>
		<Select
			id="copy-way"
			placeholder=""
			items={WAYS.map(({ value, name }) => ({ value, name }))}
			bind:value={way}
		/>
		<p class="muted">
			Typed figures are summed or averaged into them, as each line and account rolls up. Formulas are worked
			out once a period: what they give for a month they give for a quarter too, unless they are multiplied by
			<code>months_in_period()</code>.
		</p>
	{/if}
{/if}
