<script lang="ts">
	import { tick } from 'svelte';
	import type { MenuItem } from './menu';
	import { roving } from './roving';

	/** A menu where the pointer is, or what it is about. */
	interface Props {
		x: number;
		y: number;
		label?: string;
		groups: readonly (readonly MenuItem[])[];
		onclose: () => void;
	}
	let { x, y, label = 'Actions for the chosen cells', groups, onclose }: Props = $props();
	const ITEMS = 'button:not(:disabled)';
	let menu: HTMLDivElement | undefined = $state();
	let place = $state({ left: 0, top: 0 });

	$effect(() => {
		const asked = { x, y };
		void tick().then(() => {
			if (!menu) return;
			// What would reach over the window's edge stands on the other side of the pointer.
			const { width, height } = menu.getBoundingClientRect();
			place = {
				left: Math.max(4, asked.x + width > innerWidth ? asked.x - width : asked.x),
				top: Math.max(4, asked.y + height > innerHeight ? innerHeight - height - 4 : asked.y)
			};
			menu.querySelector<HTMLButtonElement>(ITEMS)?.focus();
		});
	});
	function onkeydown(event: KeyboardEvent) {
		if (event.key !== 'Escape' && event.key !== 'Tab') return;
		event.preventDefault();
		event.stopPropagation();
		onclose();
	}
	function choose(item: MenuItem) {
		onclose();
		item.act();
	}
</script>

<svelte:window
	onpointerdown={(e) => {
		if (!menu?.contains(e.target as Node)) onclose();
	}}
	onblur={onclose}
/>

<div
	bind:this={menu}
	class="menu"
	role="menu"
	tabindex="-1"
	aria-label={label}
	style:left="{place.left}px"
	style:top="{place.top}px"
	{onkeydown}
	{@attach roving(ITEMS)}
>
	{#each groups.filter((g) => g.length) as group, i (i)}
		{#if i}<hr />{/if}
		{#each group as item (item.label)}
			<button role="menuitem" type="button" disabled={item.disabled} onclick={() => choose(item)}>
				<span>{item.label}</span>{#if item.keys}<kbd>{item.keys}</kbd>{/if}
			</button>
		{/each}
	{/each}
</div>

<style>
	.menu {
		position: fixed;
		z-index: 50;
		min-width: 232px;
		padding: 4px 0;
		background: var(--sheet);
		border: 1px solid var(--rule-strong);
		border-radius: 6px;
		box-shadow: 0 8px 24px var(--shade);
		font-size: 13px;
	}
	button {
		display: flex;
		justify-content: space-between;
		gap: 24px;
		width: 100%;
		padding: 4px 12px;
		text-align: left;
	}
	button:hover:not(:disabled),
	button:focus-visible {
		background: var(--green-tint);
		outline: none;
	}
	button:disabled {
		color: var(--ink-2);
		opacity: 0.6;
	}
	kbd {
		color: var(--ink-2);
		font-size: 11.5px;
		font-family: inherit;
	}
	hr {
		margin: 4px 0;
		border-color: var(--rule);
	}
</style>
