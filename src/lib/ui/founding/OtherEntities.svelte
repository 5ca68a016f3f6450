<script lang="ts" module>
	/** A legal entity beside the company itself, as it is typed. */
	export interface OtherEntity {
		name: string;
		currency: string;
		/** Place in the outline of the department that it owns with all under it. */
		department: string;
		rate: string;
	}
</script>

<script lang="ts">
	import { tick } from 'svelte';
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import IconButton from '../kit/form/IconButton.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';
	import TextButton from '../kit/form/TextButton.svelte';

	/** Other legal entities, each with its departments and the currency in which it counts. */
	interface Props {
		entities: OtherEntity[];
		/** In the order of the outline. */
		departments: readonly { code: string; name: string }[];
		/** The currency in which the company reports; empty while none is said. */
		reporting: string;
	}
	let { entities = $bindable(), departments, reporting }: Props = $props();
	const places = $derived(departments.map((d, i) => ({ value: String(i), name: d.name })));
	async function add() {
		entities = [...entities, { name: '', currency: reporting, department: '0', rate: '' }];
		await tick();
		document.getElementById(`entity-name-${entities.length - 1}`)?.focus();
	}
	const codeOf = (e: OtherEntity) => e.currency.trim().toUpperCase();
	const foreign = (e: OtherEntity) => codeOf(e).length === 3 && codeOf(e) !== reporting;
</script>

{#each entities as e, i (i)}
	<div class="entity">
		<div>
			<Label for="entity-name-{i}">Legal entity</Label>
			<Input id="entity-name-{i}" required maxlength={120} autocomplete="off" bind:value={e.name} />
		</div>
		<div>
			<Label for="entity-department-{i}">Owns</Label>
			<Select placeholder="" id="entity-department-{i}" items={places} bind:value={e.department} />
		</div>
		<div>
			<Label for="entity-currency-{i}">Counts in</Label>
			<Input
				id="entity-currency-{i}"
				list="currencies"
				required
				maxlength={3}
				autocomplete="off"
				bind:value={e.currency}
			/>
		</div>
		<div>
			{#if foreign(e)}
				<Label for="entity-rate-{i}">1 {codeOf(e)} in {reporting}</Label>
				<Input
					id="entity-rate-{i}"
					inputmode="decimal"
					autocomplete="off"
					placeholder="0.95"
					bind:value={e.rate}
				/>
			{/if}
		</div>
		<IconButton
			label="Take {e.name || 'this legal entity'} out"
			onclick={() => (entities = entities.filter((_, j) => j !== i))}
			><TrashBinOutline class="h-4 w-4" /></IconButton
		>
	</div>
{/each}
{#if entities.some(foreign)}
	<p class="muted">
		What they hold is planned in their own currency and added up in {reporting}. The rate is for all months,
		to begin with; rates month by month stand under Set up, Currencies.
	</p>
{/if}
{#if departments.length}
	<p>
		<TextButton onclick={() => void add()}>A department belongs to another legal entity …</TextButton>
	</p>
{/if}

<style>
	.entity {
		display: grid;
		grid-template-columns: 2fr 2fr 1fr 1fr auto;
		gap: 12px;
		align-items: end;
	}
</style>
