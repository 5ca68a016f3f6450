<script lang="ts">
	import { onMount, tick, untrack } from 'svelte';
	import type { Calendar } from '../../core/calendar/calendar';
	import type { Span } from '../../core/calendar/spans';
	import { exact, type Figures } from '../writing/format';
	import { userStyle } from '../writing/user-style.svelte';
	import Bar from './Bar.svelte';
	import './cells.css';
	import { classesOf, describe, markClasses } from './cell-view';
	import {
		carryOut,
		changeChosen,
		clearChosen,
		continueChosen,
		copied,
		fillChosen,
		fillOver,
		pasteInto
	} from './editing/changes';
	import type { EditBatch } from './editing/edits.svelte';
	import type { Entered } from './entered';
	import Choices from './editing/Choices.svelte';
	import GridFoot from './GridFoot.svelte';
	import GridHelp from './GridHelp.svelte';
	import GridHead from './head/GridHead.svelte';
	import Menu from '../kit/Menu.svelte';
	import { begins, CHANGING, commandOf, foldOf, placeAfter, type Command } from './keys';
	import { gridLayout } from './layout.svelte';
	import { markedRows } from './marked.svelte';
	import { ACTIVE, CHOSEN, LAST, marksAt, steady, TYPED, type RowMarks } from './marks';
	import { menuOf } from './menu';
	import PasteDialog from './editing/PasteDialog.svelte';
	import { placeOf, Pointer } from './pointer.svelte';
	import { heightOf, placesOf, widthOfBlock } from './range';
	import Shape from './Shape.svelte';
	import { readBlock } from './editing/clipboard';
	import { formatOf, reasonOf, Sheet, typable } from './sheet.svelte';
	import { gridTable, NAME } from './table.svelte';
	import { Typing } from './editing/typing.svelte';
	import type { MenuItem } from '../kit/menu';
	import { isOpened, type CellOf, type GridCell, type GridColumn, type GridRow, type Place } from './types';

	interface Props {
		label: string;
		head: string;
		columns: GridColumn[];
		rows: GridRow[];
		/** Stays in sight below all others: what they come to together. */
		together?: GridRow;
		/** Under which name the browser keeps its widths. */
		keeps?: string;
		/** What stands in a cell. */
		cell: CellOf;
		calendar: Calendar;
		/** First open period. */
		open: number;
		figures: Figures;
		edits?: EditBatch<Entered>;
		labelWidth?: number;
		/** A single click opens the figure; else a double click or Space does. */
		opensOnClick?: boolean;
		/** Begins scrolled to the first open month, where the closed ones hold little. */
		startsAtOpen?: boolean;
		/** Rows can be sought by their names. */
		seeks?: boolean;
		onopen?: (row: GridRow, column: GridColumn) => void;
		onaction?: (row: GridRow, column: GridColumn) => void;
		/** Leads to where a figure comes from. */
		onfollow?: (row: GridRow, column: GridColumn) => void;
		ontoggle?: (row: GridRow) => void;
		/** Folds or unfolds the quarter of a column. */
		onfold?: (span: Span) => void;
		/** Shows some months alone. */
		onwindow?: (span: Span) => void;
		/** A figure was typed into a total; null asks what the cells are to come to. */
		onspread?: (cells: { row: GridRow; column: GridColumn }[], value: number | null) => void;
		/** What else can be done with a cell. */
		menu?: (row: GridRow, column: GridColumn) => MenuItem[];
		/** Somebody has come to the grid, and may type. */
		onenter?: () => void;
		/** Words that rows are searched for, after a pause: what is folded may be searched too. */
		onfind?: (words: string) => void;
		/** With which words it begins. */
		find?: string;
		/** More rows are pasted than there are: so many are wanted at the end. */
		ongrow?: (count: number) => void;
		/** Something worth saying: a paste that did not fit, a word that is no number. */
		onsay?: (message: string) => void;
	}
	let {
		label,
		head,
		columns,
		rows: tree,
		together,
		keeps,
		cell: cellOf,
		calendar,
		open,
		figures,
		edits,
		labelWidth = 200,
		opensOnClick = false,
		startsAtOpen = false,
		seeks = false,
		onopen,
		onaction,
		onfollow,
		ontoggle,
		onfold,
		onwindow,
		onspread,
		menu: moreMenu,
		onenter,
		onfind,
		find = '',
		ongrow,
		onsay
	}: Props = $props();

	/** Pixels by which a key makes a column wider. */
	const WIDTH_STEP = 16;
	const id = $props.id();
	const ROW = $derived(userStyle.density === 'dense' ? 22 : 27);
	const HEAD = $derived(columns.some((c) => c.group) ? 64 : 44);
	let scroller: HTMLDivElement | undefined = $state();
	let room = $state(0);
	/** How far it is scrolled sideways (pixels). */
	let scrolled = $state(0);
	let focused = $state(false);
	let words = $state(untrack(() => find));
	let helping = $state(false);
	let pasting = $state<ReturnType<typeof pasteInto> | null>(null);
	let menuAt = $state<{ x: number; y: number } | null>(null);
	/** Tab leaves the grid after Esc; else it goes from cell to cell where cells can be typed. */
	let leaving = false;

	const table = gridTable({
		get rows() {
			return tree;
		},
		get columns() {
			return columns;
		},
		get labelWidth() {
			return labelWidth;
		},
		get words() {
			return words;
		},
		get keeps() {
			return keeps;
		}
	});
	const rows = $derived(table.rows);
	const nameWidth = $derived(table.widths.get(NAME) ?? labelWidth);
	const sheet = new Sheet({
		get rows() {
			return rows;
		},
		get columns() {
			return columns;
		},
		get cell() {
			return cellOf;
		},
		get edits() {
			return edits;
		},
		get figures() {
			return figures;
		}
	});
	const typing = new Typing(sheet);
	const pointer = new Pointer(sheet);
	const layout = gridLayout({
		get scroller() {
			return scroller;
		},
		get columns() {
			return columns;
		},
		get rowCount() {
			return rows.length;
		},
		get rowHeight() {
			return ROW;
		},
		get headHeight() {
			return HEAD;
		},
		get nameWidth() {
			return nameWidth;
		},
		get widths() {
			return table.widths;
		},
		get room() {
			return room;
		},
		get active() {
			return sheet.active;
		}
	});
	$effect(() => {
		void sheet.size.rows;
		void sheet.size.columns;
		untrack(() => sheet.hold());
	});

	/** Focuses a cell, for pages that lead here. */
	export function goTo(rowKey: string, columnKey: string) {
		const r = rows.findIndex(({ row }) => row.key === rowKey);
		// Where that column is not shown, the row at least is.
		const own = columns.findIndex((column) => column.key === columnKey);
		const c = own < 0 ? columns.findIndex((column) => column.kind === 'figure') : own;
		if (r < 0 || c < 0) return;
		select({ r, c });
		focus();
	}
	/** The rows of the chosen cells, the one in which one stands first. */
	export function chosen(): GridRow[] {
		const { top, bottom } = sheet.range;
		const own = sheet.rowAt(sheet.active.r);
		const all = rows.slice(top, bottom + 1).map(({ row }) => row);
		return own ? [own, ...all.filter((row) => row !== own)] : [];
	}
	/** Cells among the chosen ones that can be typed. */
	export function writable(): GridCell[] {
		return placesOf(sheet.range).flatMap((at) => (sheet.writable(at) ? sheet.cellAt(at)! : []));
	}
	/** Changes what is typed in them, as one step. @returns how many became something else */
	export const change = (next: Parameters<typeof changeChosen>[1]): number => changeChosen(sheet, next);
	export function focus() {
		scroller?.focus();
	}
	/** Nothing behind a dialog takes the focus before it is gone. */
	async function focusAfterDialog() {
		await tick();
		focus();
	}
	function select(to: Place, extend = false) {
		sheet.select(to, extend);
		void reveal();
	}
	async function reveal() {
		await tick();
		layout.reveal(sheet.active);
	}

	function onkeydown(event: KeyboardEvent) {
		if (typing.at || !rows.length || event.target !== scroller) return;
		const wasLeaving = leaving;
		leaving = event.key === 'Escape' || (leaving && ['Tab', 'Shift'].includes(event.key));
		if (event.key === 'Tab') return tab(event, wasLeaving);
		const row = sheet.rowAt(sheet.active.r)!;
		const fold = row.toggle && foldOf(event);
		const to = placeAfter(event, sheet.active, {
			size: sheet.size,
			page: layout.page,
			filled: (at) => (sheet.cellAt(at)?.value ?? null) !== null
		});
		const command = commandOf(event);
		if (fold) {
			if ((fold === 'unfold') === (row.toggle === 'closed')) ontoggle?.(row);
		} else if (to) select(to, event.shiftKey);
		else if (command) {
			if (CHANGING.has(command) && !edits) return;
			commands[command]();
			if (command === 'one') return;
		} else if (!begins(event) || !press(event.key)) return;
		event.preventDefault();
	}
	/** At the end of a row, and after Esc, Tab leaves as everywhere else. */
	function tab(event: KeyboardEvent, leaves: boolean) {
		const c = sheet.active.c + (event.shiftKey ? -1 : 1);
		if (!edits || leaves || c < 0 || c >= columns.length) return;
		select({ r: sheet.active.r, c });
		event.preventDefault();
	}
	/** Nobody types out of sight: there is no editor that would take the next key. */
	function type(first?: string) {
		layout.reveal(sheet.active);
		typing.begin(first);
	}
	/** A key that begins typing, where anything can be typed. */
	function press(key: string): boolean {
		const cell = sheet.cellAt(sheet.active);
		if (typable(cell)) {
			type(key);
			return true;
		}
		if (edits && cell && /^[0-9=]$/.test(key)) onsay?.(reasonOf(cell));
		return false;
	}
	const commands: Record<Command, () => void> = {
		open() {
			const { row, column, cell } = here();
			if (isOpened(cell, column)) onopen?.(row, column);
			else if (row.toggle) ontoggle?.(row);
		},
		enter() {
			const { row, column, cell } = here();
			if (cell?.action || typable(cell)) commands.type();
			else if (row.toggle) ontoggle?.(row);
			else if (isOpened(cell, column)) onopen?.(row, column);
		},
		type() {
			const { row, column, cell } = here();
			if (cell?.action) onaction?.(row, column);
			else if (typable(cell)) type();
		},
		follow() {
			const { row, column, cell } = here();
			if (cell && column.kind === 'figure') onfollow?.(row, column);
		},
		menu: () => void openMenuAtCell(),
		help: () => (helping = true),
		clear() {
			if (!clearChosen(sheet) && edits) onsay?.('There is nothing here that can be cleared.');
		},
		one: () => sheet.selectOne(),
		all: () => sheet.selectBlock({ top: 0, left: 0, bottom: rows.length - 1, right: columns.length - 1 }),
		undo: () => edits?.undo(),
		redo: () => edits?.redo(),
		'fill right': () => fillChosen(sheet, 'right'),
		'fill down': () => fillChosen(sheet, 'down'),
		wider: () => widen('column'),
		narrower: () => widen('column', true)
	};
	/** By keys or the menu; the mouse draws a column's edge. */
	function widen(of: 'column' | 'names', narrower = false) {
		table.widen(of === 'names' ? NAME : columns[sheet.active.c].key, narrower ? -WIDTH_STEP : WIDTH_STEP);
		void reveal();
	}
	function here() {
		const { r, c } = sheet.active;
		return { row: sheet.rowAt(r)!, column: columns[c], cell: sheet.cellAt(sheet.active) };
	}

	/** Holds typing in the input until it is committed; the grid takes the focus back. */
	function input(node: HTMLInputElement) {
		node.focus();
		if (typing.at && node.value.length > 1) node.select();
	}
	function commit(move: [number, number] | null) {
		const typed = typing.end();
		if (!typed) return;
		if (typed.kind === 'refused') return onsay?.(typed.reason);
		focus();
		if (typed.kind === 'total') {
			if (typed.value !== null) onspread?.([typed.cell], typed.value);
		} else if (move) select({ r: typed.at.r + move[0], c: typed.at.c + move[1] });
	}
	/** The list to pick from, while there is one. */
	let picking: Choices | undefined = $state();
	function pick(choice: string) {
		if (typing.at) typing.at.text = choice;
		commit([1, 0]);
	}
	function onInputKey(event: KeyboardEvent) {
		event.stopPropagation();
		if (picking?.key(event)) return event.preventDefault();
		if (event.key === 'Enter') commit([event.shiftKey ? -1 : 1, 0]);
		else if (event.key === 'Tab') commit([0, event.shiftKey ? -1 : 1]);
		else if (event.key === 'Escape') {
			typing.cancel();
			focus();
		} else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 's') {
			// The page saves; what is being typed belongs to it.
			commit(null);
			scroller?.dispatchEvent(new KeyboardEvent('keydown', { key: 's', ctrlKey: true, bubbles: true }));
		} else return;
		event.preventDefault();
	}

	const copyText = (heads: boolean) => copied(sheet, heads ? { corner: head } : null);
	function oncopy(event: ClipboardEvent) {
		if (typing.at) return;
		event.clipboardData?.setData('text/plain', copyText(false));
		event.preventDefault();
	}
	function oncut(event: ClipboardEvent) {
		if (typing.at || !edits) return;
		oncopy(event);
		commands.clear();
	}
	async function copyFromMenu(heads: boolean) {
		const text = copyText(heads);
		focus();
		try {
			await navigator.clipboard.writeText(text);
			onsay?.('Copied.');
		} catch {
			onsay?.('The browser does not let this page copy by itself; press Ctrl+C.');
		}
	}
	function onpaste(event: ClipboardEvent) {
		if (typing.at || !edits) return;
		const text = event.clipboardData?.getData('text/plain') ?? '';
		if (!text) return;
		event.preventDefault();
		void paste(text);
	}
	async function pasteFromMenu() {
		focus();
		try {
			const text = await navigator.clipboard.readText();
			if (text) await paste(text);
			else onsay?.('There is nothing to paste.');
		} catch {
			onsay?.('The browser does not let this page paste by itself; press Ctrl+V.');
		}
	}
	/** Asks before it leaves anything out. */
	async function paste(text: string) {
		if (ongrow) {
			const more = sheet.range.top + readBlock(text).length - rows.length;
			if (more > 0) {
				ongrow(more);
				await tick();
			}
		}
		const { plan, pasted } = pasteInto(sheet, text);
		if (plan.left.length || plan.outside || plan.shapesDiffer) pasting = { plan, pasted };
		else onsay?.(carryOut(sheet, plan));
	}

	function onpointerdown(event: PointerEvent) {
		const target = event.target as Element;
		const place = placeOf(target);
		if (!place || target.closest('input')) return;
		if (typing.at && event.button === 0) commit(null);
		const handle = target.closest('.handle') !== null;
		if (handle) event.preventDefault();
		if (pointer.press(place, event, handle)) void reveal();
	}
	function onpointerover(event: PointerEvent) {
		// The editor comes below a pointer that rests there: nothing is said of it.
		if (event.target instanceof HTMLInputElement) return;
		const place = placeOf(event.target);
		if (!place) return;
		if (pointer.draws) pointer.move(place);
		else explain((event.target as Element).closest<HTMLElement>('[data-c]')!, place);
	}
	function onpointerup() {
		const target = pointer.release();
		if (target) fillOver(sheet, target);
	}
	/** Said of a cell when the pointer rests on it; not kept on every cell that scrolls by. */
	let explained: HTMLElement | null = null;
	function explain(node: HTMLElement, place: Place) {
		if (explained) explained.title = '';
		explained = node;
		const [row, cell] = [sheet.rowAt(place.r), sheet.cellAt(place)];
		const figure = row && cell && columns[place.c].kind === 'figure' && cell.value !== null;
		const words = row && cell?.entry ? sheet.shown(row, columns[place.c], cell) : undefined;
		const own = (typeof cell?.title === 'function' ? cell.title() : cell?.title) ?? words;
		node.title = own ?? (figure ? exact(cell.value, formatOf(row, cell)) : '');
	}
	// The element under the pointer shows another row after scrolling.
	$effect(() => {
		void layout.rows;
		void layout.columns;
		if (explained) explained.title = '';
	});
	function onclick(event: MouseEvent) {
		const place = placeOf(event.target);
		const cell = place && sheet.cellAt(place);
		if (!place || !cell || sheet.several) return;
		const [row, column] = [sheet.rowAt(place.r)!, columns[place.c]];
		if (cell.action) onaction?.(row, column);
		else if (opensOnClick && column.kind === 'figure') onopen?.(row, column);
	}
	function ondblclick(event: MouseEvent) {
		const place = placeOf(event.target);
		const cell = place && sheet.cellAt(place);
		if (!place || !cell) return;
		if (edits && typable(cell)) type();
		else if (columns[place.c].kind === 'figure') onopen?.(sheet.rowAt(place.r)!, columns[place.c]);
	}
	/** From the keyboard the menu opens at the chosen cell. */
	async function openMenuAtCell() {
		layout.reveal(sheet.active);
		await tick();
		const { r, c } = sheet.active;
		const box = document.getElementById(`${id}-${r}-${c}`)?.getBoundingClientRect();
		if (box) menuAt = { x: box.left + 12, y: box.bottom };
	}
	function oncontextmenu(event: MouseEvent) {
		if (typing.at || !rows.length) return;
		event.preventDefault();
		if (event.button === 2 && placeOf(event.target)) menuAt = { x: event.clientX, y: event.clientY };
		else void openMenuAtCell();
	}
	const menuGroups = $derived(
		!menuAt
			? []
			: menuOf(sheet, {
					calendar,
					onopen,
					onaction,
					onfollow,
					ontoggle,
					onfold,
					onwindow,
					onspread,
					more: moreMenu,
					copy: (heads) => void copyFromMenu(heads),
					paste: () => void pasteFromMenu(),
					fill: (direction) => fillChosen(sheet, direction),
					go: (direction) => continueChosen(sheet, direction),
					clear: commands.clear,
					widen,
					usualWidths: table.resetWidths
				})
	);

	onMount(() => {
		// Who comes to type begins where that can be done.
		const begin = edits && sheet.firstTypable();
		if (begin) sheet.select(begin);
		const first = columns.findIndex((c) => c.span && open >= c.span.from && open <= c.span.to);
		// One closed month stays in sight, so that the boundary is.
		if (startsAtOpen && first > 1) layout.beginAt(first - 1);
		// What is chosen stays in sight when the side sheet or a bar takes room.
		const watch = new ResizeObserver(() => {
			room = scroller?.clientWidth ?? 0;
			if (focused) void reveal();
		});
		if (scroller) watch.observe(scroller);
		return () => watch.disconnect();
	});

	const marksAtPlace = markedRows({
		get rows() {
			return layout.rows;
		},
		get marks() {
			return {
				active: sheet.active,
				range: sheet.range,
				several: sheet.several,
				fills: pointer.fills,
				typed: typing.at
			};
		}
	});
	/** What is drawn of a cell, in one step: a derived value for each part would cost more than the drawing. */
	function contentOf(row: GridRow, column: GridColumn) {
		const cell = sheet.cellOf(row, column);
		return {
			classes: classesOf(column, cell, sheet.pending(row, column, cell) !== undefined),
			readonly: cell?.editable ? undefined : (true as const),
			draws: cell ? column.kind : 'nothing',
			text: cell ? sheet.shown(row, column, cell) : '',
			glyphs: cell?.glyphs,
			values: column.kind === 'shape' ? cell?.values : undefined,
			bar: column.kind === 'bar' && typeof cell?.value === 'number' ? cell.value : 0,
			bad: cell?.tone === 'bad'
		};
	}
	const PLAIN = {
		classes: '',
		chosen: false,
		id: undefined,
		typed: false,
		more: false,
		words: '',
		handle: false
	};
	/** How a cell is marked. Apart from what stands in it, so that neither is looked at when the other changes. */
	function markedOf(row: GridRow, r: number, column: GridColumn, c: number, marks: number) {
		if (marks === 0) return PLAIN;
		const active = (marks & ACTIVE) !== 0;
		const last = (marks & LAST) !== 0;
		const here = active && focused;
		const cell = here ? sheet.cellOf(row, column) : undefined;
		const unsaved = here && sheet.pending(row, column, cell) !== undefined;
		return {
			classes: markClasses(marks, here),
			chosen: (marks & CHOSEN) !== 0,
			id: active ? `${id}-${r}-${c}` : undefined,
			typed: (marks & TYPED) !== 0,
			/** There is more in it than its figure. */
			more: active || last,
			words: cell ? describe(column, cell, { unsaved, open }) : '',
			handle: last && edits !== undefined && focused && sheet.writable({ r, c })
		};
	}
