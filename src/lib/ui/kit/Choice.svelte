<script lang="ts">
	import { Select } from 'flowbite-svelte';
	import type { Snippet } from 'svelte';
	import type { HTMLSelectAttributes } from 'svelte/elements';

	/** One of several, chosen from a list that opens. */
	interface Props extends Omit<HTMLSelectAttributes, 'onchange' | 'value' | 'size' | 'class'> {
		value?: string;
		class?: string;
		/** Told what is chosen. `false` says that it is not taken: what stood before is shown again. */
		onpick?: (value: string) => unknown;
		/** Without a border of its own, within something that has one. */
		bare?: boolean;
		children?: Snippet;
	}
	let {
		value = $bindable(''),
		onpick,
		bare = false,
		class: more = '',
		disabled,
		children,
		...rest
	}: Props = $props();
	let element: HTMLSelectElement | undefined = $state();

	function pick(chosen: string) {
		if (onpick?.(chosen) === false) element!.value = value;
		else if (!onpick) value = chosen;
	}
</script>

<Select
	{...rest}
	placeholder=""
	disabled={disabled ?? false}
	bind:elementRef={element}
	bind:value={() => value, pick}
	class="contents"
	classes={{ select: `inline-block w-auto opacity-100 ${bare ? 'bare' : 'field'} ${more}` }}
	>{@render children?.()}</Select
>
