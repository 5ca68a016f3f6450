<script lang="ts">
	import Button from '../../kit/form/Button.svelte';
	import Input from '../../kit/form/Input.svelte';
	import Label from '../../kit/form/Label.svelte';
	import Radio from '../../kit/form/Radio.svelte';
	import { untrack } from 'svelte';
	import { codeFor } from '../../../core/company/code';
	import type { CombinationRule } from '../../../core/inputs/schema';
	import type { RuleView } from '../../../core/inputs/combinations';
	import { ApiError, post } from '../../kit/api';
	import Dialog from '../../kit/Dialog.svelte';
	import type { DesignDimension } from './design';
	import MemberSetPick from './MemberSetPick.svelte';
	import RuleEffects from './RuleEffects.svelte';
	import { ruleWords } from './rule-words';

	/** Makes a combination rule or changes one, and shows what it would block before it is kept. */
	interface Props {
		/** Null for a new one. */
		rule: CombinationRule | null;
		dimensions: readonly DesignDimension[];
		taken: readonly string[];
		ondone: () => void;
		onclose: () => void;
	}
	let { rule, dimensions, taken, ondone, onclose }: Props = $props();
	const first = untrack(() => dimensions[0].code);
	const second = untrack(() => dimensions[1].code);
	let name = $state(untrack(() => rule?.name ?? ''));
	let way: CombinationRule['effect'] = $state(untrack(() => rule?.effect ?? 'block'));
	let lead = $state(untrack(() => rule?.lead ?? { dimension: first, under: [], except: [] }));
	let others = $state(untrack(() => rule?.others ?? [{ dimension: second, under: [], except: [] }]));
	let problem = $state('');
	let busy = $state(false);
	let effects: RuleView | null = $state.raw(null);

	const draft = $derived({
		code: rule?.code ?? codeFor(name, '-', taken, 'rule'),
		name: name.trim() || 'New rule',
		on: rule?.on ?? true,
		effect: way,
		lead: $state.snapshot(lead),
		others: $state.snapshot(others)
	});
	const whole = $derived(lead.under.length > 0 && others.every((o) => o.under.length > 0));
	const twice = $derived(
		[lead, ...others].some((s, i, all) => all.findIndex((o) => o.dimension === s.dimension) < i)
	);
	let asked = 0;
	$effect(() => {
		const tried = draft;
		const mine = ++asked;
		if (!whole || twice) {
			effects = null;
			return;
		}
		void post<RuleView>('combination-rules/try', tried).then(
			(found) => {
				if (mine === asked) effects = found;
			},
			() => {
				if (mine === asked) effects = null;
			}
		);
	});
	async function keep() {
		if (!name.trim()) problem = 'Give it a name.';
		else if (twice) problem = 'Each part speaks of another dimension.';
		else if (!whole) problem = 'Tick at least one member on each side.';
		else {
			busy = true;
			problem = '';
			try {
				await post('combination-rules', draft);
				ondone();
			} catch (e) {
				problem = e instanceof ApiError ? e.message : 'The rule was not saved.';
			} finally {
				busy = false;
			}
		}
	}
</script>

<Dialog
	title={rule ? `Change “${rule.name}”` : 'A new combination rule'}
	action={rule ? 'Change' : 'Add'}
	size="lg"
	disabled={busy}
	{problem}
	onaction={keep}
	{onclose}
>
	<div class="form">
		<div>
			<Label for="rule-name">Name</Label>
			<Input id="rule-name" bind:value={name} placeholder="Dinghies are not sold on the web" />
		</div>
		<div class="sides" class:three={others.length > 1}>
			<div>
				<p class="side">These members</p>
				<MemberSetPick {dimensions} set={lead} label="Leading" onchange={(s) => (lead = s)} />
			</div>
			{#each others as other, i (i)}
				<div>
					<p class="side">{i === 0 ? (way === 'block' ? 'never with' : 'only with') : 'together with'}</p>
					<MemberSetPick
						{dimensions}
						set={other}
						label={i === 0 ? 'Other' : `Other ${i + 1}`}
						onchange={(s) => (others = others.with(i, s))}
					/>
				</div>
			{/each}
		</div>
		<div class="ways">
			<Radio name="effect" value="block" bind:group={way}>may never hold data with those</Radio>
			<Radio name="effect" value="allow" bind:group={way}>may hold data only with those</Radio>
			{#if others.length < dimensions.length - 1 && others.length < 3}
				<Button
					quiet
					onclick={() =>
						(others = [
							...others,
							{
								dimension: dimensions.find(
									(d) => d.code !== lead.dimension && others.every((o) => o.dimension !== d.code)
								)!.code,
								under: [],
								except: []
							}
						])}>And a further dimension</Button
				>
			{/if}
			{#if others.length > 1}
				<Button quiet onclick={() => (others = others.slice(0, -1))}>Without the last</Button>
			{/if}
		</div>
		{#if twice}<p class="off">Each part speaks of another dimension.</p>
		{:else if whole}
			<p><b>{ruleWords(draft, dimensions)}.</b></p>
			{#if effects}<RuleEffects view={effects} />{/if}
		{/if}
	</div>
</Dialog>

<style>
	.form {
		display: grid;
		gap: 12px;
	}
	.sides {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 16px;
	}
	.three {
		grid-template-columns: 1fr 1fr 1fr;
	}
	.side {
		font-weight: 600;
		margin-bottom: 4px;
	}
	.ways {
		display: flex;
		flex-wrap: wrap;
		gap: 6px 20px;
		align-items: center;
	}
	.off {
		color: var(--clay);
		font-weight: 600;
	}
</style>
