<script lang="ts">
	/** A value that is moved by hand or by the arrow keys, and tried out while it moves. */
	interface Props {
		label: string;
		value: number;
		min: number;
		max: number;
		step: number;
		/** Told at each move; `rests` when the hand lets go. */
		onslide: (value: number, rests: boolean) => void;
	}
	let { label, value, min, max, step, onslide }: Props = $props();
</script>

<input
	type="range"
	{min}
	{max}
	{step}
	{value}
	aria-label={label}
	oninput={(e) => onslide(Number(e.currentTarget.value), false)}
	onchange={(e) => onslide(Number(e.currentTarget.value), true)}
/>

<style>
	input {
		flex: 1;
		min-width: 60px;
		accent-color: var(--green);
	}
</style>
