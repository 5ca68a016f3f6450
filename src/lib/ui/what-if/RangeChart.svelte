<script lang="ts">
	import { useCompany } from '../shell/company';
	import { area, line, scaleLinear } from 'd3';
	import type { Ranges } from '../../core/analysis/monte-carlo';

	/** Month by month between which figures a result lies in how many of the trials. */
	interface Props {
		ranges: Ranges;
		labels: readonly string[];
		show: (value: number) => string;
	}
	let { ranges, labels, show }: Props = $props();
	const { words } = useCompany().calendar;
	const H = 190;
	let width = $state(560);
	const of = (percentile: number) =>
		ranges.percentiles.find((p) => p.percentile === percentile)!.values.slice(0, labels.length);
	const all = $derived([...of(5), ...of(95)].filter(Number.isFinite));
	const x = $derived(scaleLinear([0, Math.max(1, labels.length - 1)], [70, width - 90]));
	const y = $derived(scaleLinear([Math.min(0, ...all), Math.max(0, ...all)], [H - 22, 10]).nice());
	const band = (low: number, high: number) =>
		area<number>(
			(_, i) => x(i),
			(_, i) => y(of(low)[i]),
			(_, i) => y(of(high)[i])
		)(labels.map((_, i) => i)) ?? '';
	const middle = $derived(
		line<number>(
			(_, i) => x(i),
			(v) => y(v)
		)(of(50)) ?? ''
	);
	const end = $derived(labels.length - 1);
	/** Room for a label each (pixels). */
	const LABEL = 52;
	const every = $derived(Math.ceil((LABEL * labels.length) / (width - 160)));
</script>

<div bind:clientWidth={width}>
	<svg {width} height={H} role="img" aria-label="Ranges {words.one} by {words.one}">
		{#each y.ticks(4) as tick (tick)}
			<line class="tick" x1="70" x2={width - 90} y1={y(tick)} y2={y(tick)} />
			<text class="axis" x="64" y={y(tick) + 4}>{show(tick)}</text>
		{/each}
		<path class="wide" d={band(5, 95)} />
		<path class="narrow" d={band(25, 75)} />
		<path class="middle" d={middle} />
		{#each labels as label, i (i)}
			{#if i % every === 0}<text class="month" x={x(i)} y={H - 4}>{label}</text>{/if}
		{/each}
		{#if end >= 0}
			<text class="direct" x={x(end) + 6} y={y(of(95)[end]) + 4}>19 of 20 below</text>
			<text class="direct" x={x(end) + 6} y={y(of(50)[end]) + 4}>middle</text>
			<text class="direct" x={x(end) + 6} y={y(of(5)[end]) + 4}>1 of 20 below</text>
		{/if}
	</svg>
</div>

<style>
	.tick {
		stroke: var(--rule);
	}
	.axis {
		text-anchor: end;
	}
	.month {
		text-anchor: middle;
	}
	text {
		font-size: 11.5px;
		fill: var(--ink-2);
		font-variant-numeric: tabular-nums;
	}
	.wide {
		fill: var(--slate);
		opacity: 0.22;
	}
	.narrow {
		fill: var(--slate);
		opacity: 0.35;
	}
	.middle {
		fill: none;
		stroke: var(--ink);
		stroke-width: 1.5;
	}
</style>
