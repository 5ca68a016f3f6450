<!-- Below a grid: words that rows are searched for, and what the chosen cells come to. -->
<script lang="ts">
	import { counted } from '../writing/count';
	interface Props {
		/** Rows can be sought by their names. */
		seeks: boolean;
		words: string;
		/** Rows that hold them. */
		found: number;
		summary: string;
		/** Words that rows are searched for, after a pause. */
		onfind?: (words: string) => void;
		onhelp: () => void;
	}
	let { seeks, words = $bindable(), found, summary, onfind, onhelp }: Props = $props();

	const PAUSE_MS = 300;
	let searching: ReturnType<typeof setTimeout> | undefined;
	function seek() {
		clearTimeout(searching);
		searching = setTimeout(() => onfind?.(words.trim()), PAUSE_MS);
	}
</script>

<div class="foot">
	{#if seeks}
		<label class="seek"
			><span class="sr-only">Find rows</span>
			<input type="search" placeholder="Find rows" bind:value={words} oninput={seek} />
		</label>
		{#if words}<span>{counted(found, 'row')}</span>{/if}
	{/if}
	<span class="summary" aria-live="polite">{summary}</span>
	<button class="help" onclick={onhelp}>Marks and keys <kbd>F1</kbd></button>
</div>

<style>
	.seek input {
		border: 1px solid var(--rule-strong);
		border-radius: 4px;
		background: var(--sheet);
		font: inherit;
		font-size: 12px;
		padding: 1px 8px;
		width: 150px;
	}
	.summary {
		margin-left: auto;
	}
	.help {
		color: var(--green);
		text-decoration: underline;
		text-underline-offset: 2px;
	}
	.foot {
		display: flex;
		gap: 12px;
		align-items: center;
		min-height: 26px;
		padding: 2px 10px 2px 8px;
		font-size: 12px;
		color: var(--ink-2);
		background: var(--ground);
		border-top: 1px solid var(--rule);
	}
</style>
