<script lang="ts">
	import { Checkbox } from 'flowbite-svelte';
	import type { Snippet } from 'svelte';
	import type { HTMLInputAttributes } from 'svelte/elements';

	/**
	 * Something that is so or not, with its words at the right. Bound to `checked`, or to a `group` that holds the values
	 * ticked; or told of with `onpick`.
	 */
	interface Props extends Omit<
		HTMLInputAttributes,
		'checked' | 'size' | 'value' | 'color' | 'class' | 'group' | 'bind:group'
	> {
		checked?: boolean;
		group?: string[];
		value?: string;
		class?: string;
		/** Told when it is changed. */
		onpick?: (on: boolean) => void;
		children?: Snippet;
	}
	let {
		checked = $bindable(false),
		group = $bindable(),
		value = '',
		onpick,
		class: more = '',
		children,
		...rest
	}: Props = $props();

	function pick(on: boolean) {
		if (onpick) onpick(on);
		else if (group) group = on ? [...group, value] : group.filter((v) => v !== value);
		else checked = on;
	}
</script>

<Checkbox
	{...rest as object}
	bind:checked={() => (group ? group.includes(value) : checked), pick}
	class="me-1.5"
	classes={{ div: `text-[length:inherit] font-normal text-inherit ${more}` }}>{@render children?.()}</Checkbox
>
