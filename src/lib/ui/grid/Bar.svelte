<script lang="ts">
	import { scaleLinear } from 'd3';

	/** A bar from a zero line in the middle; what is longer than the scale is cut, with a gap that says so. */
	let { value, bad }: { value: number; bad: boolean } = $props();
	const x = scaleLinear([-1, 1], [1, 99]).clamp(true);
	const zero = x(0);
	const end = $derived(x(value));
	const over = $derived(Math.abs(value) > 1);
</script>

<svg width="100%" height="14" aria-hidden="true">
	<rect class:bad x="{Math.min(zero, end)}%" y="3" height="8" width="{Math.abs(end - zero)}%" />
	{#if over}<rect class="gap" x="{end - Math.sign(value) * 5}%" y="1" height="12" width="1.5%" />{/if}
	<line x1="{zero}%" x2="{zero}%" y1="0" y2="14" />
</svg>

<style>
	rect {
		fill: var(--green);
		opacity: 0.75;
	}
	rect.bad {
		fill: var(--clay);
	}
	rect.gap {
		fill: var(--ground);
		opacity: 1;
	}
	line {
		stroke: var(--rule-strong);
	}
</style>
