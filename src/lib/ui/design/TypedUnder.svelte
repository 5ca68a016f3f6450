<script lang="ts">
	import { counted, digits } from '../writing/count';
	import Dialog from '../kit/Dialog.svelte';
	import Button from '../kit/form/Button.svelte';
	import type { Decision, Typed } from './typed-under';

	/** Asks whether typed figures stay over what comes to be posted in their place, or go. */
	interface Props {
		typed: readonly Typed[];
		nameOf: (scenario: string) => string;
		disabled: boolean;
		ondecide: (decision: Decision) => void;
		onclose: () => void;
	}
	let { typed, nameOf, disabled, ondecide, onclose }: Props = $props();
	const MOST = 12;
	const scenarios = $derived(new Set(typed.map((t) => t.scenario)).size);
</script>

<Dialog
	title="Figures are typed there"
	action="Keep them over what is posted"
	size="md"
	{disabled}
	onaction={() => ondecide('keep')}
	{onclose}
>
	<p>
		What you save would be posted to accounts in which figures are typed. Kept, they stand over what is posted
		until somebody deletes them; taken out, what is posted shows. History can bring them back.
	</p>
	<ul>
		{#each typed.slice(0, MOST) as t (`${t.scenario} ${t.account} ${t.department}`)}
			<li>
				{t.name}{scenarios > 1 ? ` in ${nameOf(t.scenario)}` : ''}: {counted(t.cells, 'cell')}, {digits(
					Math.round(t.sum)
				)} in all
			</li>
		{/each}
		{#if typed.length > MOST}<li>and {typed.length - MOST} more</li>{/if}
	</ul>
	{#snippet also()}<Button quiet {disabled} onclick={() => ondecide('remove')}>Take them out</Button
		>{/snippet}
</Dialog>

<style>
	ul {
		list-style: disc;
		padding-left: 20px;
		margin-top: 8px;
	}
</style>
