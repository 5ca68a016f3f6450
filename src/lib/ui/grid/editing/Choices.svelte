<script lang="ts">
	import { onMount, tick } from 'svelte';
	/** What can be picked for the cell that is being typed into, below it; its field keeps the focus. */
	interface Props {
		id: string;
		/** The field; null once it is gone. */
		under: () => HTMLElement | null;
		choices: readonly string[];
		onpick: (choice: string) => void;
	}
	let { id, under, choices, onpick }: Props = $props();

	const ROOM = 240;
	let place = $state({ left: 0, top: 0, width: 0, up: false });
	/** Nothing is marked until an arrow is pressed: what is typed counts. */
	let marked = $state(-1);
	let list: HTMLUListElement | undefined = $state();
	onMount(async () => {
		// The field comes with the same change as this list.
		await tick();
		const box = under()?.getBoundingClientRect();
		if (!box) return;
		const up = box.bottom + ROOM > innerHeight && box.top > ROOM;
		place = { left: box.left, top: up ? box.top : box.bottom, width: box.width, up };
	});
	$effect(() => {
		void choices;
		marked = -1;
	});

	/** Takes a key of the field. @returns whether it was for the list */
	export function key(event: KeyboardEvent): boolean {
		const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
		if (step) {
			marked = Math.max(-1, Math.min(choices.length - 1, marked + step));
			list?.children[marked]?.scrollIntoView({ block: 'nearest' });
			return true;
		}
		if (event.key === 'Enter' && marked >= 0) {
			onpick(choices[marked]);
			return true;
		}
		return false;
	}
</script>

<ul
	bind:this={list}
	{id}
	role="listbox"
	aria-label="To pick from"
	class:up={place.up}
	style:left="{place.left}px"
	style:top="{place.top}px"
	style:min-width="{place.width}px"
>
	{#each choices as choice, i (choice)}
		<!-- A press would take the focus from the field, and end typing before it is picked. -->
		<li
			role="option"
			aria-selected={i === marked}
			onpointerdown={(event) => {
				event.preventDefault();
				onpick(choice);
			}}
		>
			{choice}
		</li>
	{/each}
</ul>

<style>
	ul {
		position: fixed;
		z-index: 40;
		max-height: 240px;
		max-width: 360px;
		overflow-y: auto;
		margin: 0;
		padding: 3px 0;
		list-style: none;
		font-size: 13px;
		background: var(--sheet);
		border: 1px solid var(--rule-strong);
		box-shadow: 0 4px 14px rgb(0 0 0 / 14%);
	}
	ul.up {
		transform: translateY(-100%);
	}
	li {
		padding: 3px 9px;
		white-space: nowrap;
		overflow: hidden;
		text-overflow: ellipsis;
		cursor: default;
	}
	li:hover,
	li[aria-selected='true'] {
		background: var(--tint);
	}
	li[aria-selected='true'] {
		box-shadow: inset 3px 0 var(--green);
	}
</style>
