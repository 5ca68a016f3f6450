<script lang="ts">
	import { afterNavigate, goto } from '$app/navigation';
	import { page } from '$app/state';
	import { onDestroy, tick, untrack } from 'svelte';
	import { z } from 'zod';
	import { keep, readKept } from '$lib/ui/kit/kept';
	import { departmentColumn, sharesCode, type ScheduleRow } from '$lib/core/blocks/schedule/schema';
	import { aOf } from '$lib/core/company/counted';
	import { columnSpans } from '$lib/core/calendar/spans';
	import type { FigureRef } from '$lib/core/explain/trace';
	import type { ScheduleViewRow } from '$lib/core/views/schedule-view';
	import TypedUnder from '$lib/ui/design/TypedUnder.svelte';
	import type { Decision, Typed } from '$lib/ui/design/typed-under';
	import { Beside } from '$lib/ui/entry/beside.svelte';
	import Conflicts from '$lib/ui/entry/Conflicts.svelte';
	import SaveBar from '$lib/ui/entry/SaveBar.svelte';
	import { sheet } from '$lib/ui/figure/sheet.svelte';
	import { landingIn, trail } from '$lib/ui/figure/trail.svelte';
	import { isMonth } from '$lib/ui/grid/columns';
	import { Folds } from '$lib/ui/grid/folds.svelte';
	import Grid from '$lib/ui/grid/Grid.svelte';
	import type { GridColumn, GridRow } from '$lib/ui/grid/types';
	import Faults from '$lib/ui/kit/Faults.svelte';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Choice from '$lib/ui/kit/form/Choice.svelte';
	import Field from '$lib/ui/kit/form/Field.svelte';
	import Tick from '$lib/ui/kit/form/Tick.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';
	import type { MenuItem } from '$lib/ui/kit/menu';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { ALL, ScheduleCells } from '$lib/ui/schedules/cells.svelte';
	import ColumnsDialog from '$lib/ui/schedules/ColumnsDialog.svelte';
	import { rowColumns, scheduleColumns, shownColumns } from '$lib/ui/schedules/columns';
	import { typedMonths } from '$lib/ui/schedules/edits';
	import type { Compared } from '$lib/ui/schedules/compared';
	import ComparedRows from '$lib/ui/schedules/ComparedRows.svelte';
	import IdentifierDialog from '$lib/ui/schedules/IdentifierDialog.svelte';
	import LoadRows from '$lib/ui/schedules/LoadRows.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import { ScheduleLive } from '$lib/ui/schedules/preview.svelte';
	import { RowBatch } from '$lib/ui/schedules/row-batch.svelte';
	import { postedTo } from '$lib/ui/schedules/posted-to';
	import TogetherDialog from '$lib/ui/schedules/TogetherDialog.svelte';
	import { changedBy, type Held } from '$lib/ui/schedules/together';
	import { DATE } from '$lib/ui/schedules/entries';
	import { gridRows, isUnder, laid, staysLaid, steadyRows } from '$lib/ui/schedules/rows';
	import { scheduleSaving } from '$lib/ui/schedules/saving';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import ScenarioOptions from '$lib/ui/shell/ScenarioOptions.svelte';
	import { showMonths } from '$lib/ui/shell/window';
	import { counted } from '$lib/ui/writing/count';
	import { share } from '$lib/ui/writing/format';
	import { listed } from '$lib/ui/writing/listed';

	let { data } = $props();
	const company = useCompany();
	const selection = $derived(data.selection);
	const view = $derived(data.view);
	const definition = $derived(view.definition);
	const { calendar } = $derived({ calendar: company.calendarOf(view.definition.code) });
	const saved = $derived(JSON.parse(data.rows) as ScheduleViewRow[]);
	const list = $derived(new Map((JSON.parse(data.list) as ScheduleRow[]).map((r) => [r.id, r])));
	const savedRows = $derived(new Map(saved.map((r) => [r.key, r])));
	const scenarioName = $derived(data.scenarios.find((s) => s.code === selection.scenario)?.name ?? '');
	const scenarios = $derived(
		data.scenarios.filter((s) => s.code !== selection.scenario && s.kind !== 'actuals')
	);
	const single = $derived(data.departments.find((d) => d.code === selection.department));

	const batch = new RowBatch({
		get definition() {
			return definition;
		},
		get calendar() {
			return calendar;
		},
		get list() {
			return list;
		},
		get lastId() {
			return view.lastId;
		},
		get department() {
			return single?.leaf ? single.code : null;
		}
	});
	const { edits } = batch;

	const live = new ScheduleLive();
	onDestroy(() => live.close());
	// The saved figures are new with each load; what is typed is worked out on top of them.
	let version = 0;
	$effect(() => {
		void data.view;
		untrack(() => version++);
	});
	const query = $derived({
		...$state.snapshot(data.wanted),
		schedule: definition.code,
		department: selection.department === data.departments[0]?.code ? null : selection.department,
		spans: $state.snapshot(view.spans)
	});
	const own = $derived(departmentColumn(definition) ? sharesCode(definition.code) : definition.code);
	/** While there are no rows nothing is read, and it is not known what they will read. */
	const block = $derived(view.count ? own : null);
	$effect(() => {
		// Who changes nothing needs nothing to calculate with, and may not have it.
		if (!view.editable) return;
		const { sent } = batch;
		const typed = { rows: sent.changes, months: typedMonths(calendar, sent.edits) };
		const { scenario } = selection;
		const wanted = query;
		const from = block;
		void data.view;
		untrack(() => live.show(scenario, from, version, typed, wanted));
	});
	const changed = $derived(new Map((live.changes?.rows ?? []).map((r) => [r.key, r])));
	const unshared = $derived(live.changes?.unshared ?? view.unshared);
	const errors = $derived(live.changes?.errors ?? view.errors);

	const folds = untrack(() => new Folds(calendar));
	const spans = $derived(columnSpans(calendar, selection, (first) => folds.has(first)));
	/** Another scenario with whose rows these are compared, as they are saved. */
	const beside = new Beside<Compared>();
	$effect(() => {
		void data.view;
		const { scenario, department, from, to } = selection;
		const asked = new URLSearchParams({
			scenario,
			with: beside.scenario,
			department,
			from: calendar.key(from),
			to: calendar.key(to),
			...(view.line ? { line: view.line } : {})
		});
		const other = beside.scenario && beside.scenario !== scenario;
		const path = other ? `schedules/${definition.code}/compared?${asked}` : '';
		untrack(() => beside.read(path));
	});
	const compared = $derived(beside.scenario ? beside.data : null);
	const against = $derived(new Map((compared?.rows ?? []).map((r) => [r.id, r])));
	/** As they were chosen here the last time. */
	let usual: string[] = $state([]);
	afterNavigate(() => {
		usual = readKept(`columns of ${definition.code}`, z.array(z.string())) ?? [];
	});
	const chosenColumns = $derived(page.url.searchParams.get('columns')?.split(',').filter(Boolean) ?? usual);
	const shown = $derived(shownColumns(definition, chosenColumns));
	const layout = $derived(scheduleColumns({ calendar, columns: shown, spans, read: view.spans }));
	const cells = new ScheduleCells({
		get definition() {
			return definition;
		},
		get choices() {
			return view.choices;
		},
		get calendar() {
			return calendar;
		},
		get layout() {
			return layout;
		},
		get shown() {
			return shown;
		},
		get read() {
			return view.spans;
		},
		get open() {
			return view.open;
		},
		get last() {
			return view.last;
		},
		get editable() {
			return view.editable;
		},
		get reason() {
			return view.reason;
		},
		get list() {
			return list;
		},
		get saved() {
			return savedRows;
		},
		get changed() {
			return changed;
		},
		get totals() {
			return live.changes?.totals ?? view.totals;
		},
		get marks() {
			return view.marks;
		},
		get compared() {
			return compared;
		}
	});

	/** A row by its key, without those under it; one that is just put in has nothing but its key yet. */
	function gridRow(key: string, row: ScheduleViewRow | undefined): GridRow {
		const still = needs.get(key);
		const lacks = still && `Still needs ${listed(still.map((c) => c.label))}`;
		if (!row) return { key, label: key, kind: 'leaf', format: 'money', mark: lacks };
		return {
			key,
			label:
				row.kind === 'row'
					? row.id
					: row.kind === 'group'
						? [row.label, row.count, ...(row.in ? [row.in] : [])].join(', ')
						: row.label,
			note: row.kind === 'share' ? 'share' : row.kind === 'line' ? cells.line(row.line)?.unit : undefined,
			spills: row.kind !== 'row',
			kind: row.kind === 'group' ? 'heading' : isUnder(row) ? 'part' : 'leaf',
			format: cells.formatOf(row.line),
			toggle: row.open === null ? undefined : row.open ? 'open' : 'closed',
			mark:
				lacks ??
				(row.unshared && words(row.unshared)) ??
				(row.kind === 'row' && compared && against.get(row.id)?.what === 'new'
					? `Not in ${compared.name}`
					: undefined)
		};
	}
	function words({ first, count, sum }: { first: number; count: number; sum: number }): string {
		const { one, many } = calendar.words;
		const more = count > 1 ? ` and in ${counted(count - 1, `more ${one}`, `more ${many}`)}` : '';
		return `Shares come to ${share(sum)} in ${calendar.label(first)}${more}`;
	}
	const NONE: ReadonlyMap<string, ScheduleViewRow> = new Map();
	const asSaved = $derived.by(() => {
		const { added, after, removed } = batch;
		const own = (key: string) => gridRow(key, savedRows.get(key));
		return laid(gridRows({ saved, changed: NONE, added, after, removed }, own));
	});
	let former: GridRow[] = [];
	const rows = $derived.by(() => {
		const own = (key: string) => gridRow(key, cells.row(key));
		if (staysLaid(asSaved, changed, own)) return (former = asSaved.rows);
		const { added, after, removed } = batch;
		former = steadyRows(former, gridRows({ saved, changed, added, after, removed }, own));
		return former;
	});
	const counts = $derived(live.changes ?? view);
	const together: GridRow = $derived({
		key: ALL,
		label: [
			counts.shown === counts.count ? `All ${counts.count}` : `${counts.shown} of ${counts.count}`,
			...(counts.totalsIn ? [counts.totalsIn] : [])
		].join(', '),
		kind: 'total',
		format: cells.formatOf(view.line)
	});

	const lacking = $derived(batch.lacking);
	const needs = $derived(new Map(lacking.map((l) => [l.id, l.columns])));
	/** Columns that are not shown, and without which rows that are put in cannot be saved. */
	const outOfSight = $derived.by(() => {
		const needed = new Set(lacking.flatMap((l) => l.columns.map((c) => c.code)));
		for (const { code } of shown) needed.delete(code);
		return [...needed];
	});
	/** Shows them beside the others, in their order. */
	function showNeeded() {
		const wanted = new Set([...shown.map((c) => c.code), ...outOfSight]);
		show({
			columns: rowColumns(definition)
				.flatMap((c) => (wanted.has(c.code) ? c.code : []))
				.join(',')
		});
	}

	/** What is typed where rows come to be posted, and what becomes of it. */
	let under = $state.raw<Typed[] | null>(null);
	let decision: Decision | undefined;
	let faults = $state<{ message: string; faults: { message: string }[] } | null>(null);
	const saving = scheduleSaving({
		batch,
		get scenario() {
			return selection.scenario;
		},
		get definition() {
			return definition;
		},
		get calendar() {
			return calendar;
		},
		formatOf: (line) => cells.formatOf(line),
		labelOf: (line) => cells.line(line)?.label ?? 'Share',
		get decision() {
			return decision;
		},
		ontyped: (list) => (under = list),
		onfaults: (told) => (faults = told)
	});
	async function decide(chosen: Decision) {
		decision = chosen;
		under = null;
		await saving.save();
		decision = undefined;
	}

	let grid: Grid | undefined = $state();
	/** The rows of the schedule in which cells are chosen, the one in which one stands first. */
	const chosenIds = () => [
		...new Set(
			(grid?.chosen() ?? []).flatMap(
				(r) => cells.row(r.key)?.id || (batch.added.includes(r.key) ? r.key : [])
			)
		)
	];
	const chosenOrLast = () => chosenIds()[0] ?? batch.last;
	async function goToNew(id: string) {
		await tick();
		grid?.goTo(id, shown[0].code);
	}
	const addHere = () => void goToNew(batch.add(1, chosenOrLast())[0]);
	const duplicate = () => void goToNew(batch.duplicate(chosenIds()[0]));
	function remove() {
		const ids = chosenIds();
		batch.remove(ids);
		notices.say(`${counted(ids.length, definition.one)} taken out; not saved yet.`);
	}
	function onkeydown(event: KeyboardEvent) {
		if (!view.editable || (event.target as Element).closest('input, select, textarea, dialog')) return;
		if (event.key === 'Insert' && !event.ctrlKey && !event.shiftKey) addHere();
		else if (event.key === 'Delete' && event.ctrlKey) remove();
		else return;
		event.preventDefault();
	}

	function show(change: Record<string, string>) {
		const url = new URL(location.href);
		for (const [k, v] of Object.entries(change)) {
			if (v) url.searchParams.set(k, v);
			else url.searchParams.delete(k);
		}
		void goto(url, { keepFocus: true, noScroll: true, replaceState: true });
	}
	const opened = $derived(data.wanted.open);
	function toggle({ key }: GridRow) {
		show({ open: (opened.includes(key) ? opened.filter((o) => o !== key) : [...opened, key]).join(',') });
	}
	const where = $derived(data.wanted.where);
	function filter(column: string, value: string | null) {
		const others = Object.entries(where).filter(([code]) => code !== column);
		const all = value === null ? others : [...others, [column, value] as const];
		show({
			where: all.map(([k, v]) => `${k}:${encodeURIComponent(v)}`).join(',')
		});
	}
	let pause: ReturnType<typeof setTimeout> | undefined;
	const PAUSE_MS = 300;
	function seek(text: string) {
		clearTimeout(pause);
		pause = setTimeout(() => show({ words: text.trim() }), PAUSE_MS);
	}

	function withFigure(row: GridRow, column: GridColumn, act: (ref: FigureRef) => void) {
		const at = layout.spanAt.get(column.key);
		const own = cells.row(row.key);
		const { code: model } = definition;
		if (own?.kind === 'row' && definition.columns.some((c) => c.code === column.key))
			return act({ kind: 'line', model, line: column.key, row: own.id, period: view.open });
		if (at === undefined || !own) return;
		const span = view.spans[at];
		if (!own.target || !isMonth(span)) {
			notices.say(
				`These are several cells together. Open one ${calendar.words.one} of one ${definition.one} to see what it is made of.`
			);
			return;
		}
		act({
			kind: 'line',
			model: own.target.block,
			line: own.target.line,
			row: own.target.row,
			period: span.from
		});
	}
	const openFigure = (row: GridRow, column: GridColumn) =>
		withFigure(row, column, (ref) => sheet.open({ scenario: selection.scenario, ref }));
	/** Leads on to the account where the line is posted, else to what it comes from. */
	const followFigure = (row: GridRow, column: GridColumn) =>
		withFigure(row, column, (ref) => {
			const own = cells.row(row.key)!;
			const landing = { row: row.key, month: column.key };
			const to = ref.kind === 'line' && postedTo(view, own, list.get(own.id), ref);
			if (!to) return void trail.follow(company, selection.scenario, ref, landing);
			const name = `${own.label}, ${cells.line(own.line)?.label ?? ''}`;
			void trail.go(company, selection.scenario, to, name, landing);
		});

	function menu(row: GridRow, column: GridColumn): MenuItem[] {
		const items: MenuItem[] = [];
		const { one } = definition;
		if (view.editable)
			items.push(
				{ label: `Add ${aOf(one)} below`, keys: 'Insert', act: addHere },
				{ label: `Duplicate this ${one}`, act: duplicate, disabled: !chosenIds().length },
				{ label: 'Take out what is chosen', keys: 'Ctrl+Delete', act: remove, disabled: !chosenIds().length }
			);
		if (batch.added.includes(row.key)) items.push({ label: 'Identifier …', act: () => (calling = row.key) });
		const held = chosenTogether();
		if (held) items.push({ label: 'Change these together …', act: () => (changing = held) });
		const own = shown.find((c) => c.code === column.key);
		if (own) {
			const sorted = data.wanted.sort;
			items.push(
				sorted === own.code
					? { label: `Sort by ${own.label}, the other way round`, act: () => show({ sort: `-${own.code}` }) }
					: { label: `Sort by ${own.label}`, act: () => show({ sort: own.code }) },
				{ label: `Group by ${own.label}`, act: () => show({ group: own.code, open: '' }) }
			);
			const cell = cells.at(row, column);
			const text = cell?.entry ? cell.entry.shown(batch.standing(row.key, own.code)) : '';
			if (cell?.entry)
				items.push({
					label: text ? `Only rows with “${text}”` : `Only rows without ${own.label}`,
					act: () => filter(own.code, text)
				});
		}
		return items;
	}
	const labelOf = (code: string) => rowColumns(definition).find((c) => c.code === code)?.label ?? code;
	/** Of rows whose shares are not all of them. */
	const MOST_NAMED = 3;
	let choosing = $state(false);
	/** What several chosen cells hold, where all hold the same kind of thing. */
	function chosenTogether(): { held: Held; count: number } | null {
		const chosen = grid?.writable() ?? [];
		if (chosen.length < 2) return null;
		const dates = chosen.filter((cell) => cell.entry === DATE).length;
		if (dates === chosen.length) return { held: 'date', count: dates };
		return chosen.some((cell) => cell.entry) ? null : { held: 'figure', count: chosen.length };
	}
	let changing: { held: Held; count: number } | null = $state(null);
	/** The row that is put in and is to be known by something else. */
	let calling: string | null = $state(null);
	let loading = $state(false);
	const typedLabels = $derived([
		'id',
		...rowColumns(definition).flatMap((c) => (c.column?.formula === undefined ? c.label : []))
	]);

	let landed = '';
	$effect(() => {
		const landing = landingIn(page.url);
		if (!landing || !grid || !savedRows.has(landing.row)) return;
		untrack(() => {
			const at = `${page.url.pathname} ${landing.row}/${landing.month}`;
			if (landed === at) return;
			landed = at;
			grid?.goTo(landing.row, landing.month);
		});
	});
