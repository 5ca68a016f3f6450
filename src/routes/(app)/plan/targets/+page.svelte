<script lang="ts">
	import { digits } from '$lib/ui/writing/count';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import { calendarOf } from '$lib/core/calendar/calendar-of';
	import { spanOnto } from '$lib/core/calendar/onto';
	import { gapTo } from '$lib/core/analysis/targets';
	import { ACCOUNTS_BLOCK } from '$lib/core/engine/spec';
	import { saveCells } from '$lib/ui/entry/saving.svelte';
	import { ApiError, patch, post } from '$lib/ui/kit/api';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import { share, widthOf } from '$lib/ui/writing/format';
	import Grid from '$lib/ui/grid/Grid.svelte';
	import { type Edit, EditBatch } from '$lib/ui/grid/editing/edits.svelte';
	import type { CellOf, GridColumn, GridRow } from '$lib/ui/grid/types';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { sheet } from '$lib/ui/figure/sheet.svelte';
	import { partKey, placeOf } from '$lib/ui/accounts/rows';
	import { gatherTotals, shapeOf, type PlanSpread } from '$lib/ui/accounts/spreading';
	import { CannotSpread } from '$lib/ui/entry/spread';
	import SpreadDialog from '$lib/ui/entry/SpreadDialog.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import Choice from '$lib/ui/kit/form/Choice.svelte';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	const selection = $derived(data.selection);
	const view = $derived(data.targets);
	const scenario = $derived(data.scenarios.find((s) => s.code === selection.scenario));
	/** In whose periods the targets stand. */
	const own = $derived(view ? calendarOf(view.calendar) : calendar);
	/** What the figures are in: one currency for all, or each department's own. */
	const rowsIn = $derived.by(() => {
		const all = new Set((view?.rows ?? []).map((r) => r.currency));
		return all.size === 1 ? ([...all][0] ?? '') : 'each in its own currency';
	});
	const mayChange = $derived(data.may['change scenarios']);
	let line = $state('');
	let busy = $state(false);
	const lines = $derived((view?.lines ?? []).filter((l) => !line || l.account === line));
	const indexOf = (account: string) => view!.lines.findIndex((l) => l.account === account);
	const width = $derived(
		widthOf(
			(view?.rows ?? []).flatMap((r) => r.cells.flatMap((c) => [c.target, c.plan])),
			data.figures
		)
	);
	const BETWEEN = '/';
	const columns: GridColumn[] = $derived(
		lines.flatMap(({ account, name }): GridColumn[] => {
			const column = (key: string, label: string, more: Partial<GridColumn> = {}): GridColumn => ({
				key: `${account}${BETWEEN}${key}`,
				label,
				group: name,
				width,
				kind: 'figure',
				...more
			});
			return [
				column('target', 'Target', { apart: true }),
				column('plan', 'Plan'),
				column('gap', 'Gap'),
				column('percent', '%', { kind: 'text', align: 'right', width: 58 })
			];
		})
	);
	const rows: GridRow[] = $derived(
		(view?.rows ?? []).map((r) => ({
			key: r.department,
			label: rowsIn === r.currency || r.currency === null ? r.name : `${r.name}, ${r.currency}`,
			indent: r.depth,
			kind: r.leaf ? 'leaf' : 'total',
			format: 'money'
		}))
	);
	const byDepartment = $derived(new Map((view?.rows ?? []).map((r) => [r.department, r])));
	const TONES = { favourable: 'good', unfavourable: 'bad', neutral: undefined } as const;
	const asked = (column: GridColumn) => {
		const [account, what] = column.key.split(BETWEEN);
		return { line: view!.lines[indexOf(account)], what };
	};
	const cell: CellOf = (gridRow, column) => {
		const row = byDepartment.get(gridRow.key);
		if (!row) return undefined;
		const { line, what } = asked(column);
		const { target, plan } = row.cells[indexOf(line.account)];
		const { gap, percent, verdict } = gapTo(plan, target, line.type);
		switch (what) {
			case 'target':
				return {
					value: target,
					spreads: row.editable && line.spreads && spanOnto(own, calendar, selection).to >= view!.open,
					reason: !row.editable
						? row.reason
						: 'This line mixes revenue and expense; type into the lines it is made of.'
				};
			case 'plan':
				return { value: plan, reason: 'This is what the departments plan; it is typed in their plans.' };
			case 'gap':
				return { value: gap, tone: TONES[verdict], reason: 'Plan less target; it is calculated.' };
			default:
				return {
					value: null,
					text: percent === null || verdict === 'neutral' ? '' : share(percent),
					tone: TONES[verdict]
				};
		}
	};
	function openFigure(row: GridRow, column: GridColumn) {
		const { line, what } = asked(column);
		if (what === 'gap' || what === 'percent') return;
		const { from, to } = selection;
		sheet.open({
			scenario: what === 'target' ? view!.target!.code : selection.scenario,
			ref: { kind: 'account', account: line.account, department: row.key, from, to, money: selection.money }
		});
	}

	// Nothing is kept here unsaved: what is spread is saved at once, and can be taken back.
	const none = new EditBatch();
	let spreading = $state.raw<PlanSpread | null>(null);
	const nameIn = (list: readonly { code: string; name: string }[]) => (code: string) =>
		list.find((x) => x.code === code)?.name ?? code;

	async function spreadCells(cells: { row: GridRow; column: GridColumn }[], typed: number | null) {
		if (cells.length !== 1) {
			notices.say('Targets are set one at a time: choose one department and one line.');
			return;
		}
		const [{ row, column }] = cells;
		const { line } = asked(column);
		const { open, last, target } = view!;
		try {
			const gathered = await gatherTotals(
				[{ account: line.account, department: row.key, span: spanOnto(own, calendar, selection) }],
				{
					scenario: target!.code,
					besides: selection.scenario,
					calendar: own,
					company: calendar,
					isOpen: (period) => period >= open && period <= last,
					edit: () => undefined,
					key: ({ account, department }) => partKey(account, department),
					account: nameIn(data.accounts),
					department: nameIn(data.departments),
					reporting: byDepartment.get(row.key)!.currency === data.company.currency,
					typed
				}
			);
			spreading = { ...gathered, title: `Target: ${line.name}, ${row.label}` };
		} catch (e) {
			notices.say(
				e instanceof CannotSpread || e instanceof ApiError ? e.message : 'The targets could not be read.',
				true
			);
		}
	}
	async function save(edits: Edit[]) {
		const target = view!.target!;
		try {
			const { saved, batch } = await saveCells(
				target.code,
				edits.map(({ row, column, before, value }) => {
					const { account, department } = placeOf(row, selection.department);
					return { block: ACCOUNTS_BLOCK, line: account, row: department, period: column, before, value };
				})
			);
			await reread();
			notices.say(`The target is saved, in ${digits(saved)} cells.`, false, {
				label: 'Undo',
				run: async () => {
					await post(`scenarios/${target.code}/history/undo`, { batch });
					await reread();
				}
			});
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'This was not saved.', true);
		}
	}
	/** A set of targets that begins as the plan stands now. */
	async function make() {
		busy = true;
		try {
			const { code } = await post<{ code: string }>('scenarios', {
				from: selection.scenario,
				name: `${scenario!.name} targets`,
				kind: 'target',
				notes: false
			});
			await patch(`scenarios/${selection.scenario}`, { target: code });
			await reread();
			notices.say('Targets are made. They begin as the plan stands now.');
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'The targets could not be made.', true);
		} finally {
			busy = false;
		}
	}
