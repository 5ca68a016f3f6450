<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import { page } from '$app/state';
	import { Button } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import { SvelteSet } from 'svelte/reactivity';
	import type { Basis } from '$lib/core/model/schema';
	import { ApiError, get, post } from '$lib/ui/api';
	import BasisDialog from '$lib/ui/BasisDialog.svelte';
	import { useCompany } from '$lib/ui/company';
	import Conflicts from '$lib/ui/Conflicts.svelte';
	import { EditBatch } from '$lib/ui/edits.svelte';
	import { day, exact, widthOf } from '$lib/ui/format';
	import Grid from '$lib/ui/Grid.svelte';
	import type { GridCell, GridColumn, GridRow } from '$lib/ui/grid';
	import { notices } from '$lib/ui/notices.svelte';
	import { Saving } from '$lib/ui/saving.svelte';
	import SaveBar from '$lib/ui/SaveBar.svelte';
	import { sheet } from '$lib/ui/sheet.svelte';
	import { entryDecimals, type SpreadRow } from '$lib/ui/spread';
	import SpreadDialog from '$lib/ui/SpreadDialog.svelte';
	import { layOut } from '$lib/ui/statement';
	import SubmitDialog from '$lib/ui/SubmitDialog.svelte';

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
	let spreading = $state<{ row: Row; typed: number | null; rows: SpreadRow[] } | null>(null);
	let submitting = $state(false);
	let grid: Grid | undefined = $state();

	const periods = $derived(
		Array.from({ length: selection.to - selection.from + 1 }, (_, i) => selection.from + i)
	);
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
			(plan?.rows ?? []).flatMap((r) => [r.total, r.lastYear]),
			shownFigures
		)
	);
	const columns: GridColumn[] = $derived([
		{ key: 'shape', label: 'Shape', width: 68, kind: 'shape' },
		...(single ? [{ key: 'basis', label: 'Basis', width: 118, kind: 'text' } as GridColumn] : []),
		...periods.map((p): GridColumn => ({
			key: calendar.key(p),
			label: calendar.shortLabel(p),
			width: monthWidth,
			kind: 'figure',
			period: p
		})),
		{ key: 'total', label: 'Total', width: totalWidth, kind: 'figure', apart: true },
		{ key: 'lastYear', label: 'Year before', width: Math.max(84, totalWidth), kind: 'figure' }
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

	/** A sum of months with what is typed and not saved. */
	function totalOf(row: Row): { value: Row['total']; preview?: boolean } {
		const typed = edits.list.filter((e) => e.row === row.account);
		if (!typed.length || !row.leaf || !row.sums) return { value: row.total };
		// Taking a typed figure away leaves what the basis gives, which is known when it is saved.
		if (typed.some((e) => e.value === null)) return { value: row.total };
		const by = new Map(typed.map((e) => [e.column, e.value]));
		const value = row.cells.reduce<number>((sum, cell, i) => {
			const own = by.get(calendar.key(periods[i]));
			return sum + (own ?? (typeof cell === 'number' ? cell : 0));
		}, 0);
		return { value, preview: true };
	}

	function cellsOf(row: Row, kind: 'heading' | 'leaf' | 'total'): GridCell[] {
		if (kind === 'heading') return [];
		const right = plan!.right;
		const basis: GridCell = {
			value: null,
			text: basisWords(row),
			action: right.editable && row.origin?.kind === 'basis',
			title: row.origin
				? `${basisWords(row)}${right.editable && row.origin.kind === 'basis' ? '. Press Enter to change it.' : ''}`
				: undefined
		};
		return [
			{ value: null, values: row.cells },
			...(single ? [basis] : []),
			...row.cells.map((value, i): GridCell => {
				const period = periods[i];
				const open = period >= plan!.open && period <= plan!.last;
				const editable = row.leaf && right.editable && open;
				const typed = row.typed?.[i] ?? null;
				return {
					value,
					typed,
					editable,
					override: typed !== null && hasBasis(row),
					title: !row.leaf
						? undefined
						: period < plan!.open
							? `${exact(value, row.format)} · closed`
							: right.editable
								? undefined
								: right.reason
				};
			}),
			{
				...totalOf(row),
				// What a driver model posts is changed there.
				spreads:
					row.leaf &&
					row.sums &&
					single &&
					right.editable &&
					selection.to >= plan!.open &&
					row.origin?.kind === 'basis'
			},
			{ value: row.lastYear }
		];
	}

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
			depth,
			kind,
			format: item.format,
			cells: cellsOf(item, kind),
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
		const [from, to] =
			column.period !== undefined
				? [column.period, column.period]
				: column.key === 'lastYear'
					? [selection.from - 12, selection.to - 12]
					: [selection.from, selection.to];
		if (row.kind !== 'heading')
			sheet.open({
				scenario: selection.scenario,
				ref: { kind: 'account', account: row.key, department: selection.department, from, to }
			});
	}
	/** A year was typed for an account: its months are what it is spread into. */
	function spreadTotal(row: GridRow, _: GridColumn, typed: number | null) {
		const found = plan!.rows.find((r) => r.account === row.key)!;
		const cells = periods.map((period, i) => {
			const column = calendar.key(period);
			const edit = edits.at(row.key, column);
			const value = found.cells[i];
			return {
				column,
				label: calendar.shortLabel(period),
				value: edit ? edit.value : typeof value === 'number' ? value : null,
				before: found.typed?.[i] ?? null,
				open: period >= plan!.open && period <= plan!.last
			};
		});
		spreading = { row: found, typed, rows: [{ key: row.key, name: found.name, cells }] };
	}
	const LAST_YEAR = '@last-year';
	/** The account's months in another scenario, or a year ago. */
	async function shapeOf(scenario: string): Promise<(number | null)[][]> {
		const ago = scenario === LAST_YEAR ? 12 : 0;
		const query = new URLSearchParams({
			scenario: ago ? selection.scenario : scenario,
			department: selection.department,
			from: calendar.key(selection.from - ago),
			to: calendar.key(selection.to - ago)
		});
		const { rows: there } = await get<{ rows: Row[] }>(`plan?${query}`);
		const own = there.find((r) => r.account === spreading!.row.account);
		return [periods.map((_, i) => (typeof own?.cells[i] === 'number' ? own.cells[i] : null))];
	}
	function chooseBasis(row: GridRow) {
		const found = plan?.rows.find((r) => r.account === row.key);
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
			await invalidateAll();
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
			{#if plan.errors}<p class="errors">
					{plan.errors}
					{plan.errors === 1 ? 'cell holds' : 'cells hold'} an error; open it to see why.
				</p>{/if}
		</div>
		<div class="actions">
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
		{calendar}
		open={plan.open}
		figures={data.figures}
		edits={plan.right.editable ? edits : undefined}
		labelWidth={196}
		onopen={openFigure}
		onaction={chooseBasis}
		ontoggle={toggle}
		onspread={spreadTotal}
		onsay={(m) => notices.say(m)}
	/>
	<p class="hint muted">
		{#if plan.right.editable}White cells with a dotted line can be typed. <kbd>^</kbd> a figure typed over its
			basis; <kbd>Del</kbd> takes it away.{/if}
		<kbd>Space</kbd> opens what a figure is made of.
		<button class="empty" onclick={() => (showEmpty = !showEmpty)}
			>{showEmpty ? 'Hide empty accounts' : 'Show all accounts'}</button
		>
	</p>
	{#if spreading}
		<SpreadDialog
			title="{spreading.row.name}, {calendar.label(selection.from)} – {calendar.label(selection.to)}"
			typed={spreading.typed}
			rows={spreading.rows}
			format={spreading.row.format}
			decimals={entryDecimals(spreading.row.format, spreading.rows, company.data.company.decimals)}
			scenarios={[
				{ code: LAST_YEAR, name: 'last year' },
				...data.scenarios.filter((s) => s.code !== selection.scenario && s.kind !== 'actuals')
			]}
			{shapeOf}
			onapply={(list) => edits.apply(list)}
			onclose={() => (spreading = null)}
		/>
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
		display: flex;
		justify-content: space-between;
		align-items: end;
		gap: 16px;
		margin-bottom: 10px;
		flex-wrap: wrap;
	}
	.actions {
		display: flex;
		gap: 8px;
		align-items: center;
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
	.hint {
		padding-top: 6px;
		font-size: 12px;
	}
</style>
