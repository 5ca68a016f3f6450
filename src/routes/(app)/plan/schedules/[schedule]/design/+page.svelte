<script lang="ts">
	import { goto } from '$app/navigation';
	import { PlusOutline } from 'flowbite-svelte-icons';
	import { onDestroy, untrack } from 'svelte';
	import { scheduleFaults } from '$lib/core/blocks/schedule/check-definition';
	import { columnQuantity, lineQuantity } from '$lib/core/blocks/schedule/columns';
	import { scheduleNames } from '$lib/core/blocks/schedule/names';
	import { departmentColumn, type ScheduleDefinition } from '$lib/core/blocks/schedule/schema';
	import { rowWords } from '$lib/core/blocks/schedule/schedule';
	import { namesAmong } from '$lib/core/blocks/names';
	import { periodsOf, yearFrom } from '$lib/core/calendar/spans';
	import { postingFault } from '$lib/core/company/chart';
	import { buildTree } from '$lib/core/company/tree';
	import type { ScheduleFigures } from '$lib/core/views/schedule-view';
	import DesignFaults from '$lib/ui/design/DesignFaults.svelte';
	import DesignItems from '$lib/ui/design/DesignItems.svelte';
	import DesignPage from '$lib/ui/design/DesignPage.svelte';
	import { DesignPreview } from '$lib/ui/design/design-preview.svelte';
	import { Draft } from '$lib/ui/design/draft.svelte';
	import ResultStrip from '$lib/ui/design/ResultStrip.svelte';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Choice from '$lib/ui/kit/form/Choice.svelte';
	import Field from '$lib/ui/kit/form/Field.svelte';
	import Textarea from '$lib/ui/kit/form/Textarea.svelte';
	import Tick from '$lib/ui/kit/form/Tick.svelte';
	import ColumnForm from '$lib/ui/schedules/design/ColumnForm.svelte';
	import {
		codeOf,
		kindName,
		newColumn,
		newLine,
		recoded,
		withoutColumn,
		withoutLine,
		withPostings
	} from '$lib/ui/schedules/design/design';
	import LineForm from '$lib/ui/schedules/design/LineForm.svelte';
	import { scheduleThread } from '$lib/ui/schedules/preview.svelte';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import { exact } from '$lib/ui/writing/format';

	let { data } = $props();
	const company = useCompany();
	const design = $derived(data.design);
	const selection = $derived(data.selection);
	const scenario = $derived(data.scenarios.find((s) => s.code === selection.scenario)!);
	const disabled = $derived(!design.editable);
	const calendar = $derived(company.calendarOf(design.definition.code));
	/** Columns that have got another code: as they were saved → as they are called now. */
	let renamed: Record<string, string> = $state.raw({});

	const form: Draft<ScheduleDefinition> = new Draft({
		get loaded() {
			return design;
		},
		get path() {
			return `schedules/${design.definition.code}/definition`;
		},
		get scenario() {
			return selection.scenario;
		},
		get scenarioName() {
			return scenario.name;
		},
		what: 'schedule',
		more: () => ({ renamed }),
		onother() {
			renamed = {};
			if (!codes.includes(chosen)) chosen = codes[0];
		},
		onremoved: () =>
			goto(withSelection('/plan/schedules', selection, company.calendar), { invalidateAll: true })
	});
	const draft = $derived(form.definition);
	const put = (definition: ScheduleDefinition) => (form.definition = definition);
	const codes = $derived([...draft.columns, ...draft.lines].map((x) => x.code));
	let chosen = $state(
		untrack(() => (data.design.definition.lines[0] ?? data.design.definition.columns[0]).code)
	);
	const column = $derived(draft.columns.find((c) => c.code === chosen));
	const line = $derived(draft.lines.find((l) => l.code === chosen));
	const picked = $derived(column ?? line ?? draft.columns[0]);
	const saved = $derived(
		new Set([...design.definition.columns, ...design.definition.lines].map((x) => renamed[x.code] ?? x.code))
	);
	const fresh = $derived(!saved.has(picked.code));

	const sources = $derived({
		accounts: buildTree(design.accounts),
		departments: buildTree(design.departments),
		dimensions: design.dimensions,
		money: company.data.money,
		scenarios: design.readable
	});
	const names = $derived(namesAmong(scheduleNames(draft, sources.money), design.others, sources));
	const faults = $derived(scheduleFaults(draft, design.others, sources));
	/** The part that a mistake belongs to; a posting belongs to its line. */
	function codeAt(at: string): string | null {
		const posting = /^postings\.(\d+)/.exec(at);
		if (posting) return draft.postings[Number(posting[1]) - 1]?.line ?? null;
		return /^(?:columns|lines)\.(\w+)/.exec(at)?.[1] ?? null;
	}
	const faulty = $derived(new Set(faults.flatMap((f) => codeAt(f.column) ?? [])));
	const leavesOf = <T extends { code: string; name: string; parent: string | null }>(items: readonly T[]) => {
		const tree = buildTree(items);
		return tree.all.filter((x) => tree.isLeaf(x.code));
	};
	const accounts = $derived(leavesOf(design.accounts).filter((a) => !postingFault(sources.accounts, a.code)));
	const departments = $derived(leavesOf(design.departments));

	const thread = scheduleThread();
	const preview = new DesignPreview<ScheduleFigures>(thread);
	onDestroy(() => preview.close());
	const window = $derived(yearFrom(calendar, selection.from, selection.to));
	const spans = $derived([...periodsOf(window), window]);
	/** The row on which a change shows its effect. */
	let sample = $state('');
	const row = $derived(design.rows.find((r) => r.id === sample) ?? design.rows[0]);
	$effect(() => {
		const definition = draft;
		const names = renamed;
		const own = line?.code;
		const wanted = { schedule: draft.code, ...(own ? { line: own } : {}), spans: $state.snapshot(spans) };
		void data.design;
		if (faults.length || !row) return preview.clear();
		const { scenario: code } = selection;
		untrack(() => {
			const { version } = form;
			preview.show(() =>
				thread.ask({ scenario: code }, version, (work) => work.designed(definition, names, wanted))
			);
		});
	});
	const result = $derived(preview.figures?.rows.find((r) => r.id === row?.id));

	function add(what: 'column' | 'line') {
		const label = what === 'column' ? 'New column' : 'New line';
		const code = codeOf(label, codes, what);
		if (what === 'column') put({ ...draft, columns: [...draft.columns, newColumn(code, label)] });
		else put({ ...draft, lines: [...draft.lines, newLine(code, label)] });
		chosen = code;
	}
	function remove(code: string) {
		put(draft.columns.some((c) => c.code === code) ? withoutColumn(draft, code) : withoutLine(draft, code));
		if (chosen === code) chosen = codes.find((c) => c !== code) ?? '';
	}
	function recode(code: string, label: string) {
		if (column) {
			const was = Object.keys(renamed).find((k) => renamed[k] === column.code) ?? column.code;
			if (!fresh) renamed = { ...renamed, [was]: code };
			const next = recoded(draft, column.code, code);
			put({ ...next, columns: next.columns.map((c) => (c.code === code ? { ...c, label } : c)) });
		} else if (line)
			put({
				...draft,
				lines: draft.lines.map((l) => (l === line ? { ...l, code, label } : l)),
				postings: draft.postings.map((p) => (p.line === line.code ? { ...p, line: code } : p))
			});
		chosen = code;
	}
	const nameOf = (code: string) => data.scenarios.find((s) => s.code === code)?.name ?? code;
