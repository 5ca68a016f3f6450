<script lang="ts">
	import { afterNavigate } from '$app/navigation';
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
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';
	import type { MenuItem } from '$lib/ui/kit/menu';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { ALL, ScheduleCells } from '$lib/ui/schedules/cells.svelte';
	import ColumnsDialog from '$lib/ui/schedules/ColumnsDialog.svelte';
	import { rowColumns, scheduleColumns, shownColumns } from '$lib/ui/schedules/columns';
	import { typedMonths } from '$lib/ui/schedules/edits';
	import type { Compared } from '$lib/ui/schedules/compared';
	import ComparedRows from '$lib/ui/schedules/ComparedRows.svelte';
	import { arrange, keepTo } from '$lib/ui/schedules/arrange';
	import IdentifierDialog from '$lib/ui/schedules/IdentifierDialog.svelte';
	import ListFilters from '$lib/ui/schedules/ListFilters.svelte';
	import ListState from '$lib/ui/schedules/ListState.svelte';
	import LoadRows from '$lib/ui/schedules/LoadRows.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import { readOutOfSight } from '$lib/ui/entry/rows-out-of-sight';
	import { ScheduleLive } from '$lib/ui/schedules/preview.svelte';
	import { RowBatch } from '$lib/ui/schedules/row-batch.svelte';
	import { postedTo } from '$lib/ui/schedules/posted-to';
	import TogetherDialog from '$lib/ui/schedules/TogetherDialog.svelte';
	import { changedBy, type Held } from '$lib/ui/schedules/together';
	import { DATE } from '$lib/ui/schedules/entries';
	import { ListRows } from '$lib/ui/schedules/list-rows.svelte';
	import { rowsFrom, type WrittenRow } from '$lib/ui/schedules/written';
	import { scheduleSaving } from '$lib/ui/schedules/saving';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import { showMonths } from '$lib/ui/shell/window';
	import { counted } from '$lib/ui/writing/count';

	let { data } = $props();
	const company = useCompany();
	const selection = $derived(data.selection);
	const view = $derived(data.view);
	const definition = $derived(view.definition);
	const { calendar } = $derived({ calendar: company.calendarOf(view.definition.code) });
	type Rows = { rows: ScheduleViewRow[]; list: ScheduleRow[] };
	type WrittenRows = { rows: WrittenRow[]; list: ScheduleRow[] };
	const sent = $derived<Rows>({ rows: JSON.parse(data.rows), list: JSON.parse(data.list) });
	/** All rows, where only the first were sent with the page. */
	let whole = $state.raw<(Rows & { of: unknown }) | null>(null);
	const rowsOf = $derived(whole?.of === data.view ? whole : sent);
	const saved = $derived(rowsOf.rows);
	const list = $derived(new Map(rowsOf.list.map((r) => [r.id, r])));
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
		untrack(() =>
			live.show({ scenario, block: from, version, query: wanted, calendar: company.calendar }, typed)
		);
	});
	// What is typed is calculated on what comes first: the rows further down come after it.
	$effect(() => {
		const of = data.view;
		if (sent.rows.length === data.rowsInAll) return;
		const { scenario, department, from, to } = selection;
		const address = new URLSearchParams(page.url.searchParams);
		const { key } = company.calendar;
		for (const [k, v] of Object.entries({ scenario, department, from: key(from), to: key(to) }))
			address.set(k, v);
		return readOutOfSight<WrittenRows>(
			`schedules/${definition.code}?${address}`,
			({ rows, list }) => {
				if (data.view === of) whole = { of, list, rows: rowsFrom(rows, company.calendar) };
			},
			landingIn(page.url) !== null
		);
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

	const rows = new ListRows({
		batch,
		cells,
		get calendar() {
			return calendar;
		},
		get rows() {
			return saved;
		},
		get saved() {
			return savedRows;
		},
		get changed() {
			return changed;
		},
		get compared() {
			return compared;
		}
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
	/** Columns that are not shown, and without which rows that are put in cannot be saved. */
	const outOfSight = $derived.by(() => {
		const needed = new Set(lacking.flatMap((l) => l.columns.map((c) => c.code)));
		for (const { code } of shown) needed.delete(code);
		return [...needed];
	});
	/** Shows them beside the others, in their order. */
	function showNeeded() {
		const wanted = new Set([...shown.map((c) => c.code), ...outOfSight]);
		arrange({
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

	const opened = $derived(data.wanted.open);
	function toggle({ key }: GridRow) {
		arrange({ open: (opened.includes(key) ? opened.filter((o) => o !== key) : [...opened, key]).join(',') });
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
					? {
							label: `Sort by ${own.label}, the other way round`,
							act: () => arrange({ sort: `-${own.code}` })
						}
					: { label: `Sort by ${own.label}`, act: () => arrange({ sort: own.code }) },
				{ label: `Group by ${own.label}`, act: () => arrange({ group: own.code, open: '' }) }
			);
			const cell = cells.at(row, column);
			const text = cell?.entry ? cell.entry.shown(batch.standing(row.key, own.code)) : '';
			if (cell?.entry)
				items.push({
					label: text ? `Only rows with “${text}”` : `Only rows without ${own.label}`,
					act: () => keepTo(data.wanted.where, own.code, text)
				});
		}
		return items;
	}
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
		<ListState {lacking} hidden={outOfSight.length > 0} onshow={showNeeded} {errors} {unshared} {calendar} />
	</div>
	<div class="actions">
		{#if view.editable}
			<Button quiet disabled={edits.count > 0} onclick={() => (loading = true)}>Load …</Button>
			<Button quiet onclick={addHere}>Add {aOf(definition.one)}</Button>
			<SaveBar {edits} saving={saving.busy} onsave={() => saving.save()} />
		{/if}
	</div>
</div>
<ListFilters
	{definition}
	period={calendar.words.one}
	line={view.line}
	wanted={data.wanted}
	{beside}
	{scenarios}
	shown={shown.length}
	onchoose={() => (choosing = true)}
/>
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
	rows={rows.list}
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
	{#if view.editable}Cells with a dotted line can be typed. <kbd>Insert</kbd> adds {aOf(definition.one)}.{/if}
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
			arrange({ columns: codes.join(',') });
		}}
		onclose={() => (choosing = false)}
	/>
{/if}

<style>
	.slanted {
		color: var(--plum);
		font-style: italic;
	}
</style>
