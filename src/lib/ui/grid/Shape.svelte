<script lang="ts">
	import { extent, line } from 'd3';
	import type { Cell } from '../../core/engine/values';

	/** A small line of a row's values, its high marked full and its low hollow. */
	let { values }: { values: readonly Cell[] } = $props();
	const W = 60;
	const H = 18;
	/** A change by less than this share of what stands there is not drawn. */
	const HARDLY = 0.0005;
	const points = $derived(
		values.flatMap((v, i) => (typeof v === 'number' ? [{ i, v }] : [])) as { i: number; v: number }[]
	);
	const drawing = $derived.by(() => {
		const [low, high] = extent(points, (p) => p.v);
		if (points.length < 2 || low === undefined || high === undefined) return null;
		// What hardly changes, as by a cent that is left over, is a flat line without a high or low.
		if (high - low <= HARDLY * Math.max(Math.abs(low), Math.abs(high)))
			return { path: `M3 ${H / 2}H${W - 3}`, high: null, low: null };
		// There is one in every row: a scale of its own for each would cost more than the drawing.
		const x = (i: number) => 3 + (i / (values.length - 1)) * (W - 6);
		const y = (v: number) => H - 3 - ((v - low) / (high - low)) * (H - 6);
		const at = (v: number) => points.find((p) => p.v === v)!;
		const place = (p: { i: number; v: number }) => ({ x: x(p.i), y: y(p.v) });
		return {
			path:
				line<{ i: number; v: number }>(
					(p) => x(p.i),
					(p) => y(p.v)
				)(points) ?? '',
			high: place(at(high)),
			low: place(at(low))
		};
	});
</script>

{#if drawing}
	<svg width={W} height={H} aria-hidden="true">
		<path d={drawing.path} />
		{#if drawing.low}<circle class="low" cx={drawing.low.x} cy={drawing.low.y} r="1.9" />{/if}
		{#if drawing.high}<circle class="high" cx={drawing.high.x} cy={drawing.high.y} r="1.9" />{/if}
	</svg>
{/if}

<style>
	path {
		fill: none;
		stroke: var(--ink-2);
		stroke-width: 1;
	}
	.high {
		fill: var(--ink);
	}
	.low {
		fill: var(--ground);
		stroke: var(--ink);
	}
</style>
