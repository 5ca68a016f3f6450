<script lang="ts">
	import { digits } from '$lib/ui/writing/count';
	import { periodRange } from '$lib/core/calendar/calendar';
	import { spanOnto } from '$lib/core/calendar/onto';
	import { yearFrom } from '$lib/core/calendar/spans';
	import { beforeNavigate, goto } from '$app/navigation';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import IconButton from '$lib/ui/kit/form/IconButton.svelte';
	import Tick from '$lib/ui/kit/form/Tick.svelte';
	import Textarea from '$lib/ui/kit/form/Textarea.svelte';
	import { ArrowDownOutline, ArrowUpOutline, CloseOutline, PlusOutline } from 'flowbite-svelte-icons';
	import { onDestroy, untrack } from 'svelte';
	import { attributesOf } from '$lib/core/company/attributes';
	import type { CalendarSpec } from '$lib/core/calendar/spec';
	import type { ModelDefinition } from '$lib/core/blocks/driver-model/schema';
	import { buildTree } from '$lib/core/company/tree';
	import { LINES } from '$lib/core/views/arrangement';
	import { planFault } from '$lib/core/company/chart';
	import { definitionFaults } from '$lib/core/blocks/driver-model/check-definition';
	import { modelCalendar } from '$lib/core/blocks/driver-model/periods';
	import { namesFor } from '$lib/core/blocks/driver-model/names';
	import { ApiError, post } from '$lib/ui/kit/api';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import {
		codeOf,
		inTreeOrder,
		moved,
		newLine,
		omit,
		withoutLine,
		type DesignDimension
	} from '$lib/ui/models/design/design';
	import ResultStrip from '$lib/ui/models/design/ResultStrip.svelte';
	import { DesignPreview } from '$lib/ui/models/design/design-preview.svelte';
	import PeriodsPick from '$lib/ui/models/design/PeriodsPick.svelte';
	import LineForm from '$lib/ui/models/design/LineForm.svelte';
	import Dialog from '$lib/ui/kit/Dialog.svelte';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import Field from '$lib/ui/kit/form/Field.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';

	let { data } = $props();
	const company = useCompany();
	const design = $derived(data.design);
	const selection = $derived(data.selection);
	const scenario = $derived(data.scenarios.find((s) => s.code === selection.scenario)!);
	const disabled = $derived(!design.editable);

	let draft: ModelDefinition = $state.raw(untrack(() => data.design.definition));
	/** In whose periods the draft is kept. */
	const calendar = $derived(modelCalendar(draft, company.calendar));
	let chosen = $state(untrack(() => data.design.definition.lines[0].code));
	let also: string[] = $state([]);
	let busy = $state(false);
	let problem = $state('');
	/** Typed figures that would go, and the way to say so. */
	let displaced: { scenario: string; label: string; cells: number }[] | null = $state(null);
	let removing = $state(false);
	let version = 0;
	/** What the draft began with. */
	let begun = untrack(() => data.design);
	$effect(() => {
		const now = data.design;
		untrack(() => {
			version++;
			const other = now.definition.code !== begun.definition.code || now.version !== begun.version;
			const text = JSON.stringify(draft);
			const kept = text !== JSON.stringify(begun.definition) && text !== JSON.stringify(now.definition);
			if (!other) return;
			if (kept && !busy && now.definition.code === begun.definition.code) {
				problem =
					'Somebody else has changed this model meanwhile. What you changed is still here; it cannot be saved over theirs. Note it, discard, and make it anew.';
				return;
			}
			begun = now;
			draft = now.definition;
			if (!draft.lines.some((l) => l.code === chosen)) chosen = draft.lines[0].code;
		});
	});

	const changed = $derived(JSON.stringify(draft) !== JSON.stringify(design.definition));
	const line = $derived(draft.lines.find((l) => l.code === chosen) ?? draft.lines[0]);
	const fresh = $derived(!design.definition.lines.some((l) => l.code === line.code));
	const sources = $derived({
		accounts: buildTree(design.accounts),
		departments: buildTree(design.departments),
		dimensions: design.dimensions,
		money: company.data.money,
		scenarios: design.readable,
		blocks: design.schedules
	});
	const all = $derived([...design.others, draft]);
	const names = $derived(namesFor(draft, all, sources));
	const faults = $derived(definitionFaults(draft, all, sources, company.calendar));
	/** The line that a mistake belongs to. */
	const lineAt = (column: string) => /^lines\.(\w+)/.exec(column)?.[1] ?? null;
	const dimensions: DesignDimension[] = $derived(
		draft.dimensions.map((code) => {
			const found = design.dimensions.find((d) => d.code === code);
			return {
				code,
				name: found?.name ?? 'Department',
				members: inTreeOrder(found?.members ?? design.departments),
				attributes: found ? attributesOf(found) : []
			};
		})
	);
	const leaves = (items: readonly { code: string; name: string; parent: string | null }[]) => {
		const tree = buildTree(items);
		return tree.all.filter((x) => tree.isLeaf(x.code));
	};
	/** What a line can be posted to. */
	const accounts = $derived(leaves(design.accounts).filter((a) => !planFault(sources.accounts, a.code)));
	const departments = $derived(leaves(design.departments));
	const months = $derived.by(() => {
		const { from, to } = spanOnto(calendar, company.calendar, { from: scenario.first, to: scenario.last });
		return periodRange(from, to).map((p) => ({ key: calendar.key(p), label: calendar.label(p) }));
	});

	const preview = new DesignPreview();
	onDestroy(() => preview.close());
	const window = $derived.by(() => {
		const { from, to } = spanOnto(calendar, company.calendar, selection);
		return yearFrom(calendar, from, to);
	});
	const spans = $derived([
		...Array.from({ length: window.to - window.from + 1 }, (_, i) => ({
			from: window.from + i,
			to: window.from + i
		})),
		window
	]);
	$effect(() => {
		const definition = draft;
		const query = { model: definition.code, rows: [LINES], lines: [], spans: $state.snapshot(spans) };
		void data.design;
		if (faults.length) return preview.clear();
		const { scenario: code } = selection;
		untrack(() => preview.show(code, version, definition, query));
	});
	const result = $derived(preview.figures?.rows.find((r) => r.heads === line.code));

	function keep(own: CalendarSpec | undefined) {
		const rest = omit(draft, 'calendar');
		draft = own ? { ...rest, calendar: own } : rest;
	}
	function discard() {
		begun = data.design;
		draft = data.design.definition;
		problem = '';
		if (!draft.lines.some((l) => l.code === chosen)) chosen = draft.lines[0].code;
	}
	function add() {
		const code = codeOf(
			'New line',
			draft.lines.map((l) => l.code)
		);
		const at = draft.lines.findIndex((l) => l.code === line.code) + 1;
		draft = { ...draft, lines: draft.lines.toSpliced(at, 0, newLine(code, 'New line')) };
		chosen = code;
	}
	function change(next: ModelDefinition) {
		// A new line may have got another name in formulas.
		const at = draft.lines.findIndex((l) => l.code === chosen);
		draft = next;
		if (!next.lines.some((l) => l.code === chosen)) chosen = next.lines[at]?.code ?? next.lines[0].code;
	}
	function removeLine(code: string) {
		const at = draft.lines.findIndex((l) => l.code === code);
		draft = withoutLine(draft, code);
		if (chosen === code) chosen = draft.lines[Math.min(at, draft.lines.length - 1)].code;
	}
	async function save(definition: ModelDefinition | null, drop = false) {
		busy = true;
		problem = '';
		try {
			await post(`models/${draft.code}/definition`, {
				scenarios: [selection.scenario, ...(definition ? also : [])],
				version: begun.version,
				definition,
				drop
			});
			displaced = null;
			if (definition) {
				await reread();
				notices.say(
					`${draft.name} is saved in ${scenario.name}${also.length ? ` and ${also.length} more` : ''}. History can take it back.`
				);
			} else {
				draft = design.definition;
				await goto(withSelection('/drivers', selection, company.calendar), { invalidateAll: true });
				notices.say(`${design.definition.name} is no longer in ${scenario.name}. History can bring it back.`);
			}
		} catch (e) {
			if (e instanceof ApiError && Array.isArray(e.data)) displaced = e.data as typeof displaced;
			else {
				removing = false;
				problem = e instanceof ApiError ? e.message : 'It was not saved.';
			}
		} finally {
			busy = false;
		}
	}
	const nameOf = (code: string) => data.scenarios.find((s) => s.code === code)?.name ?? code;
	beforeNavigate((navigation) => {
		if (
			changed &&
			!busy &&
			!navigation.willUnload &&
			!confirm('The model is not saved. Leave and lose what was changed?')
		)
			navigation.cancel();
	});
	function onkeydown(event: KeyboardEvent) {
		if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 's') {
			event.preventDefault();
			if (changed && !faults.length && !busy) void save(draft);
		}
	}
