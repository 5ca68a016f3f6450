<script lang="ts" generics="D extends { code: string; name: string }">
	import type { Snippet } from 'svelte';
	import { beforeNavigate } from '$app/navigation';
	import TypedUnder from './TypedUnder.svelte';
	import Dialog from '../kit/Dialog.svelte';
	import Button from '../kit/form/Button.svelte';
	import Tick from '../kit/form/Tick.svelte';
	import { digits } from '../writing/count';
	import type { Draft } from './draft.svelte';

	/** A page on which the form of a model or a schedule is changed: its parts at the left, one of them at the right. */
	interface Props {
		draft: Draft<D>;
		title: string;
		/** What it is: “model”. */
		what: string;
		scenarioName: string;
		/** The page of its figures. */
		figures: string;
		/** Why it cannot be changed; empty where it can. */
		reason: string;
		/** Whether there is something to be mended. */
		faulty: boolean;
		/** Other scenarios that use the same form. */
		alsoUsedBy: readonly { code: string; name: string }[];
		nameOf: (scenario: string) => string;
		/** What leaves a scenario with it. */
		going: string;
		/** Its parts. */
		parts: Snippet;
		/** The part that is chosen, and what it comes to. */
		part: Snippet;
		outcome: Snippet;
		/** What the part is called. */
		about: string;
	}
	let {
		draft,
		title,
		what,
		scenarioName,
		figures,
		reason,
		faulty,
		alsoUsedBy,
		nameOf,
		going,
		parts,
		part,
		outcome,
		about
	}: Props = $props();
	const { definition, changed, busy } = $derived(draft);
	const editable = $derived(reason === '');

	beforeNavigate((navigation) => {
		if (
			changed &&
			!busy &&
			!navigation.willUnload &&
			!confirm(`The ${what} is not saved. Leave and lose what was changed?`)
		)
			navigation.cancel();
	});
	function onkeydown(event: KeyboardEvent) {
		if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 's') {
			event.preventDefault();
			if (changed && !faulty && !busy) void draft.save(definition);
		}
	}
</script>

<svelte:window
	{onkeydown}
	onbeforeunload={(e) => {
		if (changed) e.preventDefault();
	}}
/>
<svelte:head><title>{title} · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>{title}</h1>
		<p class="muted">
			<a class="plain" href={figures}>Figures</a>
			· in {scenarioName}
			{#if reason}<b>{reason}</b>{/if}
		</p>
	</div>
	{#if editable}
		<div class="actions">
			{#if changed}<span class="unsaved" role="status">not saved</span>{/if}
			<Button quiet disabled={!changed || busy} onclick={() => draft.discard()}>Discard</Button>
			<Button disabled={!changed || busy || faulty} onclick={() => draft.save(definition)}
				>{busy ? 'Calculating …' : 'Save'} <kbd class="key">Ctrl S</kbd></Button
			>
		</div>
	{/if}
</div>
{#if draft.problem}<p class="problem" role="alert">{draft.problem}</p>{/if}
<div class="work">
	<nav class="parts" aria-label="Lines">
		{@render parts()}
		{#if alsoUsedBy.length && editable}
			<fieldset>
				<legend>Save it also in</legend>
				{#each alsoUsedBy as s (s.code)}<Tick value={s.code} bind:group={draft.also}>{s.name}</Tick>{/each}
			</fieldset>
		{/if}
	</nav>
	<section class="part panel" aria-label={about}>
		<div class="form">{@render part()}</div>
		<div class="outcome" aria-live="polite">{@render outcome()}</div>
	</section>
</div>

{#if draft.typed}
	<TypedUnder
		typed={draft.typed}
		{nameOf}
		disabled={busy}
		ondecide={(decision) => draft.decide(decision)}
		onclose={() => (draft.typed = null)}
	/>
{:else if draft.displaced}
	<Dialog
		title="Typed figures would go"
		action="Save and take them out"
		disabled={busy}
		onaction={() => draft.save(draft.removing ? null : definition, true)}
		onclose={() => {
			draft.displaced = null;
			draft.removing = false;
		}}
	>
		<p>What was typed here has no place any more and is taken out. History can bring it back.</p>
		<ul class="going">
			{#each draft.displaced as d (d.scenario + d.label)}<li>
					{d.label}: {digits(d.cells)}
					{d.cells === 1 ? 'cell' : 'cells'} in {nameOf(d.scenario)}
				</li>{/each}
		</ul>
	</Dialog>
{:else if draft.removing}
	<Dialog
		title="Take {definition.name} out of {scenarioName}?"
		action="Take it out"
		disabled={busy}
		onaction={() => draft.save(null)}
		onclose={() => (draft.removing = false)}
	>
		<p>{going}</p>
	</Dialog>
{/if}

<style>
	.unsaved {
		color: var(--plum);
		font-weight: 600;
	}
	.key {
		margin-left: 6px;
		background: transparent;
		border-color: currentColor;
	}
	.work {
		display: grid;
		grid-template-columns: 270px minmax(0, 1fr);
		gap: 14px;
		flex: 1;
		min-height: 0;
	}
	.parts {
		overflow: auto;
		display: grid;
		gap: 10px;
		align-content: start;
	}
	.parts :global(details summary) {
		cursor: pointer;
		color: var(--green);
		font-weight: 600;
	}
	.parts :global(details label) {
		display: grid;
		gap: 2px;
		margin: 6px 0;
		color: var(--ink-2);
	}
	fieldset {
		display: grid;
		gap: 4px;
	}
	legend {
		color: var(--ink-2);
		padding-bottom: 4px;
	}
	.part {
		display: flex;
		flex-direction: column;
		min-height: 0;
		padding: 0;
	}
	.form {
		overflow: auto;
		flex: 1;
		padding: 12px 16px;
	}
	/* Fields of a part, two beside each other, and groups of them under a heading. */
	.form :global(.grid) {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 8px 16px;
	}
	.form :global(.grid + .grid),
	.form :global(fieldset .grid) {
		margin-top: 8px;
	}
	.form :global(.grid label) {
		display: grid;
		gap: 2px;
		align-content: start;
		color: var(--ink-2);
		font-size: 12.5px;
	}
	.form :global(.grid .field) {
		font-size: 14px;
	}
	.form :global(fieldset) {
		display: block;
		border-top: 1px solid var(--rule);
		margin-top: 12px;
		padding-top: 4px;
	}
	.form :global(legend) {
		color: var(--ink);
		font-weight: 600;
		padding: 0 8px 0 0;
	}
	.form :global(.ways) {
		display: flex;
		gap: 20px;
		margin: 2px 0 6px;
	}
	.outcome {
		border-top: 1px solid var(--rule-strong);
		padding: 8px 16px;
		min-height: 60px;
		background: var(--tint);
		border-radius: 0 0 6px 6px;
	}
	.problem {
		color: var(--clay);
		font-weight: 600;
	}
	.going {
		margin-top: 8px;
		list-style: disc;
		padding-left: 20px;
	}
</style>
