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
	interface Found {
		read: number;
		changes: Change[];
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
	const MOST_SHOWN = 12;
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
	ask={(text, dry) => post<Found>(`rates/${set.code}/load`, { text, dry })}
	{ondone}
	{onclose}
>
	{#snippet hint()}
		<p class="muted">
			How much {reporting} one unit of the currency is worth. A first line of headings may say another order; a
			rate that is left out stays as it is.
		</p>
	{/snippet}
	{#snippet found(list)}
		<p>
			{counted(list.read, 'line')} read; {list.changes.length
				? `${counted(list.changes.length, 'line differs', 'lines differ')} from what is there`
				: 'nothing differs from what is there'}.
		</p>
		<ul aria-label="What changes">
			{#each list.changes.slice(0, MOST_SHOWN) as c (`${c.currency} ${c.period}`)}
				<li>
					<span>{c.currency} {calendar.label(calendar.parse(c.period)!)}</span>
					<span class="num">{words(c.average, c.before.average)}</span>
					<span class="num">{words(c.closing, c.before.closing)}</span>
				</li>
			{/each}
		</ul>
		{#if list.changes.length > MOST_SHOWN}<p class="muted">
				and {list.changes.length - MOST_SHOWN} more
			</p>{/if}
	{/snippet}
</LoadList>
