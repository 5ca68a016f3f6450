<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { Button } from 'flowbite-svelte';
	import { onDestroy, untrack } from 'svelte';
	import { columnSpans } from '$lib/core/calendar/spans';
	import type { Cell } from '$lib/core/engine/values';
	import { EACH_ROW, LINES, type Arrangement } from '$lib/core/plan/arrangement';
	import { ROW_SEPARATOR, type Line, type ScopedFormula } from '$lib/core/model/schema';
	import { scopeAt } from '$lib/core/plan/scope';
	import type { FigureRef } from '$lib/core/plan/trace';
	import type { ModelFigures, ViewRow } from '$lib/core/plan/model-view';
	import ArrangeDialog from '$lib/ui/ArrangeDialog.svelte';
	import { useCompany, withSelection } from '$lib/ui/company';
	import { Beside, besideKey, besideValue } from '$lib/ui/beside.svelte';
	import BesidePick from '$lib/ui/BesidePick.svelte';
	import Conflicts from '$lib/ui/Conflicts.svelte';
	import { EditBatch } from '$lib/ui/grid/edits.svelte';
	import { exact } from '$lib/ui/format';
	import FormulaDialog from '$lib/ui/FormulaDialog.svelte';
	import { isMonth, nested, spanColumn } from '$lib/ui/grid/columns';
	import { Folds } from '$lib/ui/grid/folds.svelte';
	import Grid from '$lib/ui/grid/Grid.svelte';
	import type { CellOf, GridCell, GridColumn, GridRow } from '$lib/ui/grid/types';
	import { ApiError, get } from '$lib/ui/api';
	import { notices } from '$lib/ui/notices.svelte';
	import { Saving } from '$lib/ui/saving.svelte';
	import MemberFilter from '$lib/ui/MemberFilter.svelte';
	import Proofs from '$lib/ui/Proofs.svelte';
	import { LivePreview } from '$lib/ui/preview.svelte';
	import RowsDialog from '$lib/ui/design/RowsDialog.svelte';
	import SaveBar from '$lib/ui/SaveBar.svelte';
	import { sheet } from '$lib/ui/sheet.svelte';
	import { LANDING, landingIn, trail } from '$lib/ui/trail.svelte';
	import SpreadDialog from '$lib/ui/SpreadDialog.svelte';
	import { entryDecimals, type SpreadRow } from '$lib/ui/spread';
	import { reread } from '$lib/ui/reread';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	const sent = $derived(JSON.parse(data.rows) as ViewRow[]);
	type Whole = ModelFigures & Pick<typeof data.model, 'dimensions'>;
	/** All rows, where only the first were sent with the page, or sent with figures. */
	let whole = $state.raw<{ of: unknown; address: string; figures: Whole } | null>(null);
	const complete = $derived(sent.length === data.rowsInAll && sent.every((r) => r.cells.length > 0));
	const figures = $derived(whole?.of === data.model ? whole.figures : null);
	/** After a save, rows further down show what they did until they are read anew. */
	const former = $derived(
		!figures && whole?.address === apiAddress(data.selection.scenario)
			? new Map(whole.figures.rows.map((r) => [r.key, r]))
			: null
	);
	const model = $derived({
		...data.model,
		rows: figures ? figures.rows : sent.map((r) => (r.cells.length ? r : (former?.get(r.key) ?? r))),
		dimensions: figures ? figures.dimensions : data.model.dimensions,
		errors: figures ? figures.errors : data.model.errors
	});
	/** Where the same figures of a scenario are read, arranged as the page's address says. */
	function apiAddress(scenario: string): string {
		const { from, to } = data.selection;
		const address = new URLSearchParams(page.url.searchParams);
		for (const k of ['department', 'fold', 'beside', 'as', ...LANDING]) address.delete(k);
		for (const [k, v] of Object.entries({ scenario, from: calendar.key(from), to: calendar.key(to) }))
			address.set(k, v);
		return `models/${data.model.definition.code}?${address}`;
	}
	$effect(() => {
		const of = data.model;
		if (complete) return;
		const address = apiAddress(data.selection.scenario);
		void get<Whole>(address).then(
			(found) => {
				if (data.model === of) whole = { of, address, figures: found };
			},
			(e: unknown) =>
				notices.say(e instanceof ApiError ? e.message : 'The rows further down could not be read.', true)
		);
	});
	const definition = $derived(model.definition);
	const arrangement = $derived(model.arrangement);
	const selection = $derived(data.selection);
	const scenarioName = $derived(data.scenarios.find((s) => s.code === selection.scenario)?.name ?? '');
	const edits = new EditBatch();
	const preview = new LivePreview();
	const folds = new Folds(calendar);
	onDestroy(() => preview.close());
	// The saved figures are new with each load; what is typed is worked out on top of them.
	let version = 0;
	$effect(() => {
		void data.model;
		untrack(() => version++);
	});
	const previewQuery = $derived({
		model: definition.code,
		spans: $state.snapshot(model.spans),
		hideEmpty: data.hideEmpty,
		...($state.snapshot(arrangement) as Arrangement)
	});
	$effect(() => {
		const typed = edits.list.map((e) => {
			const [line, row] = e.row.split(AT);
			return { line, row, period: calendar.parse(e.column)!, value: e.value };
		});
		const { scenario } = selection;
		const query = previewQuery;
		void data.model;
		untrack(() => preview.show(scenario, version, typed, query));
	});
	/** Rows that are other by what is typed and not saved, as soon as it is worked out. */
	const changed = $derived(new Map((preview.changes?.rows ?? []).map((r) => [r.key, r])));
	const errors = $derived(preview.changes?.errors ?? model.errors);
	let editing = $state<Line | null>(null);
	let arranging = $state(false);
	let grid: Grid | undefined = $state();
	let addingRows = $state(false);
	const mayDesign = $derived(data.may['change driver models']);
	interface Spreading {
		title: string;
		typed: number | null;
		line: Line;
		rows: SpreadRow[];
		periods: number[];
		hint: string;
	}
	let spreading = $state<Spreading | null>(null);

	/** Between a line and a row of the model, in the name of a typed cell. */
	const AT = '@';
	const keyOf = (line: string, row: string) => `${line}${AT}${row}`;
	const lineOf = (code: string) => definition.lines.find((l) => l.code === code)!;

	/** What a column shows: an entry across, and one of its spans. */
	interface Shows {
		entry: number;
		span: number;
	}
	const window = $derived({ from: selection.from, to: selection.to });
	const beside = new Beside<ModelFigures>();
	const others = $derived(
		data.scenarios.filter((s) => s.code !== selection.scenario && s.kind !== 'actuals')
	);
	const other = $derived(others.find((s) => s.code === beside.scenario));
	$effect(() => {
		void data.model;
		const address = apiAddress(other?.code ?? '');
		untrack(() => beside.read(other ? address : ''));
	});
	const otherRows = $derived(new Map((beside.data?.rows ?? []).map((r) => [r.key, r])));
	/** A figure of the other scenario, or the difference to it, in the first entry across. */
	function besideCell(row: ViewRow, key: string): GridCell {
		const show = layout.shows.get(model.across[0].key ? `${model.across[0].key}/${key}` : key)!;
		const target = row.targets[0];
		if (!target) return { value: null };
		const theirs = valueAt(otherRows.get(row.key), show);
		return {
			value:
				beside.data && other
					? besideValue(valueAt(row, show), theirs, beside.difference, monthsOf(show), other)
					: null,
			format: lineOf(target.line).format,
			reason: `${other?.name ?? 'The other scenario'} is shown to compare with; choose it above to change it.`
		};
	}
	const layout = $derived.by(() => {
		const columns: GridColumn[] = [];
		const shows = new Map<string, Shows>();
		const formulas = arrangement.rows.includes(LINES);
		if (formulas) columns.push({ key: 'formula', label: 'Formula', width: 170, kind: 'text', frozen: true });
		if (model.across.length === 1) columns.push({ key: 'shape', label: 'Shape', width: 68, kind: 'shape' });
		const spans = columnSpans(calendar, window, (first) => folds.has(first));
		model.across.forEach((across, entry) => {
			const of = (key: string) => (across.key ? `${across.key}/${key}` : key);
			const group = model.across.length > 1 ? across.label : other ? scenarioName : undefined;
			spans.forEach((span, i) => {
				const column = spanColumn(calendar, span, 68);
				shows.set(of(column.key), {
					entry,
					span: model.spans.findIndex((s) => s.from === span.from && s.to === span.to)
				});
				columns.push({ ...column, key: of(column.key), group, apart: entry > 0 && i === 0 });
			});
			shows.set(of('total'), { entry, span: model.spans.length - 1 });
			columns.push({ key: of('total'), label: 'Total', group, width: 88, kind: 'figure', apart: true });
		});
		if (other) columns.push(...beside.columns(calendar, spans, other.name, 68));
		return { columns, shows };
	});
	const columns = $derived(layout.columns);
	const monthsOf = ({ span }: Shows) => model.spans[span];

	/** Means of other weights may differ in their last digit and say the same. */
	const differs = (a: Cell, b: Cell) =>
		typeof a === 'number' && typeof b === 'number'
			? Math.abs(a - b) > 1e-12 * Math.max(Math.abs(a), Math.abs(b))
			: a !== b;
	const savedRows = $derived(new Map(model.rows.map((r) => [r.key, r])));
	const shownRow = (key: string) => changed.get(key) ?? savedRows.get(key);
	const valueAt = (row: ViewRow | undefined, { entry, span }: Shows): Cell =>
		row?.cells[entry * model.spans.length + span] ?? null;

	const typedAt = (row: ViewRow | undefined, show: Shows): Cell =>
		row?.typed ? (row.typed[show.entry * model.spans.length + show.span] ?? null) : valueAt(row, show);

	/** A total can be typed where it is a sum of what can be typed. */
	function spreads(line: Line, single: boolean, { from, to }: { from: number; to: number }): boolean {
		if (!model.editable || line.formula !== undefined || line.scoped?.length) return false;
		if (!single && line.rollup.members !== 'sum') return false;
		return (from === to || line.rollup.time === 'sum') && to >= model.open && from <= model.last;
	}
	/** Members above each one, by dimension: what a scoped formula is limited to may be a group of members. */
	const groups = $derived(
		new Map(
			model.dimensions.map((d) => {
				const path: string[] = [];
				const above = d.members.map((m) => {
					path.length = m.depth;
					path.push(m.code);
					return [m.code, new Set(path)] as const;
				});
				return [d.code, new Map(above)] as const;
			})
		)
	);
	/** The exception of a line that applies in a cell. */
	function scopeOf(line: Line, row: string, period: number): ScopedFormula | null {
		if (!line.scoped?.length) return null;
		const members = row.split(ROW_SEPARATOR);
		return scopeAt(line, period, calendar, (where) =>
			Object.entries(where).every(([dimension, under]) => {
				const member = members[definition.dimensions.indexOf(dimension)];
				return member !== undefined && groups.get(dimension)?.get(member)?.has(under) === true;
			})
		);
	}
	const cell: CellOf = (gridRow, column) => {
		const row = shownRow(gridRow.key);
		if (!row) return undefined;
		if (column.key === 'formula') return formulaCell(row);
		if (!row.cells.length) return { value: null, reason: 'The figures of this row are still being read.' };
		if (column.kind === 'shape') {
			const months = model.spans.flatMap((s, span) => (isMonth(s) ? [valueAt(row, { entry: 0, span })] : []));
			return { value: null, values: months };
		}
		const asked = besideKey(column.key);
		if (asked !== null) return besideCell(row, asked);
		const show = layout.shows.get(column.key)!;
		const target = row.targets[show.entry];
		if (!target) return undefined;
		const line = lineOf(target.line);
		const value = valueAt(row, show);
		const saved = valueAt(savedRows.get(row.key), show);
		const typed = typedAt(savedRows.get(row.key), show);
		const adjusted = differs(typedAt(row, show), value);
		const span = monthsOf(show);
		const month = isMonth(span) && column.span !== undefined;
		const open = span.to >= model.open && span.from <= model.last;
		const one = month && target.row !== null;
		const scope = target.row === null ? null : scopeOf(line, target.row, span.from);
		const typedLine = one ? (scope ? scope.formula : line.formula) === undefined : line.formula === undefined;
		const blocked = target.row === null ? undefined : model.blocked[target.row];
		return {
			value,
			typed: one && typeof typed === 'number' ? typed : null,
			under: one && adjusted ? typedAt(row, show) : undefined,
			at: one ? { row: keyOf(line.code, target.row!), column: calendar.key(span.from) } : undefined,
			preview: differs(value, saved),
			blocked: blocked !== undefined,
			editable: one && typedLine && open && model.editable && !blocked,
			erasable: blocked !== undefined && one && typedLine && open && model.editable,
			spreads: !one && !blocked && spreads(line, target.row !== null, span),
			format: line.format,
			reason: !model.editable
				? model.reason
				: blocked
					? `The combination rule “${blocked}” keeps data out of here; what is there can be taken out with Delete.`
					: !typedLine
						? `${line.label} is calculated and cannot be typed; Enter on its formula opens it.`
						: !open
							? 'This is outside the months that can be planned and cannot be typed.'
							: 'These are several cells together and cannot be typed; type into those under it.',
			title: () =>
				one && typedLine && !model.editable
					? model.reason
					: one && adjusted
						? `${exact(value, line.format)} · adjusted, typed is ${exact(typedAt(row, show), line.format)}`
						: !typedLine
							? `${exact(value, line.format)} · calculated: ${(scope ? scope.formula : line.formula) ?? ''}${scope ? `, exception ${line.scoped!.indexOf(scope) + 1}` : ''}`
							: month && span.from < model.open && value === null
								? 'Closed: drivers are not derived from actuals here.'
								: undefined
		};
	};
	function formulaCell(row: ViewRow): GridCell {
		if (row.heads === null) return { value: null, text: '' };
		const { formula } = lineOf(row.heads);
		return {
			value: null,
			text: formula ?? 'typed',
			action: formula !== undefined,
			title: formula === undefined ? 'Typed in, month by month.' : `${formula}\nEnter opens it.`
		};
	}
	const rows: GridRow[] = $derived(
		nested(
			model.rows.map((row) => {
				const line = row.heads === null ? null : lineOf(row.heads);
				const posts = line !== null && definition.postings.some((p) => p.line === line.code);
				return {
					depth: row.depth,
					row: {
						key: row.key,
						label: row.label,
						note: line?.unit,
						kind: line ? (posts ? 'total' : 'leaf') : row.open === null ? 'part' : 'leaf',
						format: line?.format ?? 'number',
						toggle: row.open === null ? undefined : row.open ? 'open' : 'closed'
					} satisfies GridRow
				};
			})
		)
	);

	function show(change: Record<string, string>) {
		const url = new URL(location.href);
		for (const [k, v] of Object.entries(change)) {
			if (v) url.searchParams.set(k, v);
			else url.searchParams.delete(k);
		}
		void goto(url, { keepFocus: true, noScroll: true, replaceState: true });
	}
	const openOnes = $derived(arrangement.open);
	function toggle(row: GridRow) {
		const open = openOnes.includes(row.key) ? openOnes.filter((o) => o !== row.key) : [...openOnes, row.key];
		show({ open: open.join(',') });
	}
	function filter(key: string, value: string) {
		const where = { ...arrangement.where, [key]: value };
		show({
			where: Object.entries(where)
				.filter(([, v]) => v)
				.map(([k, v]) => `${k}:${encodeURIComponent(v)}`)
				.join(',')
		});
	}
	function arrange(wanted: { rows: string[]; across: string | null; lines: string[] }) {
		show({
			rows: wanted.rows.join(','),
			across: wanted.across ?? '',
			lines: wanted.lines.join(','),
			open: ''
		});
	}
	function withFigure(row: GridRow, column: GridColumn, act: (ref: FigureRef) => void) {
		const show = layout.shows.get(column.key);
		const target = show && shownRow(row.key)?.targets[show.entry];
		if (!show || !target) return;
		const span = monthsOf(show);
		if (!isMonth(span) || target.row === null) {
			notices.say(
				`This is ${shownRow(row.key)!.count} ${shownRow(row.key)!.count === 1 ? 'row' : 'rows'}${isMonth(span) ? '' : ` over ${span.to - span.from + 1} months`} together. Open one month of one row to see what it is made of.`
			);
			return;
		}
		act({ kind: 'line', model: definition.code, line: target.line, row: target.row, period: span.from });
	}
	const openFigure = (row: GridRow, column: GridColumn) =>
		withFigure(row, column, (ref) => sheet.open({ scenario: selection.scenario, ref }));
	const followFigure = (row: GridRow, column: GridColumn) =>
		withFigure(
			row,
			column,
			(ref) => void trail.follow(company, selection.scenario, ref, { row: row.key, month: column.key })
		);

	// Leads to the cell the address asks for.
	const landing = $derived(landingIn(page.url));
	let landed = '';
	$effect(() => {
		if (!landing || !grid || !savedRows.has(landing.row)) return;
		const { row, month } = landing;
		untrack(() => {
			if (landed === `${row}/${month}`) return;
			landed = `${row}/${month}`;
			grid?.goTo(row, month);
		});
	});

	/** Rows of one line under some members over some months, in this or another scenario. */
	async function rowsOf(
		line: string,
		where: Readonly<Record<string, string>>,
		scenario: string,
		from: number,
		to: number
	): Promise<{ key: string; name: string; cells: Cell[]; adjusted: boolean }[]> {
		const query = new URLSearchParams({
			scenario,
			from: calendar.key(from),
			to: calendar.key(to),
			rows: definition.dimensions.length ? `${LINES},${EACH_ROW}` : LINES,
			lines: line,
			open: line,
			where: Object.entries(where)
				.map(([k, v]) => `${k}:${encodeURIComponent(v)}`)
				.join(',')
		});
		const found = await get<ModelFigures>(`models/${definition.code}?${query}`);
		return found.rows.flatMap((r) => {
			const key = r.targets[0]?.row;
			const leaf = definition.dimensions.length ? r.depth === 1 : true;
			// What is typed is changed, whatever adjustments make of it.
			return leaf && key !== null && key !== undefined
				? [{ key, name: r.label, cells: r.typed ?? r.cells, adjusted: r.typed !== undefined }]
				: [];
		});
	}
	/** Filters, narrowed to the members of a row and of what stands across. */
	function under(row: ViewRow, entry: number): Record<string, string> {
		const { across } = arrangement;
		const member = model.across[entry].key;
		return {
			...arrangement.where,
			...row.where,
			...(across && across !== LINES && member ? { [across]: member } : {})
		};
	}
	/** A total was typed, or cells are to be changed together: the cells under them are gathered, and how is asked. */
	async function spreadCells(cells: { row: GridRow; column: GridColumn }[], typed: number | null) {
		const wanted = cells.flatMap(({ row, column }) => {
			const show = layout.shows.get(column.key);
			const view = shownRow(row.key);
			const target = show && view?.targets[show.entry];
			return target ? [{ view: view!, show, target, span: monthsOf(show) }] : [];
		});
		const line = wanted[0] && lineOf(wanted[0].target.line);
		if (!line) return;
		if (wanted.some((w) => w.target.line !== line.code)) {
			notices.say('Cells of one line can be changed together. Choose cells of one line.');
			return;
		}
		const first = Math.min(...wanted.map((w) => w.span.from));
		const last = Math.max(...wanted.map((w) => w.span.to));
		const chosen = new Map<string, Set<number>>();
		const names = new Map<string, { name: string; cells: Cell[]; adjusted: boolean }>();
		try {
			// Cells of one row or of the same members are read at once.
			const groups = new Map<string, typeof wanted>();
			for (const w of wanted) {
				const key = `${w.view.key}/${w.show.entry}`;
				groups.set(key, [...(groups.get(key) ?? []), w]);
			}
			for (const group of groups.values()) {
				const { view, show, target } = group[0];
				const found = await rowsOf(line.code, under(view, show.entry), selection.scenario, first, last);
				for (const r of found) {
					if (target.row !== null && r.key !== target.row) continue;
					names.set(r.key, r);
					const months = chosen.get(r.key) ?? new Set();
					chosen.set(r.key, months);
					for (const { span } of group) for (let p = span.from; p <= span.to; p++) months.add(p);
				}
			}
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'The rows could not be read.', true);
			return;
		}
		const months = [...new Set([...chosen.values()].flatMap((s) => [...s]))].sort((a, b) => a - b);
		const rows = [...chosen].map(([key, own]): SpreadRow => ({
			key: keyOf(line.code, key),
			name: names.get(key)!.name,
			cells: months.map((period) => {
				const cell = names.get(key)!.cells[period - first];
				const before = typeof cell === 'number' ? cell : null;
				const edit = edits.at(keyOf(line.code, key), calendar.key(period));
				return {
					column: calendar.key(period),
					label: calendar.shortLabel(period),
					value: edit ? edit.value : before,
					before,
					open: period >= model.open && period <= model.last && own.has(period) && !model.blocked[key]
				};
			})
		}));
		const [from, to] = [calendar.label(months[0]), calendar.label(months.at(-1)!)];
		const name =
			cells.length === 1 && wanted[0].view.heads === null
				? `${line.label}, ${wanted[0].view.label}`
				: line.label;
		spreading = {
			title: `${name}, ${from}${from === to ? '' : ` – ${to}`}`,
			typed,
			line,
			rows,
			periods: months,
			hint: [...names.values()].some((n) => n.adjusted)
				? 'Adjustments lie over some of these cells: what is spread here is what they start from.'
				: ''
		};
	}
	const LAST_YEAR = '@last-year';
	async function shapeOf(scenario: string): Promise<(number | null)[][]> {
		const { line, rows, periods } = spreading!;
		const ago = scenario === LAST_YEAR ? 12 : 0;
		const from = periods[0] - ago;
		const found = await rowsOf(
			line.code,
			arrangement.where,
			ago ? selection.scenario : scenario,
			from,
			periods.at(-1)! - ago
		);
		const by = new Map(found.map((r) => [keyOf(line.code, r.key), r.cells]));
		return rows.map((r) =>
			periods.map((period) => {
				const cell = by.get(r.key)?.[period - ago - from];
				return typeof cell === 'number' ? cell : null;
			})
		);
	}
	function openFormula(row: GridRow) {
		const code = shownRow(row.key)?.heads;
		editing = code ? lineOf(code) : null;
	}
	const saving = new Saving({
		edits,
		path: () => `models/${definition.code}/cells`,
		request: (list) => ({
			scenario: selection.scenario,
			edits: list.map((e) => {
				const [line, row] = e.row.split(AT);
				return { line, row, period: calendar.parse(e.column), before: e.before, value: e.value };
			})
		}),
		cellOf: (c) => ({ row: keyOf(c.edit.line, c.edit.row), column: calendar.key(c.edit.period) }),
		view: (c) => {
			const line = definition.lines.find((l) => l.code === c.edit.line);
			const format = line?.format ?? 'number';
			return {
				name: `${line?.label}, ${calendar.label(c.edit.period)}`,
				mine: exact(c.edit.value, format),
				theirs: exact(c.theirs, format),
				user: c.user,
				at: c.at
			};
		},
		after: (count) => `; everything that rests on ${count === 1 ? 'it' : 'them'} follows`
	});
