<script lang="ts">
	import { Table } from 'flowbite-svelte';
	import type { HTMLTableAttributes } from 'svelte/elements';

	/** A table that is read, not typed in; `bare` for one within a panel or a dialog that brings its own dress. */
	interface Props extends Omit<HTMLTableAttributes, 'border' | 'class'> {
		bare?: boolean;
		class?: string;
	}
	let { bare = false, class: more = '', children, ...rest }: Props = $props();
</script>

<!-- Its own scrolling would keep a head from staying in sight. -->
<Table
	{...rest as object}
	classes={{ div: 'static overflow-visible' }}
	class="{bare ? 'w-auto' : 'listing'} text-[length:inherit] text-inherit {more}"
	>{@render children?.()}</Table
>
