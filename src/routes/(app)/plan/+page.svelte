<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { Button } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import { SvelteSet } from 'svelte/reactivity';
	import type { Cell } from '$lib/core/engine/values';
	import type { Basis, NumberFormat } from '$lib/core/model/schema';
	import { ApiError, get, post } from '$lib/ui/api';
	import { Beside, besideKey, besideValue, less } from '$lib/ui/beside.svelte';
	import BesidePick from '$lib/ui/BesidePick.svelte';
	import BasisDialog from '$lib/ui/BasisDialog.svelte';
	import { useCompany, withSelection } from '$lib/ui/company';
	import Conflicts from '$lib/ui/Conflicts.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import { EditBatch } from '$lib/ui/grid/edits.svelte';
	import { gapTo } from '$lib/core/plan/targets';
	import { columnSpans, quartersOf } from '$lib/core/calendar/spans';
	import { day, exact, share, widthOf } from '$lib/ui/format';
	import Grid from '$lib/ui/grid/Grid.svelte';
	import { isMonth, spanColumn } from '$lib/ui/grid/columns';
	import { Folds } from '$lib/ui/grid/folds.svelte';
	import type { CellOf, GridCell, GridColumn, GridRow, MenuItem } from '$lib/ui/grid/types';
	import { notices } from '$lib/ui/notices.svelte';
	import { Saving } from '$lib/ui/saving.svelte';
	import SaveBar from '$lib/ui/SaveBar.svelte';
	import { sheet } from '$lib/ui/sheet.svelte';
	import { entryDecimals, type SpreadRow } from '$lib/ui/spread';
	import SpreadDialog from '$lib/ui/SpreadDialog.svelte';
	import { layOut } from '$lib/ui/statement';
	import SubmitDialog from '$lib/ui/SubmitDialog.svelte';
	import { reread } from '$lib/ui/reread';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	const selection = $derived(data.selection);
	const plan = $derived(data.plan);
	const scenario = $derived(data.scenarios.find((s) => s.code === selection.scenario));
	const department = $derived(data.departments.find((d) => d.code === selection.department));
	const edits = new EditBatch();
	const folded = new SvelteSet<string>();
	let showEmpty = $state(false);
	let choosing = $state<{ account: string; name: string; basis: Basis } | null>(null);
	let spreading = $state<{
		title: string;
		typed: number | null;
		rows: SpreadRow[];
		format: NumberFormat;
	} | null>(null);
	const folds = new Folds(calendar);
	let submitting = $state(false);
	/** The department's notes are listed. */
	let listing = $state(false);
	let grid: Grid | undefined = $state();

	const single = $derived(department?.leaf ?? false);
	const asked = $derived(page.url.searchParams.get('account'));

	const shownFigures = $derived(data.figures === 'thousand' && plan?.right.editable ? 'whole' : data.figures);
	const monthWidth = $derived(
		widthOf(
			(plan?.rows ?? []).flatMap((r) => r.cells),
			shownFigures
		)
	);
	const totalWidth = $derived(
		widthOf(
			(plan?.rows ?? []).flatMap((r) => [r.total, r.lastYear, r.target, ...r.quarters]),
			shownFigures
		)
	);
	const window = $derived({ from: selection.from, to: selection.to });
	const quarters = $derived(quartersOf(calendar, window));
	const spans = $derived(columnSpans(calendar, window, (first) => folds.has(first)));
	const beside = new Beside<{ rows: Row[] }>();
	const others = $derived(data.scenarios.filter((s) => s.code !== selection.scenario));
	const other = $derived(others.find((s) => s.code === beside.scenario));
	$effect(() => {
		void data.plan;
		const address = new URLSearchParams({
			scenario: other?.code ?? '',
			department: selection.department,
			from: calendar.key(selection.from),
			to: calendar.key(selection.to)
		});
		untrack(() => beside.read(other ? `plan?${address}` : ''));
	});
	const otherRows = $derived(new Map((beside.data?.rows ?? []).map((r) => [r.account, r])));
	/** What stands in a column of months or the total. */
	function savedAt(row: Row | undefined, key: string): Cell {
		if (!row) return null;
		if (key === 'total') return row.total;
		const span = spans.find((s) => spanColumn(calendar, s, 0).key === key)!;
		return isMonth(span)
			? row.cells[span.from - selection.from]
			: row.quarters[quarters.findIndex((q) => q.from === span.from)];
	}
	const columns: GridColumn[] = $derived([
		{ key: 'shape', label: 'Shape', width: 68, kind: 'shape' },
		...(single ? [{ key: 'basis', label: 'Basis', width: 118, kind: 'text' } as GridColumn] : []),
		...spans.map((span) => spanColumn(calendar, span, isMonth(span) ? monthWidth : totalWidth)),
		{ key: 'total', label: 'Total', width: totalWidth, kind: 'figure', apart: true },
		...(other ? beside.columns(calendar, spans, other.name, monthWidth) : []),
		{
			key: 'lastYear',
			label: 'Year before',
			width: Math.max(84, totalWidth),
			kind: 'figure',
			apart: other !== undefined
		},
		{ key: 'change', label: 'Change', width: Math.max(76, totalWidth), kind: 'figure' },
		{ key: 'percent', label: '%', width: 64, kind: 'text', align: 'right' },
		...(plan?.target
			? ([
					{ key: 'target', label: 'Target', width: Math.max(84, totalWidth), kind: 'figure', apart: true },
					{ key: 'gap', label: 'Gap', width: Math.max(76, totalWidth), kind: 'figure' }
				] as GridColumn[])
			: []),
		...(single
			? ([
					{
						key: 'basisTotal',
						label: 'Basis gives',
						width: Math.max(84, totalWidth),
						kind: 'figure',
						apart: true
					},
					{ key: 'over', label: 'Typed on top', width: Math.max(92, totalWidth), kind: 'figure' }
				] as GridColumn[])
			: [])
	]);

	type Row = NonNullable<typeof plan>['rows'][number];
	const accountName = (code: string) => data.accounts.find((a) => a.code === code)?.name ?? code;
	const percent = (v: number) => `${v < 0 ? '−' : '+'}${Number(Math.abs(v * 100).toPrecision(6))} %`;
	/** A driver's line; its model stands in the list to choose from. */
	const driverName = (code: string) =>
		(plan?.drivers.find((d) => d.code === code)?.name ?? code).replace(/^.*: /, '');
	function basisWords(row: Row): string {
		if (!row.origin) return '';
		if (row.origin.kind === 'posted')
			return row.origin.models
				.map((m) => data.models.find((x) => x.code === m)?.name ?? 'Driver model')
				.join(', ');
		const { basis } = row.origin;
		switch (basis.kind) {
			case 'typed':
				return 'typed';
			case 'last-year':
				return `last year ${percent(basis.percent)}`;
			case 'percent-of':
				return `${Number((basis.percent * 100).toPrecision(6))} % of ${accountName(basis.account)}`;
			case 'run-rate':
				return `run-rate, ${basis.months} mo.`;
			case 'driver':
				return `${driverName(basis.driver)} × ${Number(basis.rate.toPrecision(8))}`;
		}
	}
	const hasBasis = (row: Row) =>
		row.origin !== null && (row.origin.kind === 'posted' || row.origin.basis.kind !== 'typed');

	/** Months of a row with what is typed and not saved; null where only saving tells what a basis gives. */
	function typedSum(row: Row, from: number, to: number): { value: Cell; preview: boolean } | null {
		const typed = edits.list.filter((e) => e.row === row.account);
		if (!typed.length || !row.leaf || !row.sums) return null;
		const by = new Map(typed.map((e) => [e.column, e.value]));
		let [sum, changed] = [0, false];
		for (let p = from; p <= to; p++) {
			const own = by.get(calendar.key(p));
			if (own === null) return null;
			const cell = row.cells[p - selection.from];
			if (own !== undefined) changed = true;
			sum += own ?? (typeof cell === 'number' ? cell : 0);
		}
		return changed ? { value: sum, preview: true } : null;
	}
	const isOpen = (period: number) => period >= plan!.open && period <= plan!.last;
	/** What a driver model posts is changed there. */
	const spreadable = (row: Row) =>
		row.leaf && row.sums && single && plan!.right.editable && row.origin?.kind === 'basis';

	function monthCell(row: Row, period: number): GridCell {
		const i = period - selection.from;
		const value = row.cells[i];
		const typed = row.typed?.[i] ?? null;
		const { right } = plan!;
		const posted = row.origin?.kind === 'posted';
		return {
			value,
			typed,
			under: typed !== null && typed !== value ? typed : undefined,
			at: { row: row.account, column: calendar.key(period) },
			editable: row.leaf && right.editable && isOpen(period),
			override: typed !== null && hasBasis(row),
			glyphs: glyphsOf(row.account, period),
			title: !row.leaf
				? undefined
				: period < plan!.open
					? `${exact(value, row.format)} · closed`
					: right.editable
						? posted
							? `${exact(value, row.format)} · from ${basisWords(row)}`
							: undefined
						: right.reason,
			reason: !right.editable
				? right.reason
				: !row.leaf
					? 'A total of the accounts under it; type into those.'
					: `${calendar.longLabel(period)} ${period < plan!.open ? 'is closed' : 'is beyond the scenario’s last month'} and cannot be typed.`
		};
	}
	const marks = $derived(new Map((plan?.marks ?? []).map((m) => [`${m.line}/${m.period}`, m])));
	function glyphsOf(account: string, period: number): GridCell['glyphs'] {
		const mark = marks.get(`${account}/${period}`);
		if (!mark) return undefined;
		const many = (n: number, one: string, more: string) => `${n} ${n === 1 ? one : more}`;
		return [
			...(mark.notes
				? [{ shape: 'note' as const, words: `${many(mark.notes, 'note', 'notes')}: ${mark.last}` }]
				: []),
			...(mark.items
				? [{ shape: 'items' as const, words: `made up of ${many(mark.items, 'item', 'items')}` }]
				: []),
			...(mark.attachments
				? [{ shape: 'attachment' as const, words: many(mark.attachments, 'attachment', 'attachments') }]
				: [])
		];
	}
	const cell: CellOf = (gridRow, column) => {
		const row = byAccount.get(gridRow.key);
		if (!row) return undefined;
		const total = () => typedSum(row, selection.from, selection.to) ?? { value: row.total, preview: false };
		const asked = besideKey(column.key);
		if (asked !== null) {
			const theirs = savedAt(otherRows.get(row.account), asked);
			return {
				value:
					beside.data && other
						? besideValue(savedAt(row, asked), theirs, beside.difference, column.span ?? window, other)
						: null,
				reason: `${other?.name ?? 'The other scenario'} is shown to compare with; choose it above to change it.`
			};
		}
		if (column.span) {
			const { span } = column;
			if (isMonth(span)) return monthCell(row, span.from);
			const at = quarters.findIndex((q) => q.from === span.from);
			return {
				...(typedSum(row, span.from, span.to) ?? { value: row.quarters[at] }),
				spreads: spreadable(row) && isOpen(span.to)
			};
		}
		switch (column.key) {
			case 'shape':
				return { value: null, values: row.cells };
			case 'basis': {
				const action = plan!.right.editable && row.origin?.kind === 'basis';
				const leads = row.origin?.kind === 'posted' && data.may['see driver models'];
				const words = basisWords(row);
				return {
					value: null,
					text: words,
					action: action || leads,
					title: row.origin
						? `${words}${action ? '. Press Enter to change it.' : leads ? '. Press Enter to go there.' : ''}`
						: undefined
				};
			}
			case 'total':
				return { ...total(), spreads: spreadable(row) && selection.to >= plan!.open };
			case 'lastYear':
				return { value: row.lastYear };
			case 'change':
				return { value: less(total().value, row.lastYear), preview: total().preview };
			case 'percent': {
				const [now, before] = [total().value, row.lastYear];
				return {
					value: null,
					text:
						typeof now === 'number' && typeof before === 'number' && before !== 0
							? share((now - before) / Math.abs(before))
							: ''
				};
			}
			case 'target':
				return {
					value: row.target,
					reason: `Targets are set in ${plan!.target?.name ?? 'another scenario'}.`
				};
			case 'gap': {
				const { gap, verdict } = gapTo(total().value, row.target, row.type);
				return {
					value: gap,
					preview: total().preview,
					tone: verdict === 'favourable' ? 'good' : verdict === 'unfavourable' ? 'bad' : undefined,
					reason: 'Plan less target; it is calculated.'
				};
			}
			case 'basisTotal':
				return { value: row.basisTotal };
			case 'over':
				return {
					value: row.basisTotal === null ? null : less(total().value, row.basisTotal),
					preview: total().preview
				};
		}
	};
	const byAccount = $derived(new Map((plan?.rows ?? []).map((r) => [r.account, r])));

	const rows: GridRow[] = $derived.by(() => {
		if (!plan) return [];
		const shown = (r: Row) =>
			showEmpty ||
			asked === r.account ||
			r.total !== null ||
			r.lastYear !== null ||
			hasBasis(r) ||
			edits.list.some((e) => e.row === r.account);
		return layOut(plan.rows, folded, shown).map(({ item, kind, depth, folded: isFolded }) => ({
			key: kind === 'heading' ? `heading:${item.account}` : item.account,
			label: item.name,
			indent: depth,
			kind,
			format: item.format,
			toggle: kind === 'heading' ? ('open' as const) : isFolded ? ('closed' as const) : undefined
		}));
	});

	// Leads to the account the address asks for.
	$effect(() => {
		if (asked && grid)
			untrack(() =>
				grid?.goTo(asked, calendar.key(Math.min(selection.to, Math.max(plan?.open ?? 0, selection.from))))
			);
	});

	function toggle(row: GridRow) {
		const account = row.key.replace(/^heading:/, '');
		if (folded.has(account)) folded.delete(account);
		else folded.add(account);
	}
	function openFigure(row: GridRow, column: GridColumn) {
		const { from, to } =
			column.span ?? (column.key === 'lastYear' ? { from: window.from - 12, to: window.to - 12 } : window);
		const ofOther = besideKey(column.key) !== null && other && !beside.difference ? other.code : undefined;
		const ofTarget = column.key === 'target' ? plan?.target?.code : undefined;
		if (row.kind !== 'heading')
			sheet.open({
				scenario: ofOther ?? ofTarget ?? selection.scenario,
				ref: { kind: 'account', account: row.key, department: selection.department, from, to }
			});
	}
	function openNotes(account: string, period: number) {
		sheet.open({
			scenario: selection.scenario,
			ref: { kind: 'account', account, department: selection.department, from: period, to: period },
			tab: 'notes'
		});
	}
	const menu = (row: GridRow, column: GridColumn): MenuItem[] =>
		row.kind !== 'heading' && column.span && isMonth(column.span)
			? [{ label: 'Notes, items, attachments', act: () => openNotes(row.key, column.span!.from) }]
			: [];
	/** A total was typed, or cells are to be changed together: the months under them are what it is spread into. */
	function spreadCells(cells: { row: GridRow; column: GridColumn }[], typed: number | null) {
		const months = new Map<string, Set<number>>();
		for (const { row, column } of cells) {
			const { from, to } = column.span ?? window;
			const set = months.get(row.key) ?? new Set();
			months.set(row.key, set);
			for (let p = from; p <= to; p++) set.add(p);
		}
		// Every row has the same months, so that they stand under one another.
		const all = [...new Set([...months.values()].flatMap((s) => [...s]))].sort((a, b) => a - b);
		const found = [...months.keys()].map((account) => byAccount.get(account)!);
		const format = found[0].format;
		if (found.some((r) => r.format !== format)) {
			notices.say('Amounts and other measures cannot be changed together. Choose rows of one kind.');
			return;
		}
		const rows = found.map((row): SpreadRow => ({
			key: row.account,
			name: row.name,
			cells: all.map((period) => {
				const column = calendar.key(period);
				const edit = edits.at(row.account, column);
				const value = row.cells[period - selection.from];
				return {
					column,
					label: calendar.shortLabel(period),
					value: edit ? edit.value : typeof value === 'number' ? value : null,
					before: row.typed?.[period - selection.from] ?? null,
					open: isOpen(period) && months.get(row.account)!.has(period)
				};
			})
		}));
		const name = found.length === 1 ? found[0].name : `${found.length} accounts`;
		const [first, last] = [calendar.label(all[0]), calendar.label(all.at(-1)!)];
		spreading = { title: `${name}, ${first}${first === last ? '' : ` – ${last}`}`, typed, rows, format };
	}
	const LAST_YEAR = '@last-year';
	/** The same accounts and months in another scenario, or a year ago. */
	async function shapeOf(scenario: string): Promise<(number | null)[][]> {
		const ago = scenario === LAST_YEAR ? 12 : 0;
		const query = new URLSearchParams({
			scenario: ago ? selection.scenario : scenario,
			department: selection.department,
			from: calendar.key(selection.from - ago),
			to: calendar.key(selection.to - ago)
		});
		const { rows: there } = await get<{ rows: Row[] }>(`plan?${query}`);
		return spreading!.rows.map(({ key, cells }) => {
			const own = there.find((r) => r.account === key);
			return cells.map(({ column }) => {
				const value = own?.cells[calendar.parse(column)! - selection.from];
				return typeof value === 'number' ? value : null;
			});
		});
	}
	function chooseBasis(row: GridRow) {
		const found = byAccount.get(row.key);
		if (found?.origin?.kind === 'posted') {
			void goto(withSelection(`/drivers/${found.origin.models[0]}`, selection, calendar));
			return;
		}
		if (found?.origin?.kind === 'basis')
			choosing = { account: found.account, name: found.name, basis: found.origin.basis };
	}

	const saving = new Saving({
		edits,
		path: () => 'plan/cells',
		request: (list) => ({
			scenario: selection.scenario,
			department: selection.department,
			edits: list.map((e) => ({
				account: e.row,
				period: calendar.parse(e.column),
				before: e.before,
				value: e.value
			}))
		}),
		cellOf: (c) => ({ row: c.edit.line, column: calendar.key(c.edit.period) }),
		view: (c) => ({
			name: `${accountName(c.edit.line)}, ${calendar.label(c.edit.period)}`,
			mine: exact(c.edit.value, 'money'),
			theirs: exact(c.theirs, 'money'),
			user: c.user,
			at: c.at
		})
	});
	async function saveBasis(basis: Basis) {
		if (!choosing) return;
		try {
			await post('plan/basis', {
				scenario: selection.scenario,
				department: selection.department,
				account: choosing.account,
				basis
			});
			choosing = null;
			await reread();
			notices.say('The basis is saved.');
		} catch (e) {
			if (!(e instanceof ApiError)) throw e;
			notices.say(e.message, true);
		}
	}
	function facts(chosen: NonNullable<typeof scenario>, shown: NonNullable<typeof plan>): string[] {
		const list = [company.data.company.currency];
		const through = chosen.kind === 'actuals' ? chosen.actualsThrough : shown.open - 1;
		if (through !== null && through >= selection.from)
			list.push(`actuals through ${calendar.longLabel(through)}`);
		const submission = shown.right.submission;
		if (submission) list.push(`submission ${submission.state}, due ${day(submission.due)}`);
		if (!shown.right.editable) list.push(shown.right.reason);
		return list;
	}
	const canSubmit = $derived(
		plan?.right.submission &&
			['not started', 'drafting', 'returned'].includes(plan.right.submission.state) &&
			plan.right.editable
	);
