<script lang="ts">
	import type { HTMLButtonAttributes } from 'svelte/elements';

	/** A quiet button that shows a sign alone; its words are for the tooltip and for those who cannot see the sign. */
	interface Props extends HTMLButtonAttributes {
		label: string;
	}
	let { label, title = label, class: more, children, ...rest }: Props = $props();
</script>

<button type="button" aria-label={label} {title} {...rest} class={['icon', more]}
	>{@render children?.()}</button
>

<style>
	.icon {
		padding: 3px;
		color: var(--ink-2);
		border-radius: 4px;
		line-height: 1;
	}
	.icon:hover:not(:disabled) {
		background: var(--green-tint);
	}
	.icon:disabled {
		opacity: 0.35;
	}
</style>
