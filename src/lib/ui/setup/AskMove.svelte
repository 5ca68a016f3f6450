<script lang="ts" generics="T extends TreeItem">
	import type { TreeItem } from '../../core/company/tree';
	import type { NumberFormat } from '../../core/company/schema';
	import Dialog from '../kit/Dialog.svelte';
	import Moved from './Moved.svelte';
	import type { Asked, TreeChanges } from './tree-changes.svelte';

	/** Says what of an item's figures would go where, and asks whether it shall. */
	interface Props {
		asked: Asked<T>;
		changes: TreeChanges<T>;
		format?: NumberFormat;
		/** What the amounts are, where that is not the item itself. */
		of?: string;
	}
	let { asked, changes, format = 'money', of = '' }: Props = $props();
	const goes = $derived('parent' in asked.change && asked.change.parent !== asked.item.parent);
</script>

<Dialog
	title="Change {asked.item.name}?"
	action={changes.busy ? 'Calculating …' : 'Change'}
	disabled={changes.busy}
	onaction={() => void changes.change(asked.item, asked.change, true)}
	onclose={() => (changes.asking = null)}
>
	<p>
		{#if goes}It goes from “{changes.nameOf(asked.item.parent)}” to “{changes.nameOf(
				asked.change.parent ?? null
			)}”{asked.moved.length ? `, and its figures with it${of && ` (${of})`}:` : '.'}{:else}Totals that hold
			it change, for it has figures:{/if}
	</p>
	<Moved moved={asked.moved} {format} />
	{#if asked.seenBy.length}<p>Who will see its figures from then on: {asked.seenBy.join(', ')}.</p>{/if}
</Dialog>
