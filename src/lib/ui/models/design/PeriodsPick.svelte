<script lang="ts">
	import Label from '../../kit/form/Label.svelte';
	import Select from '../../kit/form/Select.svelte';
	import { keptIn } from '../../../core/blocks/driver-model/periods';
	import type { CalendarSpec } from '../../../core/calendar/spec';
	import { useCompany } from '../../shell/company';

	/** In whose periods a model is kept. */
	interface Props {
		calendar: CalendarSpec | undefined;
		disabled?: boolean;
		onchange: (calendar: CalendarSpec | undefined) => void;
	}
	let { calendar, disabled = false, onchange }: Props = $props();
	const company = useCompany();
	const id = $props.id();
	const same = (a: CalendarSpec | undefined, b: CalendarSpec | undefined) =>
		JSON.stringify(a) === JSON.stringify(b);
	const ways = $derived.by(() => {
		const usual = keptIn(company.calendar);
		return usual.some((w) => same(w.calendar, calendar)) ? usual : [...usual, { name: 'as it is', calendar }];
	});
</script>

<div>
	<Label for={id}>Kept in</Label>
	<Select
		{id}
		placeholder=""
		{disabled}
		items={ways.map(({ name }, i) => ({ value: i, name }))}
		bind:value={() => ways.findIndex((w) => same(w.calendar, calendar)), (i) => onchange(ways[i].calendar)}
	/>
	{#if calendar}<p class="muted">
			Posted and read in {company.calendar.words.many} by days: what straddles two is divided.
		</p>{/if}
</div>
