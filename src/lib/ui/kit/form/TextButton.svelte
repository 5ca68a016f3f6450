<script lang="ts">
	import type { HTMLButtonAttributes } from 'svelte/elements';

	/** A small act beside what it is about: a button that reads like a link. */
	let { class: more, children, ...rest }: HTMLButtonAttributes = $props();
</script>

<button type="button" {...rest} class={['plain', more]}>{@render children?.()}</button>
