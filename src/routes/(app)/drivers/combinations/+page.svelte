<script lang="ts">
	import Button from '$lib/ui/kit/form/Button.svelte';
	import type { CombinationRule } from '$lib/core/inputs/schema';
	import { ApiError, patch, post, remove } from '$lib/ui/kit/api';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import RuleDialog from '$lib/ui/models/design/RuleDialog.svelte';
	import RuleEffects from '$lib/ui/models/design/RuleEffects.svelte';
	import { ruleWords } from '$lib/ui/models/design/rule-words';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import Switch from '$lib/ui/kit/form/Switch.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';

	let { data } = $props();
	const company = useCompany();
	let editing: { rule: CombinationRule | null } | null = $state(null);
	const editable = $derived(data.may['change driver models']);

	async function doing(work: () => Promise<unknown>, said: string, undo?: () => void) {
		try {
			await work();
			await reread();
			notices.say(said, false, undo ? { label: 'Undo', run: undo } : undefined);
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'Nothing was changed.', true);
		}
	}
	const turn = (rule: CombinationRule, on: boolean) =>
		doing(
			() => patch(`combination-rules/${rule.code}`, { on }),
			on ? `“${rule.name}” is on. Figures stay as they are.` : `“${rule.name}” is off.`
		);
	const takeOut = (rule: CombinationRule) =>
		doing(
			() => remove(`combination-rules/${rule.code}`),
			`“${rule.name}” is removed.`,
			() => void doing(() => post('combination-rules', rule), `“${rule.name}” is back.`)
		);
</script>

<svelte:head><title>Combination rules · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>Combination rules</h1>
		<p class="muted">
			<a class="plain" href={withSelection('/drivers', data.selection, company.calendar)}>All drivers</a> · Which
			members may hold data together. A rule changes no figure: it stops what is typed, imported or spread.
		</p>
	</div>
	{#if editable && data.dimensions.length > 1}
		<Button onclick={() => (editing = { rule: null })}>New rule …</Button>
	{/if}
</div>
<div class="rules">
	{#each data.rules as view (view.rule.code)}
		{@const rule = view.rule}
		<section class="panel" class:off={!rule.on} aria-label={rule.name}>
			<div class="head">
				<h2>{rule.name}</h2>
				{#if editable}
					<Switch label="Switch {rule.name}" on={rule.on} onswitch={(on) => turn(rule, on)} />
					<span class="muted">{rule.on ? 'on' : 'off'}</span>
					<TextButton onclick={() => (editing = { rule })}
						>change<span class="sr-only"> {rule.name}</span></TextButton
					>
					<TextButton onclick={() => takeOut(rule)}
						>remove<span class="sr-only"> {rule.name}</span></TextButton
					>
				{:else}<span class="muted">{rule.on ? 'on' : 'off'}</span>{/if}
			</div>
			<p>{ruleWords(rule, data.dimensions)}.</p>
			<RuleEffects {view} />
		</section>
	{:else}
		<p class="muted">
			There is no rule: everything may be combined with everything. A rule keeps out, say, a product from a
			channel in which it is not sold.
		</p>
	{/each}
</div>
{#if editing}
	<RuleDialog
		rule={editing.rule}
		dimensions={data.dimensions}
		taken={data.rules.map((r) => r.rule.code)}
		ondone={() => {
			editing = null;
			void doing(async () => {}, 'The rule is kept. Figures stay as they are.');
		}}
		onclose={() => (editing = null)}
	/>
{/if}

<style>
	.rules {
		display: grid;
		gap: 12px;
		align-content: start;
		overflow: auto;
	}
	.panel {
		display: grid;
		gap: 4px;
	}
	.off h2,
	.off > p {
		color: var(--ink-2);
	}
	.head {
		display: flex;
		gap: 16px;
		align-items: center;
	}
	h2 {
		margin-right: auto;
	}
</style>
