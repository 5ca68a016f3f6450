<script lang="ts">
	import { scaleLinear } from 'd3';

	/** A bar from a zero line in the middle; what is longer than the scale is cut with an open end. */
	let { value, bad, width }: { value: number; bad: boolean; width: number } = $props();
	const x = $derived(scaleLinear([-1, 1], [1, width - 1]).clamp(true));
	const zero = $derived(x(0));
	const end = $derived(x(value));
	const over = $derived(Math.abs(value) > 1);
</script>

<svg {width} height="14" aria-hidden="true">
	<rect class:bad x={Math.min(zero, end)} y="3" height="8" width={Math.abs(end - zero)} />
	{#if over}<path d="M{end - Math.sign(value) * 6} 1l{Math.sign(value) * 3} 12" />{/if}
	<line x1={zero} x2={zero} y1="0" y2="14" />
</svg>

<style>
	rect {
		fill: var(--green);
		opacity: 0.75;
	}
	rect.bad {
		fill: var(--clay);
	}
	line {
		stroke: var(--rule-strong);
	}
	path {
		stroke: var(--ground);
		stroke-width: 2;
	}
</style>
