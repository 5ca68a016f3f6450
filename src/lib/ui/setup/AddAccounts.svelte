<script lang="ts">
	import { untrack } from 'svelte';
	import type { Account, AccountType } from '../../core/company/schema';
	import type { ChartRow } from '../../core/views/chart-row';
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';
	import { TYPES } from './account-words';
	import AddToTree from './AddToTree.svelte';

	/** Adds accounts under a heading. */
	interface Props {
		/** Null is the top. */
		heading: ChartRow | null;
		ondone: (made: Account[]) => void;
		onclose: () => void;
	}
	let { heading, ondone, onclose }: Props = $props();
	let type = $state<AccountType>(untrack(() => heading?.type ?? 'expense'));
	const EXAMPLE = '6490 Security\nVehicles\n  6491 Fuel\n  6492 Repairs';
</script>

<AddToTree
	path="accounts"
	one="account"
	under={heading}
	also={{ type }}
	lead="One a line; a code may stand before the name"
	example={EXAMPLE}
	note={(a: Account, leaf: boolean) => (leaf ? a.code : '')}
	{ondone}
	{onclose}
>
	{#snippet fields()}
		<Label for="new-type">They are</Label>
		<Select placeholder="" id="new-type" items={TYPES} bind:value={type} />
	{/snippet}
</AddToTree>
