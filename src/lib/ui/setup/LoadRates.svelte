<script lang="ts">
	import { post } from '../kit/api';
	import { useCompany } from '../shell/company';
	import { counted } from '../writing/count';
	import { exact } from '../writing/format';
	import LoadList from './LoadList.svelte';

	/** Loads exchange rates from a list. */
	interface Change {
		currency: string;
		/** As the calendar writes it. */
		period: string;
		average: number | null;
		closing: number | null;
		before: { average: number | null; closing: number | null };
	}
	interface Props {
		set: { code: string; name: string };
		reporting: string;
		/** Told how many lines have changed something. */
		ondone: (count: number) => void;
		onclose: () => void;
	}
	let { set, reporting, ondone, onclose }: Props = $props();
	const { calendar } = useCompany();
	const EXAMPLE = `EUR\t${calendar.words.sample}\t0.8615\t0.8580`;
	const words = (now: number | null, before: number | null) =>
		now === null
			? ''
			: before === null || before === now
				? exact(now, 'price')
				: `${exact(before, 'price')} → ${exact(now, 'price')}`;
</script>

<LoadList
	title="Load rates into {set.name}"
	label="A line for each: currency, {calendar.words.one}, average, last day"
	example={EXAMPLE}
	ask={(text, dry) => post<{ read: number; changes: Change[] }>(`rates/${set.code}/load`, { text, dry })}
	{ondone}
	{onclose}
	says={(changes) => `${counted(changes.length, 'one differs', 'differ')} from what is there`}
>
	{#snippet hint()}
		How much {reporting} one unit of the currency is worth. A first line of headings may say another order; a rate
		that is left out stays as it is.
	{/snippet}
	{#snippet change(c: Change)}
		<span>{c.currency} {calendar.label(calendar.parse(c.period)!)}</span>
		<span class="num">{words(c.average, c.before.average)}</span>
		<span class="num">{words(c.closing, c.before.closing)}</span>
	{/snippet}
</LoadList>
