<script lang="ts">
	import { scaleLinear } from 'd3';
	import type { BridgeStep } from '../../core/analysis/bridge';

	/** The steps from one figure to another, drawn downwards; the figures themselves stand at the right. */
	interface Props {
		start: { name: string; value: number };
		steps: readonly BridgeStep[];
		end: { name: string; value: number };
		/** Whether more is better. */
		upIsGood: boolean;
		/** Nothing can be said of better or worse. */
		neutral?: boolean;
		show: (value: number) => string;
	}
	let { start, steps, end, upIsGood, neutral = false, show }: Props = $props();
	const ROW = 30;
	const NAMES = 200;
	const FIGURES = 96;
	let width = $state(560);
	const rows = $derived([
		{ name: start.name, from: 0, to: start.value, amount: start.value, total: true },
		...steps.map((s) => ({ ...s, total: false })),
		{ name: end.name, from: 0, to: end.value, amount: end.value, total: true }
	]);
	/** Steps small beside the totals would be hairs: then the totals are marks, not bars, and the scale is about the steps. */
	const domain = $derived.by((): [number, number] => {
		const ends = rows.flatMap((r) => (r.total ? [r.to] : [r.from, r.to])).filter(Number.isFinite);
		const [low, high] = [Math.min(...ends), Math.max(...ends)];
		const room = (high - low || Math.abs(high) || 1) * 0.12;
		return low > 0 && high - low < low * 0.6
			? [low - room * 3, high + room]
			: [Math.min(0, low) - (low < 0 ? room : 0), Math.max(0, high) + room];
	});
	const broken = $derived(domain[0] > 0);
	const x = $derived(scaleLinear(domain, [NAMES, Math.max(NAMES + 60, width - FIGURES)]));
	const bar = (r: { from: number; to: number; total: boolean }) => {
		const from = r.total ? x(Math.max(0, domain[0])) : x(r.from);
		return { x: Math.min(from, x(r.to)), width: Math.max(1.5, Math.abs(x(r.to) - from)) };
	};
	const tone = (r: { amount: number; total: boolean }) =>
		r.total ? 'total' : neutral || r.amount === 0 ? 'plain' : r.amount > 0 === upIsGood ? 'good' : 'bad';
</script>

<div class="chart" bind:clientWidth={width}>
	<svg {width} height={rows.length * ROW + 6} role="img" aria-label="Bridge from {start.name} to {end.name}">
		{#if !broken}<line class="zero" x1={x(0)} x2={x(0)} y1="2" y2={rows.length * ROW} />{/if}
		{#each rows as row, i (i)}
			{@const b = bar(row)}
			<g transform="translate(0 {i * ROW})">
				<text class="name" class:strong={row.total} x="0" y="19"
					>{row.name.length > 30 ? `${row.name.slice(0, 29)}…` : row.name}<title>{row.name}</title></text
				>
				{#if row.total && broken}
					<line class="mark" x1={x(row.to)} x2={x(row.to)} y1="5" y2="25" />
				{:else}<rect class={tone(row)} x={b.x} width={b.width} y="7" height="16" />{/if}
				{#if i < rows.length - 1}<line class="link" x1={x(row.to)} x2={x(row.to)} y1="23" y2={ROW + 7} />{/if}
				<text class="figure" class:strong={row.total} x={width - 2} y="19"
					>{row.total ? show(row.amount) : `${row.amount > 0 ? '+' : ''}${show(row.amount)}`}</text
				>
			</g>
		{/each}
	</svg>
</div>

<style>
	.chart {
		min-width: 0;
	}
	text {
		font-size: 13px;
		fill: var(--ink);
	}
	.strong {
		font-weight: 600;
	}
	.figure {
		text-anchor: end;
		font-variant-numeric: tabular-nums;
	}
	.total {
		fill: var(--ink-2);
	}
	.good {
		fill: var(--green);
	}
	.bad {
		fill: var(--clay);
	}
	.plain {
		fill: var(--timber);
	}
	.zero {
		stroke: var(--rule-strong);
	}
	.mark {
		stroke: var(--ink);
		stroke-width: 3;
	}
	.link {
		stroke: var(--rule-strong);
	}
</style>
