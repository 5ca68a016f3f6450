<script lang="ts" generics="Key extends string">
	import { roving } from './roving';

	/** One of a few, all in sight; the arrow keys lead from one to the next, Enter or the space bar chooses. */
	interface Props {
		label: string;
		choices: readonly { key: Key; name: string; count?: number }[];
		chosen: Key;
		onchoose: (key: Key) => void;
	}
	let { label, choices, chosen, onchoose }: Props = $props();
</script>

<div role="group" aria-label={label} {@attach roving('button')}>
	{#each choices as c (c.key)}<button
			type="button"
			aria-pressed={c.key === chosen}
			tabindex={c.key === chosen ? 0 : -1}
			onclick={() => onchoose(c.key)}
			>{c.count === undefined ? c.name : `${c.name} `}{#if c.count !== undefined}<b>{c.count}</b>{/if}</button
		>{/each}
</div>

<style>
	div {
		display: flex;
		flex-wrap: wrap;
	}
	button {
		border: 1px solid var(--rule-strong);
		background: var(--sheet);
		color: var(--ink-2);
		padding: 3px 10px;
		margin-left: -1px;
		white-space: nowrap;
	}
	button:first-child {
		border-radius: 5px 0 0 5px;
		margin-left: 0;
	}
	button:last-child {
		border-radius: 0 5px 5px 0;
	}
	[aria-pressed='true'] {
		background: var(--green-tint);
		color: var(--green);
		font-weight: 600;
	}
</style>