</script>

<svelte:head><title>Targets · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>Targets{scenario ? ` of ${scenario.name}` : ''}</h1>
		{#if view?.target}<p class="muted">
				{[
					rowsIn,
					calendar.label(selection.from) + ' – ' + calendar.label(selection.to),
					`set in ${view.target.name}`
				].join(' · ')}
			</p>{/if}
	</div>
	<div class="actions">
		{#if view?.target}
			<label
				>Line <Choice class="choice" bind:value={line}>
					<option value="">all</option>
					{#each view.lines as l (l.account)}<option value={l.account}>{l.name}</option>{/each}
				</Choice></label
			>
		{/if}
		<Button quiet href={withSelection('/plan', selection, calendar)}>To the plan</Button>
	</div>
</div>
{#if !view || !scenario || scenario.kind === 'actuals'}
	<p class="muted">Targets are set for a budget or a forecast. Choose one above.</p>
{:else if !view.target}
	<div class="none">
		<p>{scenario.name} has no targets yet.</p>
		{#if mayChange}
			<p class="muted">
				Targets are a scenario of their own, set top-down. Made here, they begin as the plan stands now,
				account by account; then type what a department is to reach. A scenario that is there already is
				chosen under Forecast, in the menu of {scenario.name}.
			</p>
			<Button size="md" disabled={busy} onclick={make}>{busy ? 'Making …' : 'Make targets'}</Button>
		{/if}
	</div>
{:else}
	<Grid
		label="Targets of {scenario.name}"
		head="Department"
		{columns}
		{rows}
		{cell}
		{calendar}
		seeks
		open={view.open}
		figures={data.figures}
		edits={view.rows.some((r) => r.editable) ? none : undefined}
		labelWidth={210}
		onopen={openFigure}
		onspread={spreadCells}
		onsay={(m) => notices.say(m)}
	/>
	<p class="hint muted">
		Gap is plan less target. A target with a dashed line can be typed: it is spread into the accounts,
		departments and {calendar.words.many} under it. <kbd>Space</kbd> opens what a figure is made of.
	</p>
{/if}
{#if spreading && view?.target}
	<SpreadDialog
		calendar={own}
		title={spreading.title}
		typed={spreading.typed}
		rows={spreading.rows}
		format="money"
		decimals={company.data.company.decimals}
		hint={spreading.hint}
		scenarios={data.scenarios.filter((s) => s.code !== view.target!.code && s.kind !== 'actuals')}
		shapeOf={(code) => shapeOf(spreading!, code, view!.target!.code, { calendar: own, company: calendar })}
		onapply={(list) => void save(list)}
		onclose={() => (spreading = null)}
	/>
{/if}

<style>
	.none {
		display: grid;
		justify-items: start;
		gap: 10px;
		max-width: 640px;
	}
</style>
