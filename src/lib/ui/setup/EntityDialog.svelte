<script lang="ts">
	import { useModules } from '../kit/modules';
	import { untrack } from 'svelte';
	import { CURRENCIES } from '../../core/company/currency';
	import type { Entity } from '../../core/company/schema';
	import type { MovedFigures } from '../../core/views/chart-row';
	import { ApiError, patch, post } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Moved from './Moved.svelte';

	/** Adds a legal entity, or changes one: its name, and the currency in which it counts. */
	interface Props {
		/** Null for a new one. */
		entity: Entity | null;
		/** The currency in which the company reports. */
		reporting: string;
		ondone: (words: string) => void;
		onclose: () => void;
	}
	let { entity, reporting, ondone, onclose }: Props = $props();
	let name = $state(untrack(() => entity?.name ?? ''));
	const isOn = useModules();
	let currency = $state(untrack(() => entity?.currency ?? reporting));
	let problem = $state('');
	let busy = $state(false);
	/** Figures that will be read in another currency; whoever has seen them is asked once. */
	let moved = $state.raw<MovedFigures[]>([]);
	let seen = $state('');
	const code = $derived(currency.trim().toUpperCase());

	async function keep(event: SubmitEvent) {
		event.preventDefault();
		busy = true;
		problem = '';
		try {
			if (!entity) await post('entities', { name, currency: code });
			else {
				const path = `entities/${encodeURIComponent(entity.code)}`;
				const change = { name, currency: code };
				if (code !== entity.currency && seen !== code) {
					({ moved } = await patch<{ moved: MovedFigures[] }>(path, { ...change, dry: true }));
					seen = code;
					if (moved.length) return;
				}
				await patch(path, change);
			}
			ondone(entity ? `${name} is changed.` : `${name} is there: give it departments with “change”.`);
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'It was not saved.';
		} finally {
			busy = false;
		}
	}
</script>

<Dialog
	title={entity ? `Change ${entity.name}` : 'A new legal entity'}
	action={busy ? 'Calculating …' : entity ? (moved.length ? 'Change it' : 'Change') : 'Add'}
	form="entity-form"
	disabled={busy}
	{problem}
	{onclose}
>
	<form id="entity-form" onsubmit={keep}>
		<Label for="entity-name">Name</Label>
		<Input id="entity-name" required maxlength={120} autocomplete="off" bind:value={name} />
		{#if isOn('currencies')}
			<Label for="entity-currency">Counts in, such as {reporting}</Label>
			<Input
				id="entity-currency"
				list="currencies"
				required
				maxlength={3}
				autocomplete="off"
				bind:value={currency}
			/>
			<datalist id="currencies"
				>{#each CURRENCIES as c (c)}<option value={c}></option>{/each}</datalist
			>
		{:else}
			<p class="muted">
				It counts in {reporting}. For another currency, switch on “Several currencies” under Company.
			</p>
		{/if}
	</form>
	{#if moved.length && seen === code}
		<p>
			Nothing is converted. What stands in its departments is read in {code} from then on, in these scenarios
		</p>
		<Moved {moved} />
	{:else if code !== reporting}
		<p class="muted">
			Its departments plan in {code}, and its books are kept in it. Rates to {reporting} stand under Currencies.
		</p>
	{/if}
</Dialog>

<style>
	form {
		display: grid;
		gap: 8px;
	}
</style>