</script>

<svelte:head><title>Plan · {department?.name} · Yardstave</title></svelte:head>

{#if !plan || !scenario}
	<h1>Plan</h1>
	<p class="muted">There is no scenario yet. Load a ledger file under Set up first.</p>
{:else}
	<div class="top">
		<div>
			<h1>{single ? 'Department plan' : 'Plan'}: {department?.name}</h1>
			<p class="muted">
				{facts(scenario, plan).join(' · ')}
			</p>
			<div class="beside"><BesidePick {beside} scenarios={others} /></div>
			{#if plan.errors}<p class="errors">
					{plan.errors}
					{plan.errors === 1 ? 'cell holds' : 'cells hold'} an error; open it to see why.
				</p>{/if}
		</div>
		<div class="actions">
			<Button size="xs" color="light" href={withSelection('/plan/targets', selection, calendar)}
				>Targets</Button
			>
			{#if plan.right.editable}<SaveBar {edits} saving={saving.busy} onsave={() => saving.save()} />{/if}
			{#if canSubmit}<Button
					size="xs"
					color="light"
					disabled={edits.count > 0}
					onclick={() => (submitting = true)}>Submit …</Button
				>{/if}
		</div>
	</div>
	<Grid
		bind:this={grid}
		label="Plan of {department?.name}"
		head="Account"
		{columns}
		{rows}
		{cell}
		{calendar}
		seeks
		open={plan.open}
		figures={data.figures}
		edits={plan.right.editable ? edits : undefined}
		labelWidth={196}
		onopen={openFigure}
		onaction={chooseBasis}
		ontoggle={toggle}
		{menu}
		onspread={spreadCells}
		onfold={(span) => folds.toggle(span)}
		onsay={(m) => notices.say(m)}
	/>
	<p class="hint muted">
		{#if plan.right.editable}White cells with a dotted line can be typed. <kbd>^</kbd> a figure typed over its
			basis; <kbd>Del</kbd> takes it away.{/if}
		<kbd>Space</kbd> opens what a figure is made of, with its notes.
		{#if plan.marks.length}<button class="plain" onclick={() => (listing = true)}
				>{plan.marks.length} {plan.marks.length === 1 ? 'cell' : 'cells'} with notes or items</button
			>{/if}
		<button class="empty" onclick={() => (showEmpty = !showEmpty)}
			>{showEmpty ? 'Hide empty accounts' : 'Show all accounts'}</button
		>
	</p>
	{#if spreading}
		<SpreadDialog
			title={spreading.title}
			typed={spreading.typed}
			rows={spreading.rows}
			format={spreading.format}
			decimals={entryDecimals(spreading.format, spreading.rows, company.data.company.decimals)}
			scenarios={[
				{ code: LAST_YEAR, name: 'last year' },
				...data.scenarios.filter((s) => s.code !== selection.scenario && s.kind !== 'actuals')
			]}
			{shapeOf}
			onapply={(list) => edits.apply(list)}
			onclose={() => (spreading = null)}
		/>
	{/if}
	{#if listing}
		<Dialog
			title="Notes and items of {department?.name}"
			action="Done"
			size="md"
			onaction={() => (listing = false)}
			onclose={() => (listing = false)}
		>
			<ul class="marks">
				{#each plan.marks as m (`${m.line}/${m.period}`)}
					<li>
						<button
							class="plain"
							onclick={() => {
								listing = false;
								grid?.goTo(m.line, calendar.key(m.period));
								openNotes(m.line, m.period);
							}}>{accountName(m.line)}, {calendar.label(m.period)}</button
						>
						<span>{m.last || `${m.items} items`}</span>
					</li>
				{/each}
			</ul>
		</Dialog>
	{/if}
	{#if choosing}
		<BasisDialog
			name={choosing.name}
			account={choosing.account}
			basis={choosing.basis}
			accounts={plan.rows.filter((r) => r.leaf).map((r) => ({ code: r.account, name: r.name }))}
			drivers={plan.choosesDrivers ? plan.drivers : []}
			onsave={saveBasis}
			onclose={() => (choosing = null)}
		/>
	{/if}
	{#if plan.right.submission && submitting}
		<SubmitDialog
			title="Submit the plan of {department?.name}"
			words="It goes to review and is locked until it is returned or withdrawn."
			action="Submit"
			path="rounds/{plan.right.submission.round}/{selection.department}"
			request={{ action: 'submit' }}
			onclose={() => (submitting = false)}
			ondone={() => notices.say('The plan is submitted.')}
		/>
	{/if}
{/if}
<Conflicts
	bind:list={saving.conflicts}
	onkeep={() => saving.resolve(true)}
	ontake={() => saving.resolve(false)}
/>

<style>
	.top {
		flex-wrap: wrap;
	}
	.beside {
		display: flex;
		gap: 8px;
		margin-top: 4px;
	}
	.marks li {
		display: grid;
		grid-template-columns: 220px 1fr;
		gap: 14px;
		padding: 5px 0;
		border-bottom: 1px solid var(--rule);
	}
	.errors {
		color: var(--clay);
		font-weight: 600;
	}
	.empty {
		float: right;
		color: var(--green);
		text-decoration: underline;
		text-underline-offset: 2px;
	}
</style>
