<script lang="ts">
	import { sharesCode } from '$lib/core/blocks/schedule/schema';
	import { useModules } from '$lib/ui/kit/modules';
	import { counted } from '$lib/ui/writing/count';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import { untrack } from 'svelte';
	import { SvelteSet } from 'svelte/reactivity';
	import type { Basis } from '$lib/core/inputs/basis';
	import { ApiError, post } from '$lib/ui/kit/api';
	import { besideKey } from '$lib/ui/entry/beside';
	import EntryGrid from '$lib/ui/entry/EntryGrid.svelte';
	import { Entry } from '$lib/ui/entry/entry.svelte';
	import BesidePick from '$lib/ui/entry/BesidePick.svelte';
	import BasisDialog from '$lib/ui/accounts/BasisDialog.svelte';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import Dialog from '$lib/ui/kit/Dialog.svelte';
	import { ACCOUNTS_BLOCK } from '$lib/core/engine/spec';
	import { calendarOf } from '$lib/core/calendar/calendar-of';
	import { endOnto } from '$lib/core/calendar/onto';
	import { spanBefore } from '$lib/core/calendar/last-year';
	import { quartersOf } from '$lib/core/calendar/spans';
	import { day, widthOf } from '$lib/ui/writing/format';
	import { isMonth, nested } from '$lib/ui/grid/columns';
	import type { MenuItem } from '$lib/ui/kit/menu';
	import type { CellOf, GridColumn, GridRow } from '$lib/ui/grid/types';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import SaveBar from '$lib/ui/entry/SaveBar.svelte';
	import { sheet, type Opened } from '$lib/ui/figure/sheet.svelte';
	import { landingIn, trail } from '$lib/ui/figure/trail.svelte';
	import SubmitDialog from '$lib/ui/rounds/SubmitDialog.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import { rowsFromText } from '$lib/core/views/row-text';
	import { hasBasis } from '$lib/ui/accounts/basis';
	import { PlanCells } from '$lib/ui/accounts/cells.svelte';
	import { acrossOf, planColumns } from '$lib/ui/accounts/columns';
	import { PlanParts } from '$lib/ui/accounts/parts.svelte';
	import { PlanPreview } from '$lib/ui/accounts/preview.svelte';
	import {
		ARRANGEMENTS,
		cellRow,
		departmentsUnder,
		figuresOf,
		openedToFind,
		partKey,
		pathsFor,
		placeOf,
		planGridRows,
		toggleOf,
		type PlanArrangement
	} from '$lib/ui/accounts/rows';
	import type { PlanRow } from '$lib/core/views/plan-rows';
	import { gatherTotals, shapeOf, type PlanSpread } from '$lib/ui/accounts/spreading';
	import Choice from '$lib/ui/kit/form/Choice.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';

	let { data } = $props();
	const isOn = useModules();
	const company = useCompany();
	/** In whose periods the plan stands; the window is the company’s. */
	const calendar = $derived(data.plan ? calendarOf(data.plan.calendar) : company.calendar);
	const selection = $derived(data.selection);
	const plan = $derived(data.plan && { ...data.plan, rows: rowsFromText<PlanRow>(data.rows) });
	const scenario = $derived(data.scenarios.find((s) => s.code === selection.scenario));
	const department = $derived(data.departments.find((d) => d.code === selection.department));
	const folded = new SvelteSet<string>();
	const opened = new SvelteSet<string>();
	/** Words that rows are searched for: folded ones too. */
	let sought = $state('');
	const NONE: ReadonlySet<string> = new Set();
	/** Where nothing stands yet, all accounts are shown: one of them has to be the first. */
	const nothingYet = () =>
		plan !== null && plan.rows.every((r) => r.total === null && r.lastYear === null && !hasBasis(r.origin));
	let showEmpty = $state(untrack(nothingYet));
	$effect(() => {
		if (nothingYet()) showEmpty = true;
	});
	let choosing = $state.raw<{ account: string; department: string; name: string; basis: Basis } | null>(null);
	let submitting = $state(false);
	/** The department's notes are listed. */
	let listing = $state(false);

	const single = $derived(department?.leaf ?? false);
	const arrangement: PlanArrangement = $derived.by(() => {
		const asked = page.url.searchParams.get('arranged');
		return single ? 'accounts' : (ARRANGEMENTS.find((a) => a === asked) ?? 'accounts');
	});
	const children = $derived(departmentsUnder(data.departments, selection.department));
	const parts = new PlanParts();
	const otherParts = new PlanParts();
	const preview = new PlanPreview(company.calendar);
	const landing = $derived(landingIn(page.url));
	const asked = $derived(
		landing ? placeOf(landing.row, selection.department).account : page.url.searchParams.get('account')
	);

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
	const others = $derived(data.scenarios.filter((s) => s.code !== selection.scenario));
	/** The window as requests write it. */
	const months = $derived({
		from: company.calendar.key(selection.from),
		to: company.calendar.key(selection.to),
		money: selection.money
	});
	const entry: Entry<{ rows: PlanRow[] }, PlanSpread> = new Entry(company, {
		block: ACCOUNTS_BLOCK,
		get calendar() {
			return calendar;
		},
		get loaded() {
			return data.plan;
		},
		get others() {
			return others;
		},
		pathOf(scenario) {
			const { department } = selection;
			return `plan?${new URLSearchParams({ ...months, scenario, department, like: selection.scenario })}`;
		},
		rowOf: ({ line, row }) => cellRow(line, row, selection.department),
		placeOf(row) {
			const { account, department } = placeOf(row, selection.department);
			return { line: account, row: department };
		},
		get scenario() {
			return selection.scenario;
		},
		named: ({ line, row }) => ({
			name: `${accountName(line)}${single ? '' : `, ${departmentName(row)}`}`,
			format: 'money'
		}),
		get landing() {
			if (landing?.month) return landing;
			const { from, to } = entry.window;
			const first = calendar.key(Math.min(to, Math.max(plan?.open ?? 0, from)));
			return asked === null ? null : { row: landing?.row ?? asked, month: first };
		},
		async gather(chosen, typed) {
			const wanted = chosen.flatMap(({ row, column }) => {
				const place = figuresOf(row.key, selection.department);
				if (!place) return [];
				const department = acrossOf(column) ?? place.department;
				return [{ ...place, department, span: column.span ?? entry.window }];
			});
			if (!wanted.length) return null;
			return gatherTotals(wanted, {
				scenario: selection.scenario,
				calendar,
				company: company.calendar,
				isOpen: cells.isOpen,
				edit: ({ account, department }, period) => entry.editAt({ line: account, row: department }, period),
				key: ({ account, department }) => cellRow(account, department, selection.department),
				account: accountName,
				department: (code) => (code === selection.department ? '' : departmentName(code)),
				reporting: plan!.money === 'reporting',
				typed
			});
		},
		shapeOf: (spread, scenario) =>
			shapeOf(spread, scenario, selection.scenario, { calendar, company: company.calendar })
	});
	const { edits, beside, saving } = entry;
	const { other, window, spans } = $derived(entry);
	const quarters = $derived(quartersOf(calendar, window));
	const otherRows = $derived(
		beside.data &&
			new Map([
				...otherParts.rows,
				...beside.data.rows.map((r) => [partKey(r.account, r.department), r] as const)
			])
	);
	/** Rows of single departments are opened. */
	const anyBases = $derived([...parts.rows.values()].some((r) => r.origin !== null));
	const columns = $derived(
		planColumns({
			calendar,
			spans,
			across: arrangement === 'across' ? children : null,
			beside: arrangement === 'across' ? [] : entry.besideColumns(monthWidth),
			bases: single || (arrangement !== 'across' && anyBases),
			onTop: single,
			targets: plan?.target != null,
			monthWidth,
			totalWidth
		})
	);

	const departmentName = (code: string) => data.departments.find((d) => d.code === code)?.name ?? code;
	const accountName = (code: string) => data.accounts.find((a) => a.code === code)?.name ?? code;
	const drivers = $derived([...(plan?.drivers ?? []), ...parts.drivers]);
	const cells = new PlanCells({
		get plan() {
			return plan;
		},
		get department() {
			return { code: selection.department, leaf: single };
		},
		get calendar() {
			return calendar;
		},
		get window() {
			return window;
		},
		get spans() {
			return spans;
		},
		get quarters() {
			return quarters;
		},
		edits,
		parts,
		preview,
		get other() {
			return (
				other && {
					name: other.name,
					last: endOnto(calendar, company.calendar, other.last),
					rows: otherRows,
					difference: beside.difference
				}
			);
		},
		names: {
			account: accountName,
			model: (code) =>
				data.models.find((m) => m.code === code)?.name ?? scheduleOf(code)?.name ?? 'Calculated elsewhere',
			// Its model stands in the list to choose from.
			driver: (code) => (drivers.find((d) => d.code === code)?.name ?? code).replace(/^.*: /, '')
		},
		get leads() {
			return data.may['see driver models'] === true;
		}
	});
	const cell: CellOf = (row, column) => cells.at(row, column);
	const openedNow = $derived.by((): ReadonlySet<string> => {
		if (arrangement !== 'departments' || !plan || !department) return opened;
		const about = { departments: data.departments, selected: department, accounts: plan.rows };
		return new Set([...opened, ...openedToFind(about, sought)]);
	});
	const tree = $derived({
		departments: data.departments,
		selected: department!,
		accounts: plan?.rows ?? [],
		row: (account: string, department: string) => cells.row(account, department),
		folded: sought ? NONE : folded,
		opened: openedNow,
		shown: (r: PlanRow) =>
			showEmpty ||
			asked === r.account ||
			r.total !== null ||
			r.lastYear !== null ||
			hasBasis(r.origin) ||
			edits.list.some((e) => e.row === cellRow(r.account, r.department, selection.department))
	});
	/** Nested, so that a row that is found stands under what it belongs to. */
	const rows: GridRow[] = $derived(
		plan ? nested(planGridRows(tree, arrangement).map((row) => ({ depth: row.indent ?? 0, row }))) : []
	);

	// Another department has other rows to open.
	const shownDepartment = $derived(selection.department);
	$effect(() => {
		void shownDepartment;
		untrack(() => opened.clear());
	});
	$effect(() => {
		if (!plan) return;
		const paths = pathsFor(tree, arrangement);
		const [own, others] = [
			{ ...months, scenario: selection.scenario },
			other && { ...months, scenario: other.code, like: selection.scenario }
		];
		const version = data.plan;
		untrack(() => {
			parts.want(version, own, paths);
			otherParts.want(version, others ?? own, others ? paths : []);
		});
	});
	/** What is typed is worked out with all that rests on it. */
	$effect(() => {
		const typed = entry.typed.map((cell) => ({ ...cell, period: calendar.key(cell.period) }));
		const read = new Map<string, string[]>();
		for (const { account, department } of parts.rows.values())
			read.set(department, [...(read.get(department) ?? []), account]);
		const shown = [
			{ department: selection.department, accounts: null },
			...[...read].map(([department, accounts]) => ({ department, accounts }))
		];
		const { scenario, from, to, money } = selection;
		void data.plan;
		untrack(() => preview.show({ scenario, from, to, money }, typed, shown));
	});

	function toggle(row: GridRow) {
		const toggled = toggleOf(row, selection.department);
		const [set, key] = 'folds' in toggled ? [folded, toggled.folds] : [opened, toggled.opens];
		if (set.has(key)) set.delete(key);
		else set.add(key);
	}
	/** The figure behind a cell, and in which scenario it stands. */
	function figureAt(row: GridRow, column: GridColumn): Opened | null {
		const place = figuresOf(row.key, selection.department);
		if (!place) return null;
		const { from, to } = column.span ?? (column.key === 'lastYear' ? spanBefore(calendar, window) : window);
		const ofOther = besideKey(column.key) !== null && other && !beside.difference ? other.code : undefined;
		const ofTarget = column.key === 'target' ? plan?.target?.code : undefined;
		return {
			scenario: ofOther ?? ofTarget ?? selection.scenario,
			ref: {
				kind: 'account',
				account: place.account,
				department: acrossOf(column) ?? place.department,
				from,
				to,
				money: selection.money
			}
		};
	}
	function openFigure(row: GridRow, column: GridColumn) {
		const figure = figureAt(row, column);
		if (figure) sheet.open(figure);
	}
	function followFigure(row: GridRow, column: GridColumn) {
		const figure = figureAt(row, column);
		if (figure) void trail.follow(company, figure.scenario, figure.ref, { row: row.key, month: column.key });
	}
	function openNotes(account: string, department: string, period: number) {
		sheet.open({
			scenario: selection.scenario,
			ref: { kind: 'account', account, department, from: period, to: period },
			tab: 'notes'
		});
	}
	function menu(row: GridRow, column: GridColumn): MenuItem[] {
		const place = figuresOf(row.key, selection.department);
		if (!place || !column.span || !isMonth(column.span)) return [];
		const { from } = column.span;
		return [
			{
				label: 'Notes, items, attachments',
				act: () => openNotes(place.account, place.department, from)
			}
		];
	}

	function arrange(wanted: string) {
		const url = new URL(page.url);
		if (wanted === 'accounts') url.searchParams.delete('arranged');
		else url.searchParams.set('arranged', wanted);
		void goto(url, { keepFocus: true, noScroll: true, replaceState: true });
	}
	/** What posts is a schedule, or its shares where it has departments. */
	const scheduleOf = (block: string) =>
		data.schedules.find((s) => [s.code, sharesCode(s.code)].includes(block));
	function chooseBasis(row: GridRow) {
		const found = cells.rowOf(row.key);
		if (found?.origin?.kind === 'posted') {
			const [code] = found.origin.models;
			const schedule = scheduleOf(code);
			const path = schedule ? `/plan/schedules/${schedule.code}` : `/drivers/${code}`;
			void goto(withSelection(path, selection, company.calendar));
		} else if (found?.origin?.kind === 'basis') choosing = { ...found, basis: found.origin.basis };
	}

	async function saveBasis(basis: Basis) {
		if (!choosing) return;
		try {
			await post('plan/basis', {
				scenario: selection.scenario,
				department: choosing.department,
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
		const list = [shown.currency ?? 'each in its own currency: amounts in several have no sum'];
		const through = chosen.kind === 'actuals' ? chosen.actualsThrough : shown.open - 1;
		if (through !== null && through >= selection.from)
			list.push(`actuals through ${calendar.longLabel(through)}`);
		const submission = shown.right.submission;
		if (submission) list.push(`submission ${submission.state}, due ${day(submission.due)}`);
		if (!shown.right.editable && (single || !shown.plans)) list.push(shown.right.reason);
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
			<div class="beside">
				{#if !single}
					<label
						>Arranged by
						<Choice value={arrangement} onpick={(v) => arrange(v)}>
							<option value="accounts">accounts, then departments</option>
							<option value="departments">departments, then accounts</option>
							<option value="across">accounts, departments across</option>
						</Choice>
					</label>
				{/if}
				{#if arrangement !== 'across'}<BesidePick {beside} scenarios={others} />{/if}
			</div>
			{#if plan.errors}<p class="errors">
					{counted(plan.errors, 'cell holds', 'cells hold')} an error; open it to see why.
				</p>{/if}
		</div>
		<div class="actions">
			{#if company.data.schedules.length || company.data.may['see schedules']}<Button
					quiet
					href={withSelection('/plan/schedules', selection, company.calendar)}>Schedules</Button
				>{/if}
			{#if isOn('targets')}<Button quiet href={withSelection('/plan/targets', selection, company.calendar)}
					>Targets</Button
				>{/if}
			{#if plan.plans}<SaveBar {edits} saving={saving.busy} onsave={() => saving.save()} />{/if}
			{#if canSubmit}<Button quiet disabled={edits.count > 0} onclick={() => (submitting = true)}
					>Submit …</Button
				>{/if}
		</div>
	</div>
	<EntryGrid
		{entry}
		editable={plan.plans}
		label="Plan of {department?.name}"
		head={arrangement === 'departments' ? 'Department' : 'Account'}
		{columns}
		{rows}
		{cell}
		open={plan.open}
		labelWidth={arrangement === 'departments' ? 236 : 196}
		onopen={openFigure}
		onfollow={followFigure}
		onfind={(words) => (sought = words)}
		onaction={chooseBasis}
		ontoggle={toggle}
		{menu}
	>
		<p class="hint muted">
			{#if plan.right.editable}Cells with a dotted line can be typed. <kbd>^</kbd> a figure typed over its
				basis; <kbd>Del</kbd> takes it away.{/if}
			{#if !single && plan.plans}Totals with a dashed line can be typed: they are spread over the departments
				under them.{/if}
			<kbd>Space</kbd> opens what a figure is made of, with its notes.
			{#if plan.marks.length}<TextButton onclick={() => (listing = true)}
					>{counted(plan.marks.length, 'cell')} with notes or items</TextButton
				>{/if}
			<TextButton class="float-right" onclick={() => (showEmpty = !showEmpty)}
				>{showEmpty ? 'Hide empty accounts' : 'Show all accounts'}</TextButton
			>
		</p>
	</EntryGrid>
	{#if listing}
		<Dialog
			title="Notes and items of {department?.name}"
			action="Done"
			size="md"
			reads
			onaction={() => (listing = false)}
			onclose={() => (listing = false)}
		>
			<ul class="marks">
				{#each plan.marks as m (`${m.line}/${m.period}`)}
					<li>
						<TextButton
							onclick={() => {
								listing = false;
								entry.grid?.goTo(m.line, calendar.key(m.period));
								openNotes(m.line, selection.department, m.period);
							}}>{accountName(m.line)}, {calendar.label(m.period)}</TextButton
						>
						<span>{m.last || `${m.items} items`}</span>
					</li>
				{/each}
			</ul>
		</Dialog>
	{/if}
	{#if choosing}
		<BasisDialog
			name={choosing.department === selection.department
				? choosing.name
				: `${choosing.name}, ${departmentName(choosing.department)}`}
			account={choosing.account}
			basis={choosing.basis}
			accounts={plan.rows.filter((r) => r.leaf).map((r) => ({ code: r.account, name: r.name }))}
			drivers={plan.choosesDrivers ? drivers : []}
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

<style>
	.top {
		flex-wrap: wrap;
	}
	.beside label {
		display: flex;
		gap: 6px;
		align-items: center;
		color: var(--ink-2);
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
</style>