</script>

<svelte:head><title>{definition.name} · Yardstave</title></svelte:head>
<svelte:window {onkeydown} />

<div class="top">
	<div>
		<h1>{definition.name}{single && query.department ? `: ${single.name}` : ''}</h1>
		<p class="muted">
			<a class="plain" href={withSelection('/plan/schedules', selection, company.calendar)}>All schedules</a>
			{#if data.may['change schedules'] && !view.withheld}·
				<a
					class="plain"
					href={withSelection(`/plan/schedules/${definition.code}/design`, selection, company.calendar)}
					>Columns and lines</a
				>{/if}{definition.description && ` · ${definition.description}`}
			{#if !view.editable}<b>{view.reason}</b>{/if}
			{#if view.withheld}<b>What single people earn is left out: you do not see individual pay.</b>{/if}
		</p>
		{#if lacking.length}
			<p>
				{#each lacking.slice(0, MOST_NAMED) as { id, columns } (id)}
					<b>{id}</b> still needs {listed(columns.map((c) => c.label))}.
				{/each}
				{#if lacking.length > MOST_NAMED}So do {lacking.length - MOST_NAMED} more.{/if}
				{#if outOfSight.length}<TextButton onclick={showNeeded}>Show all that is needed</TextButton>{/if}
			</p>
		{/if}
		{#if errors}<p class="errors">{counted(errors, 'cell holds', 'cells hold')} an error.</p>{/if}
		{#if unshared.length}
			<p class="errors">
				Not divided into 100 %: {unshared
					.slice(0, MOST_NAMED)
					.map((u) => `${u.name} (${share(u.sum)} in ${calendar.label(u.first)})`)
					.join(', ')}{unshared.length > MOST_NAMED ? ` and ${unshared.length - MOST_NAMED} more` : ''}.
			</p>
		{/if}
	</div>
	<div class="actions">
		{#if view.editable}
			<Button quiet disabled={edits.count > 0} onclick={() => (loading = true)}>Load …</Button>
			<Button quiet onclick={addHere}>Add {aOf(definition.one)}</Button>
			<SaveBar {edits} saving={saving.busy} onsave={() => saving.save()} />
		{/if}
	</div>
</div>
<div class="filters">
	{#if definition.lines.length}
		<label>
			By {calendar.words.one}
			<Choice value={view.line} onpick={(v) => show({ line: v })}>
				{#each definition.lines as l (l.code)}<option value={l.code}>{l.label}</option>{/each}
			</Choice>
		</label>
	{/if}
	<label>
		Grouped by
		<Choice value={data.wanted.group ?? ''} onpick={(v) => show({ group: v, open: '' })}>
			<option value="">nothing</option>
			{#each rowColumns(definition) as c (c.code)}<option value={c.code}>{c.label}</option>{/each}
		</Choice>
	</label>
	<label>
		Sorted by
		<Choice value={data.wanted.sort ?? ''} onpick={(v) => show({ sort: v })}>
			<option value="">as they stand</option>
			{#each rowColumns(definition).filter((c) => c.column) as c (c.code)}
				<option value={c.code}>{c.label}</option>
				<option value="-{c.code}">{c.label}, backwards</option>
			{/each}
		</Choice>
	</label>
	<Field
		type="search"
		style="width: 92px"
		aria-label="Find in all columns"
		placeholder="Find"
		value={data.wanted.words}
		oninput={(e) => seek(e.currentTarget.value)}
	/>
	{#if view.line}
		<Tick bind:checked={() => data.wanted.filled, (v) => show({ filled: v ? '1' : '' })}>with figures</Tick>
	{/if}
	<label>
		Against
		<Choice
			style="max-width: 124px"
			aria-label="Compared with"
			value={beside.scenario}
			onpick={(v) => beside.choose({ beside: v })}
		>
			<option value="">nothing</option>
			<ScenarioOptions {scenarios} />
		</Choice>
	</label>
	{#each Object.entries(where) as [column, value] (column)}
		<TextButton onclick={() => filter(column, null)} title="Show all again"
			>{labelOf(column)}: {value || 'blank'} ×</TextButton
		>
	{/each}
	<TextButton class="end" onclick={() => (choosing = true)}
		>Columns, {shown.length} of {rowColumns(definition).length} …</TextButton
	>
</div>
{#if compared}
	<ComparedRows
		{compared}
		{definition}
		choices={view.choices}
		{calendar}
		figures={data.figures}
		ongo={(id) => grid?.goTo(id, shown[0].code)}
	/>
{/if}
{#if faults}<Faults message={faults.message} faults={faults.faults} />{/if}
{#if !saved.length && !batch.added.length}
	<p class="muted">
		{#if view.count}No {definition.one}
			{data.wanted.filled ? 'has figures here, or fits what is sought' : 'fits what is sought'}.
		{:else if view.editable}There is no {definition.one} yet.
			<TextButton onclick={addHere}>Add the first one</TextButton>, or paste rows from a spreadsheet after
			that.
		{:else}There is no {definition.one}.{/if}
	</p>
{/if}
<Grid
	bind:this={grid}
	label="{definition.name} of {scenarioName}"
	head={definition.one[0].toUpperCase() + definition.one.slice(1)}
	columns={layout.columns}
	{rows}
	{together}
	cell={(row, column) => cells.at(row, column)}
	{calendar}
	open={view.open}
	figures={data.figures}
	edits={view.editable ? edits : undefined}
	labelWidth={118}
	keeps="schedule {definition.code}"
	onopen={openFigure}
	onfollow={followFigure}
	ontoggle={toggle}
	onfold={(span) => folds.toggle(span)}
	onwindow={(span) => showMonths(company.calendar, span)}
	ongrow={(count) => batch.add(count, chosenOrLast())}
	onsay={(said) => notices.say(said)}
	{menu}
/>
<p class="hint muted">
	{#if view.editable}White cells with a dotted line can be typed. <kbd>Insert</kbd> adds {aOf(
			definition.one
		)}.{/if}
	{#if definition.lines.length}<kbd>Alt</kbd> <kbd>→</kbd> opens one into all its lines{definition.divided
			? ' and shares'
			: ''}.{/if}
	<kbd>Space</kbd> opens what a figure is made of, <kbd>Alt</kbd> <kbd>Enter</kbd> leads to its account.
	{#if live.changes}<b class="slanted">Slanted figures</b> follow from what is not saved yet.{/if}
</p>
<Conflicts
	bind:list={saving.conflicts}
	onkeep={() => saving.resolve(true)}
	ontake={() => saving.resolve(false)}
/>
{#if under}
	<TypedUnder
		typed={under}
		nameOf={() => scenarioName}
		disabled={saving.busy}
		ondecide={decide}
		onclose={() => (under = null)}
	/>
{/if}
{#if loading}
	<LoadRows
		schedule={definition}
		scenario={selection.scenario}
		headings={typedLabels}
		template="/api/v1/schedules/{definition.code}/template?scenario={selection.scenario}"
		ondone={async (count) => {
			loading = false;
			await reread();
			notices.say(`${counted(count, 'row')} added or changed; History can take it back.`);
		}}
		onclose={() => (loading = false)}
	/>
{/if}
{#if changing}
	<TogetherDialog
		{...changing}
		onchange={(change) => {
			changing = null;
			const count = grid!.change((typed, format) => changedBy(change, typed, format));
			notices.say(`${counted(count, 'cell is', 'cells are')} changed, and not saved yet.`);
			grid?.focus();
		}}
		onclose={() => {
			changing = null;
			grid?.focus();
		}}
	/>
{/if}
{#if calling !== null}
	{@const id = calling}
	<IdentifierDialog
		{id}
		fault={(to) => batch.nameFault(id, to)}
		onchoose={(to) => {
			batch.rename(id, to);
			calling = null;
			void tick().then(() => grid?.goTo(to, shown[0].code));
		}}
		onclose={() => {
			calling = null;
			grid?.focus();
		}}
	/>
{/if}
{#if choosing}
	<ColumnsDialog
		columns={rowColumns(definition)}
		shown={shown.map((c) => c.code)}
		onchoose={(codes) => {
			choosing = false;
			usual = codes;
			keep(`columns of ${definition.code}`, codes);
			show({ columns: codes.join(',') });
		}}
		onclose={() => (choosing = false)}
	/>
{/if}

<style>
	.filters {
		display: flex;
		flex-wrap: wrap;
		white-space: nowrap;
		gap: 6px 11px;
		align-items: center;
		margin-bottom: 10px;
	}
	.filters label {
		display: flex;
		gap: 6px;
		align-items: center;
		color: var(--ink-2);
	}
	.filters :global(select) {
		max-width: 124px;
	}
	.filters :global(.end) {
		margin-left: auto;
	}
	.errors {
		color: var(--clay);
		font-weight: 600;
	}
	.slanted {
		color: var(--plum);
		font-style: italic;
	}
</style>