</script>

<DesignPage
	draft={form}
	title="{draft.name}: columns and lines"
	what="schedule"
	scenarioName={scenario.name}
	figures={withSelection(`/plan/schedules/${draft.code}`, selection, company.calendar)}
	reason={design.reason}
	faulty={faults.length > 0}
	alsoUsedBy={design.alsoUsedBy}
	{nameOf}
	going="Its rows, columns, lines and postings leave this scenario; other scenarios keep theirs."
	about={picked.label}
>
	{#snippet parts()}
		<h2>Columns</h2>
		<DesignItems
			items={draft.columns}
			chosen={picked.code}
			says={(c) =>
				c.formula ??
				`${kindName(c.kind)}${c.required ? ', needed' : ''}${c.personal ? ', individual pay' : ''}`}
			{faulty}
			{disabled}
			onchoose={(code) => (chosen = code)}
			onorder={(columns) => put({ ...draft, columns })}
			onremove={remove}
		/>
		{#if !disabled}
			<Button quiet onclick={() => add('column')}><PlusOutline class="mr-1 h-3 w-3" />Add a column</Button>
		{/if}
		<h2>Lines, by {calendar.words.one}</h2>
		<DesignItems
			items={draft.lines}
			chosen={picked.code}
			says={(l) => l.formula ?? 'typed'}
			{faulty}
			{disabled}
			least={0}
			onchoose={(code) => (chosen = code)}
			onorder={(lines) => put({ ...draft, lines })}
			onremove={remove}
		/>
		{#if !disabled}
			<Button quiet onclick={() => add('line')}><PlusOutline class="mr-1 h-3 w-3" />Add a line</Button>
		{/if}
		<details>
			<summary>Name, rows, description</summary>
			<label
				>Name
				<Field
					{disabled}
					value={draft.name}
					oninput={(e) => put({ ...draft, name: e.currentTarget.value })}
				/></label
			>
			<label
				>One of its rows is called
				<Field
					{disabled}
					value={draft.one}
					oninput={(e) => put({ ...draft, one: e.currentTarget.value || 'row' })}
				/></label
			>
			<label
				>Rows are named by
				<Choice {disabled} value={draft.named} onpick={(named) => put({ ...draft, named })}>
					{#each draft.columns as c (c.code)}<option value={c.code}>{c.label}</option>{/each}
				</Choice></label
			>
			{#if departmentColumn(draft)}
				<Tick {disabled} bind:checked={() => draft.divided, (divided) => put({ ...draft, divided })}
					>can be divided over departments</Tick
				>
			{/if}
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
			{#if !disabled}
				<Button quiet onclick={() => (form.removing = true)}>Take the schedule out …</Button>
			{/if}
		</details>
	{/snippet}
	{#snippet part()}
		{#if column}
			<ColumnForm
				definition={draft}
				{column}
				dimensions={design.dimensions}
				schedules={design.schedules}
				{names}
				result={columnQuantity(draft, column, sources.money)}
				{disabled}
				{fresh}
				onchange={(next) =>
					put({ ...draft, columns: draft.columns.map((c) => (c.code === next.code ? next : c)) })}
				onrecode={recode}
			/>
		{:else if line}
			<LineForm
				definition={draft}
				{line}
				{accounts}
				{departments}
				{names}
				result={lineQuantity(draft, line, sources.money)}
				words={calendar.words}
				{disabled}
				{fresh}
				onchange={(next) =>
					put({ ...draft, lines: draft.lines.map((l) => (l.code === next.code ? next : l)) })}
				onrecode={recode}
				onpost={(postings) => put(withPostings(draft, line.code, postings))}
			/>
		{/if}
	{/snippet}
	{#snippet outcome()}
		{#if faults.length}
			<DesignFaults
				{faults}
				partAt={(at) => [...draft.columns, ...draft.lines].find((x) => x.code === codeAt(at)) ?? null}
				chosen={picked.code}
				onchoose={(code) => (chosen = code)}
			/>
		{:else if preview.problem}
			<p class="problem">{preview.problem}</p>
		{:else if !row}
			<p class="muted">Its first {draft.one} will show here what the form gives.</p>
		{:else if line && result}
			<div class="given">
				<label
					>For
					<Choice value={row.id} onpick={(v) => (sample = v)}>
						{#each design.rows as r (r.id)}<option value={r.id}
								>{r.id} {rowWords(design.definition, r)}</option
							>{/each}
					</Choice></label
				>
				<ResultStrip
					head={line.label}
					name={result.label}
					cells={result.cells}
					{spans}
					{calendar}
					format={line.format}
				/>
			</div>
		{:else if column?.formula !== undefined && result}
			<p>
				{column.label} of {result.label}: <b>{exact(result.computed?.[column.code] ?? null, 'number')}</b>
			</p>
		{:else if column}
			<p class="muted">What stands in it is typed in each {draft.one}.</p>
		{:else}<p class="muted">Calculating …</p>{/if}
	{/snippet}
</DesignPage>

<style>
	h2 {
		font-size: 13px;
		margin: 0;
		color: var(--ink-2);
	}
	.problem {
		color: var(--clay);
		font-weight: 600;
	}
	.given label {
		display: flex;
		gap: 6px;
		align-items: center;
		color: var(--ink-2);
	}
</style>
