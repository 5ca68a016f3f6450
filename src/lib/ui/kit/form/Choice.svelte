<script lang="ts">
	import type { Snippet } from 'svelte';
	import type { HTMLSelectAttributes } from 'svelte/elements';

	/**
	 * One of several, chosen from a list that opens. The browser's own element: pages have it once a row, and a component
	 * around each of them took a fifth of the time of the whole page.
	 */
	interface Props extends Omit<HTMLSelectAttributes, 'onchange' | 'value' | 'size' | 'class'> {
		value?: string;
		class?: string;
		/** Told what is chosen. `false` says that it is not taken: what stood before is shown again. */
		onpick?: (value: string) => unknown;
		/** Without a border of its own, within something that has one. */
		bare?: boolean;
		children?: Snippet;
	}
	let { value = $bindable(''), onpick, bare = false, class: more = '', children, ...rest }: Props = $props();
	let element: HTMLSelectElement | undefined = $state();

	function pick(chosen: string) {
		if (onpick?.(chosen) === false) element!.value = value;
		else if (!onpick) value = chosen;
	}
</script>

<select {...rest} bind:this={element} bind:value={() => value, pick} class="{bare ? 'bare' : 'field'} {more}"
	>{@render children?.()}</select
>
