<script lang="ts">
	/** Something that is on or off at once, without saving. */
	interface Props {
		label: string;
		on: boolean;
		onswitch: (on: boolean) => void;
	}
	let { label, on, onswitch }: Props = $props();
</script>

<button type="button" role="switch" aria-checked={on} aria-label={label} onclick={() => onswitch(!on)}
	><span></span></button
>

<style>
	button {
		width: 34px;
		height: 20px;
		border-radius: 4px;
		border: 1px solid var(--rule-strong);
		background: var(--tint);
		padding: 2px;
		flex: none;
		display: flex;
	}
	span {
		width: 14px;
		height: 14px;
		border-radius: 2px;
		background: var(--timber);
	}
	[aria-checked='true'] {
		background: var(--green);
		justify-content: flex-end;
	}
	[aria-checked='true'] span {
		background: var(--on-green);
	}
</style>
