<script lang="ts">
	import TextButton from '../kit/form/TextButton.svelte';
	import type { DefinitionFault } from '../../core/blocks/definition';

	/** What has to be mended in a form, each with the way to its part. */
	interface Props {
		faults: readonly DefinitionFault[];
		/** The part that a mistake belongs to; null for the form as a whole. */
		partAt: (column: string) => { code: string; label: string } | null;
		/** Code of the part that is chosen. */
		chosen: string;
		onchoose: (code: string) => void;
	}
	let { faults, partAt, chosen, onchoose }: Props = $props();
	const MOST = 6;
</script>

<ul class="faults">
	{#each faults.slice(0, MOST) as f (f.column + f.message + f.span?.from)}
		{@const part = partAt(f.column)}
		<li>
			{#if part && part.code !== chosen}<TextButton onclick={() => onchoose(part.code)}
					>{part.label}</TextButton
				>:
			{/if}{f.message}{f.span ? ` (at character ${f.span.from + 1})` : ''}
		</li>
	{/each}
</ul>

<style>
	.faults {
		color: var(--clay);
		font-weight: 600;
	}
</style>
