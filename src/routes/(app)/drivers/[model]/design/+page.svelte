<script lang="ts">
	import { goto } from '$app/navigation';
	import { PlusOutline } from 'flowbite-svelte-icons';
	import { onDestroy, untrack } from 'svelte';
	import { periodRange } from '$lib/core/calendar/calendar';
	import { spanOnto } from '$lib/core/calendar/onto';
	import { yearFrom } from '$lib/core/calendar/spans';
	import type { CalendarSpec } from '$lib/core/calendar/spec';
	import { definitionFaults } from '$lib/core/blocks/driver-model/check-definition';
	import { namesFor } from '$lib/core/blocks/driver-model/names';
	import { modelCalendar } from '$lib/core/blocks/driver-model/periods';
	import type { ModelDefinition } from '$lib/core/blocks/driver-model/schema';
	import { attributesOf } from '$lib/core/company/attributes';
	import { planFault } from '$lib/core/company/chart';
	import { buildTree } from '$lib/core/company/tree';
	import { LINES } from '$lib/core/views/arrangement';
	import type { ModelFigures } from '$lib/core/views/model-view';
	import DesignFaults from '$lib/ui/design/DesignFaults.svelte';
	import DesignItems from '$lib/ui/design/DesignItems.svelte';
	import DesignPage from '$lib/ui/design/DesignPage.svelte';
	import { DesignPreview } from '$lib/ui/design/design-preview.svelte';
	import { Draft } from '$lib/ui/design/draft.svelte';
	import { omit } from '$lib/ui/design/lists';
	import ResultStrip from '$lib/ui/design/ResultStrip.svelte';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Field from '$lib/ui/kit/form/Field.svelte';
	import Textarea from '$lib/ui/kit/form/Textarea.svelte';
	import {
		codeOf,
		inTreeOrder,
		newLine,
		withoutLine,
		type DesignDimension
	} from '$lib/ui/models/design/design';
	import LineForm from '$lib/ui/models/design/LineForm.svelte';
	import PeriodsPick from '$lib/ui/models/design/PeriodsPick.svelte';
	import { previewThread } from '$lib/ui/models/preview-thread';
	import { useCompany, withSelection } from '$lib/ui/shell/company';

	let { data } = $props();
	const company = useCompany();
	const design = $derived(data.design);
	const selection = $derived(data.selection);
	const scenario = $derived(data.scenarios.find((s) => s.code === selection.scenario)!);
	const disabled = $derived(!design.editable);

	const form: Draft<ModelDefinition> = new Draft({
		get loaded() {
			return design;
		},
		get path() {
			return `models/${design.definition.code}/definition`;
		},
		get scenario() {
			return selection.scenario;
		},
		get scenarioName() {
			return scenario.name;
		},
		what: 'model',
		onother() {
			if (!draft.lines.some((l) => l.code === chosen)) chosen = draft.lines[0].code;
		},
		onremoved: () => goto(withSelection('/drivers', selection, company.calendar), { invalidateAll: true })
	});
	const draft = $derived(form.definition);
	const put = (definition: ModelDefinition) => (form.definition = definition);
	/** In whose periods the draft is kept. */
	const calendar = $derived(modelCalendar(draft, company.calendar));
	let chosen = $state(untrack(() => data.design.definition.lines[0].code));
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

	const thread = previewThread();
	const preview = new DesignPreview<ModelFigures>(thread);
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
		untrack(() => {
			const { version } = form;
			preview.show(() => thread.ask({ scenario: code }, version, (work) => work.designed(definition, query)));
		});
	});
	const result = $derived(preview.figures?.rows.find((r) => r.heads === line.code));

	function keep(own: CalendarSpec | undefined) {
		const rest = omit(draft, 'calendar');
		put(own ? { ...rest, calendar: own } : rest);
	}
	function add() {
		const code = codeOf(
			'New line',
			draft.lines.map((l) => l.code)
		);
		const at = draft.lines.findIndex((l) => l.code === line.code) + 1;
		put({ ...draft, lines: draft.lines.toSpliced(at, 0, newLine(code, 'New line')) });
		chosen = code;
	}
	function change(next: ModelDefinition) {
		// A new line may have got another name in formulas.
		const at = draft.lines.findIndex((l) => l.code === chosen);
		put(next);
		if (!next.lines.some((l) => l.code === chosen)) chosen = next.lines[at]?.code ?? next.lines[0].code;
	}
	function removeLine(code: string) {
		const at = draft.lines.findIndex((l) => l.code === code);
		put(withoutLine(draft, code));
		if (chosen === code) chosen = draft.lines[Math.min(at, draft.lines.length - 1)].code;
	}
	const nameOf = (code: string) => data.scenarios.find((s) => s.code === code)?.name ?? code;
</script>

<DesignPage
	draft={form}
	title="{draft.name}: lines and formulas"
	what="model"
	scenarioName={scenario.name}
	figures={withSelection(`/drivers/${draft.code}`, selection, company.calendar)}
	reason={design.reason}
	faulty={faults.length > 0}
	alsoUsedBy={design.alsoUsedBy}
	{nameOf}
	going="Its lines, formulas and postings leave this scenario; other scenarios keep theirs."
	about="Line {line.label}"
>
	{#snippet parts()}
		<DesignItems
			items={draft.lines}
			chosen={line.code}
			says={(l) => l.formula ?? 'typed'}
			faulty={new Set(faults.flatMap((f) => lineAt(f.column) ?? []))}
			{disabled}
			onchoose={(code) => (chosen = code)}
			onorder={(lines) => put({ ...draft, lines })}
			onremove={removeLine}
		/>
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
					oninput={(e) => put({ ...draft, name: e.currentTarget.value })}
				/></label
			>
			<label
				>Description
				<Textarea
					class="field"
					rows={4}
					{disabled}
					value={draft.description}
					oninput={(e) => put({ ...draft, description: e.currentTarget.value })}
				/></label
			>
			<PeriodsPick calendar={draft.calendar} {disabled} onchange={keep} />
			{#if !disabled}
				<Button quiet onclick={() => (form.removing = true)}>Take the model out …</Button>
			{/if}
		</details>
	{/snippet}
	{#snippet part()}
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
	{/snippet}
	{#snippet outcome()}
		{#if faults.length}
			<DesignFaults
				{faults}
				partAt={(column) => draft.lines.find((l) => l.code === lineAt(column)) ?? null}
				chosen={line.code}
				onchoose={(code) => (chosen = code)}
			/>
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
	{/snippet}
</DesignPage>

<style>
	.problem {
		color: var(--clay);
		font-weight: 600;
	}
</style>
