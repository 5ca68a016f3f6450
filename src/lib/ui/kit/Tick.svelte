<script lang="ts">
	import { Checkbox } from 'flowbite-svelte';
	import type { Snippet } from 'svelte';
	import type { HTMLInputAttributes } from 'svelte/elements';

	/** Something that is so or not, with its words at the right. */
	interface Props extends Omit<HTMLInputAttributes, 'checked' | 'size' | 'value' | 'color' | 'class'> {
		checked?: boolean;
		class?: string;
		/** Told when it is changed. */
		onpick?: (on: boolean) => void;
		children?: Snippet;
	}
	let { checked = $bindable(false), onpick, class: more = '', children, ...rest }: Props = $props();
</script>

<Checkbox
	{...rest as object}
	bind:checked={
		() => checked,
		(on) => {
			if (onpick) onpick(on);
			else checked = on;
		}
	}
	class="me-1.5"
	classes={{ div: `text-[length:inherit] font-normal text-inherit ${more}` }}>{@render children?.()}</Checkbox
>