</script>

<svelte:window {onpointerup} />

<div class="frame" style:--row="{ROW}px">
	<div
		bind:this={scroller}
		class="scroller"
		role="treegrid"
		tabindex="0"
		aria-label={label}
		aria-rowcount={rows.length + 1}
		aria-colcount={columns.length + 1}
		aria-multiselectable="true"
		aria-describedby="{id}-keys"
		aria-activedescendant={rows.length ? `${id}-${sheet.active.r}-${sheet.active.c}` : undefined}
		{onkeydown}
		{oncopy}
		{oncut}
		{onpaste}
		{onpointerdown}
		{onpointerover}
		{onclick}
		{ondblclick}
		{oncontextmenu}
		onscroll={() => (scrolled = scroller?.scrollLeft ?? 0)}
		onfocus={() => {
			focused = true;
			leaving = false;
			onenter?.();
		}}
		onpointerenter={() => onenter?.()}
		onblur={() => (focused = false)}
	>
		<GridHead
			name={head}
			{nameWidth}
			height={HEAD}
			{columns}
			{table}
			{layout}
			{calendar}
			{open}
			{onfold}
			{onwindow}
		/>
		<div class="body" role="presentation" style:height="{layout.height}px" style:width="{layout.width}px">
			<!-- Names and figures in two groups: one that stays at the left costs less to scroll than a part of every row. -->
			<div class="names" role="rowgroup" style:width="{layout.frozenWidth}px">
				{#each layout.rows as r, at (at)}
					{@const entry = rows[r]}
					{#if entry}
						{@const row = entry.row}
						{@const marks = marksAtPlace(at)}
						<div
							class="row {row.kind}"
							role="row"
							aria-rowindex={r + 2}
							aria-level={(row.indent ?? entry.depth) + 1}
							aria-expanded={row.toggle ? row.toggle === 'open' : undefined}
							style:top="{r * ROW}px"
							data-row={row.key}
							data-r={r}
						>
							<div
								class="name"
								class:spills={row.spills}
								role="rowheader"
								aria-colindex={1}
								style:width="{nameWidth}px"
								style:padding-left="{8 + (row.indent ?? entry.depth) * 14}px"
								title={row.label}
							>
								{#if row.toggle}
									<button
										class="toggle"
										tabindex="-1"
										aria-label="{row.toggle === 'open' ? 'Fold' : 'Unfold'} {row.label}"
										onclick={() => ontoggle?.(row)}>{row.toggle === 'open' ? '▾' : '▸'}</button
									>
								{:else}<span class="notoggle"></span>{/if}
								<span class="words">{row.label}</span>
								{#if row.note}<span class="unit">{row.note}</span>{/if}
								{#if row.mark}<span class="mark" title={row.mark} role="img" aria-label={row.mark}
									></span>{/if}
							</div>
							{#each layout.frozen as { column, c } (column.key)}
								{@render figureCell(row, r, column, c, marks)}
							{/each}
						</div>
					{/if}
				{/each}
			</div>
			<div class="cells" role="rowgroup">
				{#each layout.rows as r, at (at)}
					{@const row = rows[r]?.row}
					{#if row}
						{@const marks = marksAtPlace(at)}
						<div
							class="row {row.kind}"
							role="row"
							aria-rowindex={r + 2}
							style:top="{r * ROW}px"
							data-row={row.key}
							data-r={r}
						>
							{#each layout.columns as { column, c }, place (place)}
								{@render figureCell(row, r, column, c, marks)}
							{/each}
						</div>
					{/if}
				{/each}
			</div>
		</div>
	</div>
	<!-- Within the scroller it would be one of the rows; beside it, it has to be moved along. -->
	{#if together}
		<div class="together" aria-hidden="true">
			<div class="along" style:width="{layout.width}px" style:transform="translateX({-scrolled}px)">
				{#each layout.columns as { column, c }, place (place)}
					{@render togetherCell(together, column, c)}
				{/each}
			</div>
			<div class="pinned" style:width="{layout.frozenWidth}px">
				<span class="name" style:width="{nameWidth}px">{together.label}</span>
				{#each layout.frozen as { column, c } (column.key)}
					{@render togetherCell(together, column, c)}
				{/each}
			</div>
		</div>
	{/if}
	<p class="none" role="status">
		{#if words.trim() && !rows.length}
			No row has “{words.trim()}” in its name. What is not unfolded may not be searched.
		{/if}
	</p>
	<GridFoot
		{seeks}
		bind:words
		found={table.found}
		summary={sheet.summary}
		{onfind}
		onhelp={() => (helping = true)}
	/>
	<span class="sr-only" id="{id}-keys"
		>Arrow keys go from cell to cell, Space says what a figure is made of.{edits
			? ' Type to change a cell. Escape, then Tab leaves the grid.'
			: ''}</span
	>
</div>
{#if menuAt}
	<Menu
		x={menuAt.x}
		y={menuAt.y}
		groups={menuGroups}
		onclose={() => {
			menuAt = null;
			focus();
		}}
	/>
{/if}
{#if typing.at && typing.choices.length}
	<Choices
		bind:this={picking}
		id="{id}-choices"
		under={() => scroller?.querySelector<HTMLElement>('input.typing') ?? null}
		choices={typing.choices}
		onpick={pick}
	/>
{/if}
{#if helping}
	<GridHelp
		types={edits !== undefined}
		onclose={() => {
			helping = false;
			void focusAfterDialog();
		}}
	/>
{/if}
{#if pasting}
	<PasteDialog
		plan={pasting.plan}
		pasted={pasting.pasted}
		chosen={{ rows: heightOf(sheet.range), columns: widthOfBlock(sheet.range) }}
		nameOf={({ r, c }) => `${sheet.rowAt(r)?.label ?? ''}, ${columns[c]?.label ?? ''}`}
		onpaste={() => pasting && onsay?.(carryOut(sheet, pasting.plan))}
		onclose={() => {
			pasting = null;
			void focusAfterDialog();
		}}
	/>
{/if}

{#snippet togetherCell(row: GridRow, column: GridColumn, c: number)}
	{@const cell = sheet.cellOf(row, column)}
	<span
		class="cell {column.kind}"
		class:apart={column.apart}
		style="margin-left:{layout.lefts[c]}px;width:{layout.widths[c]}px"
		>{cell ? sheet.shown(row, column, cell) : ''}</span
	>
{/snippet}

{#snippet figureCell(row: GridRow, r: number, column: GridColumn, c: number, marks: RowMarks)}
	{@const same = steady<ReturnType<typeof contentOf>>()}
	{@const content = same(contentOf(row, column))}
	<!-- A number: what is made of it is made anew only when it changes. -->
	{@const own = marksAt(c, marks)}
	{@const marked = markedOf(row, r, column, c, own)}
	<div
		id={marked.id}
		class={content.classes + marked.classes}
		style="margin-left:{layout.lefts[c]}px;width:{layout.widths[c]}px"
		role="gridcell"
		aria-colindex={c + 2}
		aria-selected={marked.chosen}
		aria-readonly={content.readonly}
		data-c={c}
		data-column={column.key}
	>
		{#if marked.typed && typing.at}
			<!-- A form of its own: browsers look through all fields of a form when one of them takes the focus. -->
			<form class="field" onsubmit={(event) => event.preventDefault()}>
				<input
					class="typing"
					class:words={column.kind === 'text'}
					aria-label="{row.label}, {column.label}"
					bind:value={
						() => typing.at?.text ?? '',
						(text) => {
							if (typing.at) typing.at.text = text;
						}
					}
					use:input
					onkeydown={onInputKey}
					onblur={() => commit(null)}
					role={typing.choices.length ? 'combobox' : undefined}
					aria-expanded={typing.choices.length ? true : undefined}
					aria-controls={typing.choices.length ? `${id}-choices` : undefined}
				/>
			</form>
		{:else if content.draws === 'figure' || content.draws === 'text'}
			<!-- It stays the same element when a cell is chosen: a click needs it at its beginning and end. -->
			<span class="value">{content.text}</span>
			{#if marked.more || content.glyphs !== undefined}
				{#if content.glyphs?.length}<span class="glyphs" aria-hidden="true"
						>{#each content.glyphs as glyph (glyph.shape)}<i class={glyph.shape} title={glyph.words}
							></i>{/each}</span
					>{/if}
				{#if marked.words}<span class="sr-only">{marked.words}</span>{/if}
				{#if marked.handle}
					<span class="handle" title="Draw over neighbours to fill them"></span>
				{/if}
			{/if}
		{:else if content.draws === 'shape'}
			<Shape values={content.values ?? []} />
		{:else if content.draws === 'bar'}
			<Bar value={content.bar} bad={content.bad} />
		{/if}
	</div>
{/snippet}

<style>
	.frame {
		position: relative;
		display: flex;
		flex-direction: column;
		min-height: 0;
		flex: 1;
		border: 1px solid var(--rule);
		background: var(--tint);
	}
	.scroller {
		overflow: auto;
		flex: 1;
		min-height: 0;
		position: relative;
		font-size: 13px;
		outline: none;
	}
	.scroller:focus-visible {
		box-shadow: inset 0 0 0 1px var(--green);
	}
	/** The names and the frozen columns: in sight however far it is scrolled to the right. */
	.names {
		position: sticky;
		left: 0;
		z-index: 2;
		height: 100%;
		background: var(--ground);
	}
	.cells {
		position: absolute;
		inset: 0;
	}
	.together {
		position: relative;
		flex: none;
		height: var(--row);
		overflow: hidden;
		font-size: 13px;
		font-weight: 600;
		border-top: 1px solid var(--ink-2);
		background: var(--ground);
	}
	.together .along {
		position: absolute;
		inset: 0 auto 0 0;
	}
	.together .pinned {
		position: absolute;
		inset: 0 auto 0 0;
		z-index: 1;
		background: var(--ground);
	}
	.together .cell {
		border-bottom: none;
		background: var(--ground);
		cursor: default;
	}
	.together .name {
		padding-left: 24px;
		border-bottom: none;
		white-space: nowrap;
		overflow: hidden;
	}
	/* In the place of the rows that are not there. */
	.none {
		position: absolute;
		top: 82px;
		left: 20px;
		color: var(--ink-2);
	}
	.body {
		position: relative;
	}
	.row {
		/* Each row is laid out by itself. Clipping rows and cells would cost more than all else while scrolling. */
		contain: layout style size;
		position: absolute;
		top: 0;
		left: 0;
		height: var(--row);
		width: 100%;
	}
	/* Beside its cells as they are beside one another. */
	.name {
		display: flex;
		height: var(--row);
		margin-bottom: calc(-1 * var(--row));
		align-items: center;
		gap: 4px;
		padding-right: 6px;
		border-right: 1px solid var(--rule-strong);
		border-bottom: 1px solid var(--rule);
	}
	.name .words {
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.name.spills {
		position: relative;
		z-index: 1;
		border-right: none;
	}
	.name.spills .words,
	.name.spills .unit {
		overflow: visible;
	}
	.name .unit {
		color: var(--ink-2);
		font-size: 11px;
		white-space: nowrap;
		overflow: hidden;
		text-overflow: ellipsis;
		flex-shrink: 2;
	}
	.mark {
		margin-left: auto;
		width: 9px;
		height: 9px;
		border-right: 2px solid var(--clay);
		border-bottom: 2px solid var(--clay);
		flex: none;
	}
	.toggle,
	.notoggle {
		width: 16px;
		flex: none;
		text-align: center;
		color: var(--ink-2);
		line-height: 1;
	}
	.names .cell {
		border-right: 1px solid var(--rule-strong);
	}
	.heading .name,
	.heading .cell {
		color: var(--ink-2);
		font-weight: 600;
	}
	.total .name,
	.total .cell {
		font-weight: 600;
		border-top: 1px solid var(--ink-2);
	}
	.part .name {
		color: var(--ink-2);
	}
	.field {
		display: contents;
	}
	.typing {
		position: absolute;
		inset: 0;
		padding: 0 7px;
		text-align: right;
		font: inherit;
		color: var(--ink);
		background: var(--sheet);
		border: 2px solid var(--plum);
		outline: none;
	}
	.typing.words {
		text-align: left;
	}
	.handle {
		position: absolute;
		right: 0;
		bottom: 0;
		width: 8px;
		height: 8px;
		background: var(--green);
		border: 1px solid var(--sheet);
		cursor: crosshair;
	}
</style>
