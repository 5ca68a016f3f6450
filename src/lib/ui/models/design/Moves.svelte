<script lang="ts" generics="T">
	import IconButton from '../../kit/form/IconButton.svelte';
	import { ArrowUpOutline, CloseOutline } from 'flowbite-svelte-icons';
	import { moved } from '../../design/lists';

	/** Moves an entry of a list before the one above it, or takes it out. */
	interface Props {
		list: readonly T[];
		at: number;
		/** What it is, for those who cannot see where it stands. */
		about: string;
		disabled: boolean;
		onchange: (list: T[]) => void;
	}
	let { list, at, about, disabled, onchange }: Props = $props();
</script>

<div>
	<IconButton
		disabled={disabled || at === 0}
		label="Try {about} earlier"
		onclick={() => onchange(moved(list, at, at - 1))}><ArrowUpOutline class="h-3 w-3" /></IconButton
	>
	<IconButton {disabled} label="Remove {about}" onclick={() => onchange(list.toSpliced(at, 1))}
		><CloseOutline class="h-3 w-3" /></IconButton
	>
</div>

<style>
	div {
		white-space: nowrap;
	}
</style>