</script>

<svelte:window
	{onkeydown}
	onbeforeunload={(e) => {
		if (changed) e.preventDefault();
	}}
/>
<svelte:head><title>{draft.name}, lines and formulas · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>{draft.name}: lines and formulas</h1>
		<p class="muted">
			<a class="plain" href={withSelection(`/drivers/${draft.code}`, selection, company.calendar)}>Figures</a>
			· in {scenario.name}
			{#if design.reason}<b>{design.reason}</b>{/if}
		</p>
	</div>
	{#if design.editable}
		<div class="actions">
			{#if changed}<span class="unsaved" role="status">not saved</span>{/if}
			<Button quiet disabled={!changed || busy} onclick={discard}>Discard</Button>
			<Button disabled={!changed || busy || faults.length > 0} onclick={() => save(draft)}
				>{busy ? 'Calculating …' : 'Save'} <kbd class="key">Ctrl S</kbd></Button
			>
		</div>
	{/if}
</div>
{#if problem}<p class="problem" role="alert">{problem}</p>{/if}
<div class="work">
	<nav class="lines" aria-label="Lines">
		<ol>
			{#each draft.lines as l, i (l.code)}
				<li class:chosen={l.code === line.code}>
					<button type="button" aria-current={l.code === line.code} onclick={() => (chosen = l.code)}>
						<b>{l.label}</b>
						<span class="muted">{l.formula ?? 'typed'}</span>
						{#if faults.some((f) => lineAt(f.column) === l.code)}<span class="fault">to be mended</span>{/if}
					</button>
					{#if !disabled && l.code === line.code}
						<span class="moves">
							<IconButton
								disabled={i === 0}
								label="Move {l.label} up"
								onclick={() => (draft = { ...draft, lines: moved(draft.lines, i, i - 1) })}
								><ArrowUpOutline class="h-3 w-3" /></IconButton
							>
							<IconButton
								disabled={i === draft.lines.length - 1}
								label="Move {l.label} down"
								onclick={() => (draft = { ...draft, lines: moved(draft.lines, i, i + 1) })}
								><ArrowDownOutline class="h-3 w-3" /></IconButton
							>
							<IconButton
								disabled={draft.lines.length === 1}
								label="Remove {l.label}"
								onclick={() => removeLine(l.code)}><CloseOutline class="h-3 w-3" /></IconButton
							>
						</span>
					{/if}
				</li>
			{/each}
		</ol>
		{#if !disabled}
			<Button quiet onclick={add}><PlusOutline class="mr-1 h-3 w-3" />Add a line</Button>
		{/if}
		<details>
			<summary>Name, description, periods</summary>
			<label
				>Name
				<Field
					{disabled}
					value={draft.name}
					oninput={(e) => (draft = { ...draft, name: e.currentTarget.value })}
				/></label
			>
			<label
				>Description
				<Textarea
					class="field"
					rows={4}
					{disabled}
					value={draft.description}
					oninput={(e) => (draft = { ...draft, description: e.currentTarget.value })}
				/></label
			>
			<PeriodsPick calendar={draft.calendar} {disabled} onchange={keep} />
			{#if !disabled}
				<Button quiet onclick={() => (removing = true)}>Take the model out …</Button>
			{/if}
		</details>
		{#if design.alsoUsedBy.length && !disabled}
			<fieldset>
				<legend>Save it also in</legend>
				{#each design.alsoUsedBy as s (s.code)}<Tick value={s.code} bind:group={also}>{s.name}</Tick>{/each}
			</fieldset>
		{/if}
	</nav>
	<section class="line panel" aria-label="Line {line.label}">
		<div class="form">
			<LineForm
				definition={draft}
				{line}
				{fresh}
				{dimensions}
				{accounts}
				{departments}
				{months}
				{names}
				{disabled}
				onchange={change}
			/>
		</div>
		<div class="outcome" aria-live="polite">
			{#if faults.length}
				<ul class="faults">
					{#each faults.slice(0, 6) as f (f.column + f.message + f.span?.from)}
						{@const at = lineAt(f.column)}
						<li>
							{#if at && at !== line.code}<TextButton onclick={() => (chosen = at)}
									>{draft.lines.find((l) => l.code === at)?.label}</TextButton
								>:
							{/if}{f.message}{f.span ? ` (at character ${f.span.from + 1})` : ''}
						</li>
					{/each}
				</ul>
			{:else if preview.problem}
				<p class="problem">{preview.problem}</p>
			{:else if result}
				<ResultStrip
					head={line.label}
					name={dimensions.length ? 'all rows' : 'gives'}
					cells={result.cells}
					{spans}
					{calendar}
					format={line.format}
				/>
			{:else}<p class="muted">Calculating …</p>{/if}
		</div>
	</section>
</div>

{#if displaced}
	<Dialog
		title="Typed figures would go"
		action="Save and take them out"
		disabled={busy}
		onaction={() => save(removing ? null : draft, true)}
		onclose={() => {
			displaced = null;
			removing = false;
		}}
	>
		<p>What was typed in these lines has no place any more and is taken out. History can bring it back.</p>
		<ul class="going">
			{#each displaced as d (d.scenario + d.label)}<li>
					{d.label}: {digits(d.cells)} cells in {nameOf(d.scenario)}
				</li>{/each}
		</ul>
	</Dialog>
{:else if removing}
	<Dialog
		title="Take {draft.name} out of {scenario.name}?"
		action="Take it out"
		disabled={busy}
		onaction={() => save(null)}
		onclose={() => (removing = false)}
	>
		<p>Its lines, formulas and postings leave this scenario; other scenarios keep theirs.</p>
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
	.lines {
		overflow: auto;
		display: grid;
		gap: 10px;
		align-content: start;
	}
	ol {
		border: 1px solid var(--rule);
		border-radius: 6px;
		background: var(--sheet);
	}
	li {
		display: flex;
		align-items: center;
	}
	ol > li + li {
		border-top: 1px solid var(--rule);
	}
	li > button {
		display: grid;
		flex: 1;
		min-width: 0;
		text-align: left;
		padding: 5px 10px;
	}
	li > button span {
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
		font-size: 12px;
	}
	li .fault {
		color: var(--clay);
		font-weight: 600;
	}
	.chosen {
		background: var(--green-tint);
		box-shadow: inset 3px 0 var(--green);
	}
	.moves {
		display: flex;
		gap: 2px;
		padding-right: 6px;
	}
	details summary {
		cursor: pointer;
		color: var(--green);
		font-weight: 600;
	}
	details label {
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
	.line {
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
	.outcome {
		border-top: 1px solid var(--rule-strong);
		padding: 8px 16px;
		min-height: 60px;
		background: var(--tint);
		border-radius: 0 0 6px 6px;
	}
	.faults,
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
