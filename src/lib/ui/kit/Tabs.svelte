<script lang="ts" generics="Key extends string">
	import { roving } from './roving';
	import { tabId } from './tab-panel';

	/** Several views of one thing, one at a time: the arrow keys choose, Tab leads on into what is shown. */
	interface Props {
		/** What the views are of, for those who cannot see where they stand. */
		label: string;
		/** The id of what shows the chosen one; it wears `tabPanel` of the same. */
		panel: string;
		tabs: readonly { key: Key; name: string; count?: number }[];
		chosen: Key;
		onchoose: (key: Key) => void;
	}
	let { label, panel, tabs, chosen, onchoose }: Props = $props();
</script>

<div
	role="tablist"
	aria-label={label}
	{@attach roving('[role=tab]', (tab) => onchoose(tab.dataset.key as Key))}
>
	{#each tabs as t (t.key)}<button
			type="button"
			role="tab"
			id={tabId(panel, t.key)}
			aria-controls={t.key === chosen ? panel : undefined}
			data-key={t.key}
			aria-selected={t.key === chosen}
			tabindex={t.key === chosen ? 0 : -1}
			onclick={() => onchoose(t.key)}
			>{t.count === undefined ? t.name : `${t.name} `}{#if t.count !== undefined}<span class="muted"
					>{t.count}</span
				>{/if}</button
		>{/each}
</div>

<style>
	div {
		display: flex;
		gap: 14px;
	}
	button {
		padding: 4px 0 7px;
		color: var(--ink-2);
		white-space: nowrap;
	}
	[aria-selected='true'] {
		color: var(--ink);
		font-weight: 600;
		box-shadow: inset 0 -2px var(--green);
	}
</style>
