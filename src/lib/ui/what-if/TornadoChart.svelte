<script lang="ts">
	import { scaleLinear } from 'd3';

	/** How far a figure goes when each driver alone is lower or higher; the farthest first. */
	interface Props {
		base: number;
		rows: readonly { name: string; low: number; high: number }[];
		/** The move, in words: ±10 %. */
		move: string;
		show: (value: number) => string;
	}
	let { base, rows, move, show }: Props = $props();
	const ROW = 26;
	const NAMES = 230;
	const ROOM = 84;
	let width = $state(560);
	const reach = $derived(
		Math.max(1e-9, ...rows.flatMap((r) => [Math.abs(r.low - base), Math.abs(r.high - base)]))
	);
	const x = $derived(
		scaleLinear([base - reach, base + reach], [NAMES + ROOM, Math.max(NAMES + ROOM + 80, width - ROOM)])
	);
</script>

<div bind:clientWidth={width}>
	<svg {width} height={rows.length * ROW + 24} role="img" aria-label="What moves the result most, {move}">
		<text class="axis" x={x(base)} y="12">{show(base)}</text>
		<line class="zero" x1={x(base)} x2={x(base)} y1="18" y2={rows.length * ROW + 22} />
		{#each rows as row, i (row.name)}
			<g transform="translate(0 {i * ROW + 20})">
				<text x="0" y="16"
					>{row.name.length > 34 ? `${row.name.slice(0, 33)}…` : row.name}<title>{row.name}</title></text
				>
				{#each [{ at: row.low, kind: 'low' }, { at: row.high, kind: 'high' }] as end (end.kind)}
					<rect
						class={end.kind}
						x={Math.min(x(base), x(end.at))}
						width={Math.abs(x(end.at) - x(base))}
						y="4"
						height="15"
					/>
				{/each}
				<text class="figure left" x={x(Math.min(row.low, row.high)) - 4} y="16"
					>{show(Math.min(row.low, row.high))}</text
				>
				<text class="figure" x={x(Math.max(row.low, row.high)) + 4} y="16"
					>{show(Math.max(row.low, row.high))}</text
				>
			</g>
		{/each}
	</svg>
	<p class="muted">
		<i class="key low"></i> lower <i class="key high"></i> higher, each by {move}, one at a time
	</p>
</div>

<style>
	text {
		font-size: 12.5px;
		fill: var(--ink);
	}
	.axis {
		text-anchor: middle;
		font-size: 11.5px;
		fill: var(--ink-2);
	}
	.figure {
		font-size: 11.5px;
		font-variant-numeric: tabular-nums;
		fill: var(--ink-2);
	}
	.left {
		text-anchor: end;
	}
	.zero {
		stroke: var(--ink-2);
	}
	rect.low {
		fill: var(--timber);
	}
	rect.high {
		fill: var(--slate);
	}
	.key {
		display: inline-block;
		width: 10px;
		height: 10px;
		margin: 0 4px 0 8px;
	}
	i.low {
		background: var(--timber);
	}
	i.high {
		background: var(--slate);
	}
	p {
		font-size: 12px;
	}
</style>
