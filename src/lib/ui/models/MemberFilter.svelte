<script lang="ts">
	import { digits } from '../writing/count';
	import Field from '../kit/form/Field.svelte';
	import Choice from '../kit/form/Choice.svelte';
	/** One member of a dimension, or all: a list to choose from, and a field to search where the list would be long. */
	interface Props {
		members: readonly { code: string; name: string; depth: number }[];
		value: string;
		onchange: (code: string) => void;
		/** Told when words fit no member. */
		onmiss: (words: string) => void;
	}
	let { members, value, onchange, onmiss }: Props = $props();

	/** More than so many are not looked through by eye. */
	const LISTED = 300;
	const OFFERED = 50;
	const id = $props.id();
	const name = $derived(members.find((m) => m.code === value)?.name ?? value);
	let words = $state('');
	const offered = $derived.by(() => {
		const sought = words.trim().toLowerCase();
		if (!sought) return [];
		return members.filter((m) => m.name.toLowerCase().includes(sought)).slice(0, OFFERED);
	});

	function choose(input: HTMLInputElement) {
		const sought = input.value.trim().toLowerCase();
		const found = members.find((m) => m.name.toLowerCase() === sought || m.code.toLowerCase() === sought);
		if (!sought || found) onchange(found?.code ?? '');
		else {
			onmiss(input.value.trim());
			input.value = name;
		}
	}
</script>

{#if members.length <= LISTED}
	<Choice class="choice" {value} onpick={(v) => onchange(v)}>
		<option value="">all</option>
		{#each members as m (m.code)}<option value={m.code}>{'\u00a0\u00a0'.repeat(m.depth)}{m.name}</option
			>{/each}
	</Choice>
{:else}
	<Field
		style="width: 180px"
		type="search"
		class="choice"
		list="{id}-members"
		placeholder="all {digits(members.length)}"
		value={name}
		oninput={(e) => (words = e.currentTarget.value)}
		onchange={(e) => choose(e.currentTarget)}
	/>
	<datalist id="{id}-members"
		>{#each offered as m (m.code)}<option value={m.name}></option>{/each}</datalist
	>
{/if}
