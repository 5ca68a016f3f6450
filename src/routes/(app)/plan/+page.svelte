<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { Button } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import { SvelteSet } from 'svelte/reactivity';
	import type { Cell } from '$lib/core/engine/values';
	import type { Basis } from '$lib/core/model/schema';
	import { ApiError, post } from '$lib/ui/api';
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
	import { sheet, type Opened } from '$lib/ui/sheet.svelte';
	import { landingIn, trail } from '$lib/ui/trail.svelte';
	import { entryDecimals } from '$lib/ui/spread';
	import SpreadDialog from '$lib/ui/SpreadDialog.svelte';
	import SubmitDialog from '$lib/ui/SubmitDialog.svelte';
	import { reread } from '$lib/ui/reread';
	import { PlanParts } from '$lib/ui/plan/parts.svelte';
	import { PlanPreview } from '$lib/ui/plan/preview.svelte';
	import {
		ARRANGEMENTS,
		cellRow,
		departmentsUnder,
		figuresOf,
		partKey,
		pathsFor,
		placeOf,
		planGridRows,
		toggleOf,
		type PlanArrangement
	} from '$lib/ui/plan/rows';
	import type { PlanRow } from '$lib/core/plan/plan-rows';
	import { CannotSpread, gatherTotals, LAST_YEAR, shapeOf, type PlanSpread } from '$lib/ui/plan/spreading';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	const selection = $derived(data.selection);
	const plan = $derived(data.plan);
	const scenario = $derived(data.scenarios.find((s) => s.code === selection.scenario));
	const department = $derived(data.departments.find((d) => d.code === selection.department));
	const edits = new EditBatch();
	const folded = new SvelteSet<string>();
	const opened = new SvelteSet<string>();
	/** Rows are searched for: folded ones too. */
	let finding = $state(false);
	const NONE: ReadonlySet<string> = new Set();
	let showEmpty = $state(false);
	let choosing = $state<{ account: string; name: string; basis: Basis } | null>(null);
	let spreading = $state.raw<PlanSpread | null>(null);
	const folds = new Folds(calendar);
	let submitting = $state(false);
	/** The department's notes are listed. */
	let listing = $state(false);
	let grid: Grid | undefined = $state();

	const single = $derived(department?.leaf ?? false);
	const arrangement: PlanArrangement = $derived.by(() => {
		const asked = page.url.searchParams.get('arranged');
		return single ? 'accounts' : (ARRANGEMENTS.find((a) => a === asked) ?? 'accounts');
	});
	const children = $derived(departmentsUnder(data.departments, selection.department));
	const parts = new PlanParts();
	const otherParts = new PlanParts();
	const preview = new PlanPreview();
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
	const window = $derived({ from: selection.from, to: selection.to });
	const quarters = $derived(quartersOf(calendar, window));
	const spans = $derived(columnSpans(calendar, window, (first) => folds.has(first)));
	const beside = new Beside<{ rows: PlanRow[] }>();
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
	const otherRow = ({ account, department }: PlanRow) =>
		department === selection.department
			? otherRows.get(account)
			: otherParts.rows.get(partKey(account, department));
	/** What stands in a column of months or the total. */
	function valueAt(row: PlanRow | undefined, key: string): Cell {
		if (!row) return null;
		if (key === 'total') return row.total;
		const span = spans.find((s) => spanColumn(calendar, s, 0).key === key)!;
		return isMonth(span)
			? row.cells[span.from - selection.from]
			: row.quarters[quarters.findIndex((q) => q.from === span.from)];
	}
	/** Before a department's code, in the name of its column. */
	const ACROSS = 'department/';
	const acrossOf = ({ key }: GridColumn) => (key.startsWith(ACROSS) ? key.slice(ACROSS.length) : undefined);
	const columns: GridColumn[] = $derived([
		{ key: 'shape', label: 'Shape', width: 68, kind: 'shape' },
		...(single ? [{ key: 'basis', label: 'Basis', width: 118, kind: 'text' } as GridColumn] : []),
		...(arrangement === 'across'
			? children.map((d): GridColumn => ({
					key: ACROSS + d.code,
					label: d.name,
					width: Math.max(totalWidth, 12 + 7 * d.name.length),
					kind: 'figure'
				}))
			: spans.map((span) => spanColumn(calendar, span, isMonth(span) ? monthWidth : totalWidth))),
		{ key: 'total', label: 'Total', width: totalWidth, kind: 'figure', apart: true },
		...(other && arrangement !== 'across' ? beside.columns(calendar, spans, other.name, monthWidth) : []),
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

	const departmentName = (code: string) => data.departments.find((d) => d.code === code)?.name ?? code;
	const accountName = (code: string) => data.accounts.find((a) => a.code === code)?.name ?? code;
	const percent = (v: number) => `${v < 0 ? '−' : '+'}${Number(Math.abs(v * 100).toPrecision(6))} %`;
	/** A driver's line; its model stands in the list to choose from. */
	const driverName = (code: string) =>
		(plan?.drivers.find((d) => d.code === code)?.name ?? code).replace(/^.*: /, '');
	function basisWords(row: PlanRow): string {
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
	const hasBasis = (row: PlanRow) =>
		row.origin !== null && (row.origin.kind === 'posted' || row.origin.basis.kind !== 'typed');

	/**
	 * Months of a row with what is typed and not saved, until the preview says it with all that rests on it; null where
	 * only that can tell what a basis gives.
	 */
	function typedSum(row: PlanRow, from: number, to: number): number | null {
		if (!row.leaf || !row.sums || !row.typed) return null;
		const own = cellRow(row.account, row.department, selection.department);
		const typed = edits.list.filter((e) => e.row === own);
		if (!typed.length) return null;
		const by = new Map(typed.map((e) => [e.column, e.value]));
		let [sum, changed] = [0, false];
		for (let p = from; p <= to; p++) {
			const own = by.get(calendar.key(p));
			if (own === null) return null;
			const cell = row.cells[p - selection.from];
			if (own !== undefined) changed = true;
			sum += own ?? (typeof cell === 'number' ? cell : 0);
		}
		return changed ? sum : null;
	}
	/** Months of a row together, as saved or as they would be. */
	function sumOf(row: PlanRow, of: (row: PlanRow) => Cell, from: number, to: number) {
		const quick = preview.current ? null : typedSum(row, from, to);
		const value = quick ?? of(preview.rows.get(partKey(row.account, row.department)) ?? row);
		return { value, preview: value !== of(row) };
	}
	const isOpen = (period: number) => period >= plan!.open && period <= plan!.last;
	const rightTo = (department: string) =>
		department === selection.department
			? plan!.right
			: (parts.rights.get(department) ?? { editable: false, reason: 'This row is still being read.' });
	/** Groups of accounts in which all are of one type: their sum can be spread. */
	const alike = $derived.by(() => {
		const rows = plan?.rows ?? [];
		const found = new Set<string>();
		for (const [i, group] of rows.entries()) {
			const end = rows.findIndex((r, j) => j > i && r.depth <= group.depth);
			const under = rows.slice(i + 1, end < 0 ? undefined : end);
			if (group.type !== 'statistical' && group.type !== 'rate' && under.every((r) => r.type === group.type))
				found.add(group.account);
		}
		return found;
	});
	/** What a driver model posts is changed there. */
	const spreadable = (row: PlanRow) =>
		plan!.plans &&
		row.sums &&
		row.open &&
		(row.leaf || alike.has(row.account)) &&
		(row.origin === null || rightTo(row.department).editable);

	function monthCell(row: PlanRow, period: number): GridCell {
		const i = period - selection.from;
		const shown = preview.rows.get(partKey(row.account, row.department));
		const value = (shown ?? row).cells[i];
		const typed = row.typed?.[i] ?? null;
		const own = row.typed !== null;
		const right = rightTo(row.department);
		const posted = row.origin?.kind === 'posted';
		return {
			value,
			typed,
			under: typed !== null && typed !== row.cells[i] ? typed : undefined,
			without: shown?.cells[i],
			at: {
				row: cellRow(row.account, row.department, selection.department),
				column: calendar.key(period)
			},
			preview: value !== row.cells[i],
			editable: own && right.editable && isOpen(period),
			spreads: !own && spreadable(row) && isOpen(period),
			override: typed !== null && hasBasis(row),
			glyphs: single ? glyphsOf(row.account, period) : undefined,
			title: !own
				? undefined
				: period < plan!.open
					? `${exact(value, row.format)} · closed`
					: right.editable
						? posted
							? `${exact(value, row.format)} · from ${basisWords(row)}`
							: undefined
						: right.reason,
			reason: !own
				? !plan!.plans
					? plan!.right.reason
					: `A total of the ${row.leaf ? 'departments' : 'accounts'} under it; type into ${spreadable(row) ? 'it alone to spread it, or into those' : 'those'}.`
				: !right.editable
					? right.reason
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
		const row = rowOf(gridRow.key);
		if (!row) return undefined;
		const total = () => sumOf(row, (r) => r.total, selection.from, selection.to);
		const asked = besideKey(column.key);
		if (asked !== null) {
			const theirs = valueAt(otherRow(row), asked);
			return {
				value:
					beside.data && other
						? besideValue(valueAt(row, asked), theirs, beside.difference, column.span ?? window, other)
						: null,
				reason: `${other?.name ?? 'The other scenario'} is shown to compare with; choose it above to change it.`
			};
		}
		if (column.span) {
			const { span } = column;
			if (isMonth(span)) return monthCell(row, span.from);
			const at = quarters.findIndex((q) => q.from === span.from);
			return {
				...sumOf(row, (r) => r.quarters[at], span.from, span.to),
				spreads: spreadable(row) && isOpen(span.to)
			};
		}
		const across = acrossOf(column);
		if (across !== undefined) {
			const part = parts.rows.get(partKey(row.account, across));
			if (!part) return { value: null };
			return {
				...sumOf(part, (r) => r.total, selection.from, selection.to),
				spreads: spreadable(part) && selection.to >= plan!.open
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
	const rowIn = (account: string, department: string): PlanRow | undefined =>
		department === selection.department
			? byAccount.get(account)
			: parts.rows.get(partKey(account, department));
	/** The saved figures of a row of the grid. */
	function rowOf(key: string): PlanRow | undefined {
		const place = figuresOf(key, selection.department);
		return place ? rowIn(place.account, place.department) : undefined;
	}
	const tree = $derived({
		departments: data.departments,
		selected: department!,
		accounts: plan?.rows ?? [],
		row: rowIn,
		folded: finding ? NONE : folded,
		opened,
		shown: (r: PlanRow) =>
			showEmpty ||
			asked === r.account ||
			r.total !== null ||
			r.lastYear !== null ||
			hasBasis(r) ||
			edits.list.some((e) => e.row === cellRow(r.account, r.department, selection.department))
	});
	const rows: GridRow[] = $derived(plan ? planGridRows(tree, arrangement) : []);

	// Another department has other rows to open.
	const shownDepartment = $derived(selection.department);
	$effect(() => {
		void shownDepartment;
		untrack(() => opened.clear());
	});
	$effect(() => {
		if (!plan) return;
		const paths = pathsFor(tree, arrangement);
		const about = (scenario: string) => ({
			scenario,
			from: calendar.key(selection.from),
			to: calendar.key(selection.to)
		});
		const [own, others] = [about(selection.scenario), other && about(other.code)];
		const version = data.plan;
		untrack(() => {
			parts.want(version, own, paths);
			otherParts.want(version, others ?? own, others ? paths : []);
		});
	});
	/** What is typed is worked out with all that rests on it. */
	$effect(() => {
		const typed = edits.list.map((e) => ({
			...placeOf(e.row, selection.department),
			period: calendar.parse(e.column)!,
			value: e.value
		}));
		const read = new Map<string, string[]>();
		for (const { account, department } of parts.rows.values())
			read.set(department, [...(read.get(department) ?? []), account]);
		const shown = [
			{ department: selection.department, accounts: null },
			...[...read].map(([department, accounts]) => ({ department, accounts }))
		];
		const { scenario, from, to } = selection;
		void data.plan;
		untrack(() => preview.show({ scenario, from, to }, typed, shown));
	});

	// Leads to the account the address asks for.
	$effect(() => {
		if (!asked || !grid) return;
		const month =
			landing?.month || calendar.key(Math.min(selection.to, Math.max(plan?.open ?? 0, selection.from)));
		untrack(() => grid?.goTo(landing?.row ?? asked, month));
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
		const { from, to } =
			column.span ?? (column.key === 'lastYear' ? { from: window.from - 12, to: window.to - 12 } : window);
		const ofOther = besideKey(column.key) !== null && other && !beside.difference ? other.code : undefined;
		const ofTarget = column.key === 'target' ? plan?.target?.code : undefined;
		return {
			scenario: ofOther ?? ofTarget ?? selection.scenario,
			ref: {
				kind: 'account',
				account: place.account,
				department: acrossOf(column) ?? place.department,
				from,
				to
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

	/** A total was typed, or cells are to be changed together: all cells under them are what it is spread into. */
	async function spreadCells(cells: { row: GridRow; column: GridColumn }[], typed: number | null) {
		const wanted = cells.flatMap(({ row, column }) => {
			const place = figuresOf(row.key, selection.department);
			if (!place) return [];
			const department = acrossOf(column) ?? place.department;
			return [{ ...place, department, span: column.span ?? window }];
		});
		if (!wanted.length) return;
		try {
			spreading = await gatherTotals(wanted, {
				scenario: selection.scenario,
				calendar,
				isOpen,
				edit: ({ account, department }, period) =>
					edits.at(cellRow(account, department, selection.department), calendar.key(period)),
				key: ({ account, department }) => cellRow(account, department, selection.department),
				account: accountName,
				department: (code) => (code === selection.department ? '' : departmentName(code)),
				typed
			});
		} catch (e) {
			notices.say(
				e instanceof CannotSpread || e instanceof ApiError
					? e.message
					: 'The cells under it could not be read.',
				e instanceof ApiError
			);
		}
	}
	function arrange(wanted: string) {
		const url = new URL(page.url);
		if (wanted === 'accounts') url.searchParams.delete('arranged');
		else url.searchParams.set('arranged', wanted);
		void goto(url, { keepFocus: true, noScroll: true, replaceState: true });
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
				...placeOf(e.row, selection.department),
				period: calendar.parse(e.column),
				before: e.before,
				value: e.value
			}))
		}),
		cellOf: (c) => ({
			row: cellRow(c.edit.line, c.edit.row, selection.department),
			column: calendar.key(c.edit.period)
		}),
		view: (c) => ({
			name: `${accountName(c.edit.line)}${single ? '' : `, ${departmentName(c.edit.row)}`}, ${calendar.label(c.edit.period)}`,
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
						<select class="field" value={arrangement} onchange={(e) => arrange(e.currentTarget.value)}>
							<option value="accounts">accounts, then departments</option>
							<option value="departments">departments, then accounts</option>
							<option value="across">accounts, departments across</option>
						</select>
					</label>
				{/if}
				{#if arrangement !== 'across'}<BesidePick {beside} scenarios={others} />{/if}
			</div>
			{#if plan.errors}<p class="errors">
					{plan.errors}
					{plan.errors === 1 ? 'cell holds' : 'cells hold'} an error; open it to see why.
				</p>{/if}
		</div>
		<div class="actions">
			<Button size="xs" color="light" href={withSelection('/plan/targets', selection, calendar)}
				>Targets</Button
			>
			{#if plan.plans}<SaveBar {edits} saving={saving.busy} onsave={() => saving.save()} />{/if}
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
		head={arrangement === 'departments' ? 'Department' : 'Account'}
		{columns}
		{rows}
		{cell}
		{calendar}
		seeks
		open={plan.open}
		figures={data.figures}
		edits={plan.plans ? edits : undefined}
		labelWidth={arrangement === 'departments' ? 236 : 196}
		onopen={openFigure}
		onfollow={followFigure}
		onfind={(words) => (finding = words !== '')}
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
		{#if !single && plan.plans}Totals with a dashed line can be typed: they are spread over the departments
			under them.{/if}
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
			shapeOf={(code) => shapeOf(spreading!, code, selection.scenario, calendar)}
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
								openNotes(m.line, selection.department, m.period);
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
	.empty {
		float: right;
		color: var(--green);
		text-decoration: underline;
		text-underline-offset: 2px;
	}
</style>