</script>

<svelte:head><title>{definition.name} · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>{definition.name}</h1>
		<p class="muted">
			<a class="plain" href={withSelection('/drivers', selection, calendar)}>All drivers</a> ·
			<a class="plain" href={withSelection(`/drivers/${definition.code}/design`, selection, calendar)}
				>Lines and formulas</a
			>{definition.description && ` · ${definition.description}`}
			{#if !model.editable}<b>{model.reason}</b>{/if}
		</p>
		{#if errors}<p class="errors">
				{errors}
				{errors === 1 ? 'cell holds' : 'cells hold'} an error.
			</p>{/if}
	</div>
	{#if model.editable}<SaveBar {edits} saving={saving.busy} onsave={() => saving.save()} />{/if}
</div>
{#if model.dimensions.length || others.length}
	<div class="filters">
		{#each model.dimensions as d (d.code)}
			<label>
				{d.name}
				<MemberFilter
					members={d.members}
					value={arrangement.where[d.code] ?? ''}
					onchange={(code) => filter(d.code, code)}
					onmiss={(words) => notices.say(`No ${d.name.toLowerCase()} is called “${words}”.`)}
				/>
			</label>
			{#each d.attributes.filter((a) => a.values.length > 1 && a.values.length <= 40) as a (a.code)}
				{@const key = `${d.code}.${a.code}`}
				{#if arrangement.where[key] !== undefined}
					<label>
						{a.code}
						<select
							class="field choice"
							value={arrangement.where[key]}
							onchange={(e) => filter(key, e.currentTarget.value)}
						>
							<option value="">all</option>
							{#each a.values as value (value)}<option {value}>{value}</option>{/each}
						</select>
					</label>
				{/if}
			{/each}
		{/each}
		{#if model.dimensions.length}<span class="muted">{model.rowCount.toLocaleString('en-GB')} rows</span>{/if}
		{#if others.length}<BesidePick {beside} scenarios={others} />{/if}
		{#if model.dimensions.length}
			<span class="end">
				<label
					><input
						type="checkbox"
						checked={data.hideEmpty}
						onchange={(e) => show({ empty: e.currentTarget.checked ? 'hide' : '' })}
					/> hide empty</label
				>
				<Button size="xs" color="light" onclick={() => (arranging = true)}>Arrange …</Button>
				{#if mayDesign}<Button size="xs" color="light" onclick={() => (addingRows = true)}>Add rows …</Button
					>{/if}
			</span>
		{/if}
	</div>
{/if}
{#if model.proofs.length}<Proofs proofs={model.proofs} lines={definition.lines} {calendar} />{/if}
<Grid
	bind:this={grid}
	label={definition.name}
	head="Line"
	{columns}
	{rows}
	{cell}
	{calendar}
	seeks
	onenter={() => {
		if (model.editable && !edits.count) preview.warm(selection.scenario, version, previewQuery);
	}}
	open={model.open}
	figures={data.figures}
	edits={model.editable ? edits : undefined}
	labelWidth={230}
	startsAtOpen={definition.dimensions.length > 0}
	onopen={openFigure}
	onfollow={followFigure}
	find={page.url.searchParams.get('find') ?? ''}
	onfind={(find) => show({ find })}
	onaction={openFormula}
	ontoggle={toggle}
	onspread={spreadCells}
	onfold={(span) => folds.toggle(span)}
	onsay={(m) => notices.say(m)}
/>
<p class="hint muted">
	White cells with a dotted line can be typed, totals with a dashed one too. <kbd>Enter</kbd> on a formula
	opens it{#if model.dimensions.length},
		<kbd>Alt</kbd> <kbd>→</kbd> unfolds a line{/if}.
	<kbd>Space</kbd> opens what a figure is made of.
	{#if preview.changes}<b class="slanted">Slanted figures</b> follow from what is not saved yet.{/if}
</p>
{#if spreading}
	<SpreadDialog
		title={spreading.title}
		typed={spreading.typed}
		rows={spreading.rows}
		hint={spreading.hint}
		format={spreading.line.format}
		decimals={entryDecimals(spreading.line.format, spreading.rows, company.data.company.decimals)}
		scenarios={[
			{ code: LAST_YEAR, name: 'last year' },
			...data.scenarios.filter((s) => s.code !== selection.scenario && s.kind !== 'actuals')
		]}
		{shapeOf}
		onapply={(list) => edits.apply(list)}
		onclose={() => (spreading = null)}
	/>
{/if}
{#if arranging}
	<ArrangeDialog
		{arrangement}
		dimensions={model.dimensions}
		lines={definition.lines}
		onarrange={arrange}
		onfilter={filter}
		onclose={() => (arranging = false)}
	/>
{/if}
{#if addingRows}
	<RowsDialog
		model={definition}
		ondone={async (words) => {
			addingRows = false;
			await reread();
			notices.say(words);
		}}
		onclose={() => (addingRows = false)}
	/>
{/if}
{#if editing}
	<FormulaDialog
		scenario={selection.scenario}
		{scenarioName}
		{definition}
		{window}
		line={editing}
		names={model.names}
		also={model.alsoUsedBy}
		editable={model.editable}
		reason={model.reason}
		onclose={() => (editing = null)}
	/>
{/if}
<Conflicts
	bind:list={saving.conflicts}
	onkeep={() => saving.resolve(true)}
	ontake={() => saving.resolve(false)}
/>

<style>
	.filters {
		display: flex;
		flex-wrap: wrap;
		white-space: nowrap;
		gap: 6px 16px;
		align-items: center;
		margin-bottom: 10px;
	}
	.filters label {
		display: flex;
		gap: 6px;
		align-items: center;
		color: var(--ink-2);
	}
	.end {
		display: flex;
		gap: 14px;
		align-items: center;
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
