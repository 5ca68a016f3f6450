<script lang="ts">
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
	<select class="field choice" {value} onchange={(e) => onchange(e.currentTarget.value)}>
		<option value="">all</option>
		{#each members as m (m.code)}<option value={m.code}>{'\u00a0\u00a0'.repeat(m.depth)}{m.name}</option
			>{/each}
	</select>
{:else}
	<input
		type="search"
		class="field choice"
		list="{id}-members"
		placeholder="all {members.length.toLocaleString('en-GB')}"
		value={name}
		oninput={(e) => (words = e.currentTarget.value)}
		onchange={(e) => choose(e.currentTarget)}
	/>
	<datalist id="{id}-members"
		>{#each offered as m (m.code)}<option value={m.name}></option>{/each}</datalist
	>
{/if}

<style>
	input {
		width: 180px;
	}
</style>
