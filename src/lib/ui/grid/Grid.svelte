<script lang="ts">
	import { createVirtualizer } from '@tanstack/svelte-virtual';
	import { onMount, tick, untrack } from 'svelte';
	import { get } from 'svelte/store';
	import type { Calendar } from '../../core/calendar/calendar';
	import type { Span } from '../../core/calendar/spans';
	import { exact, figure, plain, readTyped, type Figures } from '../format';
	import { userStyle } from '../user-style.svelte';
	import Bar from './Bar.svelte';
	import { classesOf } from './cell-view';
	import { planPaste, readBlock, writeBlock, type PastePlan } from './clipboard';
	import type { Edit, EditBatch } from './edits.svelte';
	import { continued } from './fill';
	import GridMenu from './GridMenu.svelte';
	import { Pace } from './pace.svelte';
	import PasteDialog from './PasteDialog.svelte';
	import { rowsInPlaces } from './places';
	import { blockOf, contains, edgeFrom, heightOf, placesOf, widthOfBlock } from './range';
	import RodSegment from './RodSegment.svelte';
	import { scrollWatch } from './scroll-watch';
	import Shape from './Shape.svelte';
	import { gridTable, NAME } from './table.svelte';
	import type { CellOf, GridCell, GridColumn, GridRow, MenuItem, Place } from './types';

	interface Props {
		label: string;
		head: string;
		columns: GridColumn[];
		rows: GridRow[];
		/** What stands in a cell. */
		cell: CellOf;
		calendar: Calendar;
		/** First open period. */
		open: number;
		figures: Figures;
		edits?: EditBatch;
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
		/** Something worth saying: a paste that did not fit, a word that is no number. */
		onsay?: (message: string) => void;
	}
	let {
		label,
		head,
		columns,
		rows: tree,
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
		onspread,
		menu: moreMenu,
		onenter,
		onfind,
		find = '',
		onsay
	}: Props = $props();

	const id = $props.id();
	const ROW = $derived(userStyle.density === 'dense' ? 22 : 27);
	const grouped = $derived(columns.some((c) => c.group));
	const HEAD = $derived(grouped ? 64 : 44);
	let scroller: HTMLDivElement | undefined = $state();
	let active = $state<Place>({ r: 0, c: 0 });
	let anchor = $state<Place>({ r: 0, c: 0 });
	let editing = $state<(Place & { text: string }) | null>(null);
	let focused = $state(false);
	let words = $state(untrack(() => find));
	const PAUSE_MS = 300;
	let searching: ReturnType<typeof setTimeout> | undefined;
	function seek() {
		clearTimeout(searching);
		searching = setTimeout(() => onfind?.(words.trim()), PAUSE_MS);
	}
	let dragging: 'range' | 'fill' | null = $state(null);
	/** Where the fill handle is drawn to. */
	let filling = $state<Place | null>(null);
	let pasting = $state<{ plan: PastePlan; pasted: { rows: number; columns: number } } | null>(null);
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
		}
	});
	const rows = $derived(table.rows);
	const rowAt = (r: number): GridRow | undefined => rows[r]?.row;
	const cellAt = (r: number, c: number): GridCell | undefined => {
		const row = rowAt(r);
		return row && columns[c] ? cellOf(row, columns[c]) : undefined;
	};
	const nameWidth = $derived(table.widthOf(NAME));
	/** Room inside the scroller; columns that grow share what the others leave of it. */
	let room = $state(0);
	const widths = $derived.by(() => {
		const own = columns.map((c) => table.widthOf(c.key));
		const growing = columns.filter((c) => c.grows).length;
		const left = room - nameWidth - own.reduce((a, b) => a + b, 0);
		return growing && left > 0 ? own.map((w, i) => (columns[i].grows ? w + left / growing : w)) : own;
	});
	/** Left edges of the columns. */
	const lefts = $derived.by(() => {
		let left = nameWidth;
		return widths.map((w) => (left += w) - w);
	});
	const width = $derived(nameWidth + widths.reduce((a, b) => a + b, 0));
	const frozenWidth = $derived(nameWidth + columns.reduce((w, c, i) => w + (c.frozen ? widths[i] : 0), 0));
	const firstPeriod = $derived(columns.findIndex((c) => c.span !== undefined));
	const inputFigures = $derived(figures === 'thousand' && edits ? 'whole' : figures);

	const watch = scrollWatch();
	const down = createVirtualizer<HTMLDivElement, HTMLDivElement>({
		count: untrack(() => rows.length),
		getScrollElement: () => scroller ?? null,
		estimateSize: () => untrack(() => ROW),
		observeElementOffset: watch(false),
		overscan: 4,
		initialRect: { width: 1100, height: 620 }
	});
	const along = createVirtualizer<HTMLDivElement, HTMLDivElement>({
		horizontal: true,
		count: untrack(() => columns.length),
		getScrollElement: () => scroller ?? null,
		estimateSize: (c) => untrack(() => widths[c] ?? 80),
		observeElementOffset: watch(true),
		overscan: 1,
		initialRect: { width: 1100, height: 620 }
	});
	$effect(() => {
		const count = rows.length;
		const size = ROW;
		void scroller;
		untrack(() => {
			get(down).setOptions({ count, getScrollElement: () => scroller ?? null, estimateSize: () => size });
			get(down).measure();
			if (active.r >= count) {
				active = { r: Math.max(0, count - 1), c: active.c };
				anchor = { ...active };
			}
		});
	});
	$effect(() => {
		const sizes = widths;
		const paddingStart = nameWidth;
		void scroller;
		untrack(() => {
			get(along).setOptions({
				count: sizes.length,
				getScrollElement: () => scroller ?? null,
				estimateSize: (c) => sizes[c] ?? 80,
				paddingStart
			});
			get(along).measure();
			if (active.c >= sizes.length) active = { r: active.r, c: Math.max(0, sizes.length - 1) };
		});
	});
	const firstRow = $derived($down.getVirtualItems().at(0)?.index ?? 0);
	const lastRow = $derived($down.getVirtualItems().at(-1)?.index ?? -1);
	/** As many as were ever in sight at once. */
	let places = 0;
	const wantedRows = $derived.by(() => {
		places = Math.max(places, lastRow - firstRow + 1);
		return rowsInPlaces(firstRow, places, rows.length);
	});
	const pace = new Pace();
	$effect(() => () => pace.stop());
	$effect.pre(() => {
		const wanted = wantedRows;
		untrack(() => pace.show(wanted, (r) => (r === active.r ? -1 : Math.abs(r - (firstRow + lastRow) / 2))));
	});
	/** More at once than can be drawn in a frame are drawn in several. */
	const drawnRows = $derived(pace.rows.length === wantedRows.length ? pace.rows : wantedRows);
	// Numbers, so that what is drawn is the same until one of them changes, however far it is scrolled.
	const firstDrawn = $derived($along.getVirtualItems().at(0)?.index ?? 0);
	const lastDrawn = $derived($along.getVirtualItems().at(-1)?.index ?? -1);
	const placed = $derived(columns.map((column, c) => ({ column, c })));
	const frozen = $derived(placed.filter(({ column }) => column.frozen));
	/** Columns that are drawn besides the frozen ones: those in sight, and the one of the chosen cell. */
	const drawn = $derived(
		placed.filter(
			({ column, c }) => !column.frozen && ((c >= firstDrawn && c <= lastDrawn) || c === active.c)
		)
	);

	// What stands in a cell now: typed and not saved, or as loaded.
	const addressOf = (row: GridRow, column: GridColumn, cell: GridCell) =>
		cell.at ?? { row: row.key, column: column.key };
	function pending(row: GridRow, column: GridColumn, cell: GridCell | undefined): Edit | undefined {
		if (!edits || !(cell?.editable || cell?.erasable)) return undefined;
		const at = addressOf(row, column, cell);
		return edits.at(at.row, at.column);
	}
	const valueIn = (row: GridRow, column: GridColumn, cell: GridCell) => {
		const edit = pending(row, column, cell);
		return edit ? (edit.value ?? cell.without ?? null) : cell.value;
	};
	const format = (row: GridRow, cell: GridCell) => cell.format ?? row.format;
	function shown(row: GridRow, column: GridColumn, cell: GridCell): string {
		if (column.kind === 'text') return cell.text ?? '';
		return figure(valueIn(row, column, cell), format(row, cell), inputFigures);
	}
	const range = $derived(blockOf(active, anchor));
	const several = $derived(heightOf(range) > 1 || widthOfBlock(range) > 1);
	const fillRange = $derived.by(() => {
		if (!filling) return null;
		// A drag goes either across or down, whichever is farther.
		const across = Math.max(range.left - filling.c, filling.c - range.right);
		const below = Math.max(range.top - filling.r, filling.r - range.bottom);
		if (across <= 0 && below <= 0) return null;
		return below >= across
			? { ...range, top: Math.min(range.top, filling.r), bottom: Math.max(range.bottom, filling.r) }
			: { ...range, left: Math.min(range.left, filling.c), right: Math.max(range.right, filling.c) };
	});
	const summary = $derived.by(() => {
		if (!several) return '';
		let [sum, count] = [0, 0];
		for (let r = range.top; r <= range.bottom; r++)
			for (let c = range.left; c <= range.right; c++) {
				const cell = columns[c]?.kind === 'figure' ? cellAt(r, c) : undefined;
				const value = cell && valueIn(rowAt(r)!, columns[c], cell);
				if (typeof value !== 'number') continue;
				sum += value;
				count++;
			}
		if (!count) return '';
		const show = (v: number) => figure(v, 'money', 'cents');
		return `Sum ${show(sum)} · Average ${show(sum / count)} · Count ${count.toLocaleString('en-GB')}`;
	});

	/** Focuses a cell, for pages that lead here. */
	export function goTo(rowKey: string, columnKey: string) {
		const r = rows.findIndex(({ row }) => row.key === rowKey);
		// Where that column is not shown, the row at least is.
		const own = columns.findIndex((column) => column.key === columnKey);
		const c = own < 0 ? columns.findIndex((column) => column.kind === 'figure') : own;
		if (r < 0 || c < 0) return;
		select({ r, c });
		scroller?.focus();
	}
	export function focus() {
		scroller?.focus();
	}

	function select(to: Place, extend = false) {
		active = { r: clamp(to.r, rows.length), c: clamp(to.c, columns.length) };
		if (!extend) anchor = { ...active };
		void reveal();
	}
	const clamp = (v: number, n: number) => Math.max(0, Math.min(n - 1, v));

	async function reveal() {
		await tick();
		if (!scroller) return;
		// Rows are of one height, so that the place of each is known before it is drawn.
		const top = active.r * ROW;
		const visible = scroller.clientHeight - HEAD;
		if (top < scroller.scrollTop) scroller.scrollTop = top;
		else if (top + ROW > scroller.scrollTop + visible) scroller.scrollTop = top + ROW - visible;
		if (columns[active.c]?.frozen) return;
		const left = lefts[active.c] ?? 0;
		const right = left + (widths[active.c] ?? 0);
		if (left - frozenWidth < scroller.scrollLeft) scroller.scrollLeft = left - frozenWidth;
		else if (right > scroller.scrollLeft + scroller.clientWidth)
			scroller.scrollLeft = right - scroller.clientWidth;
	}

	const ARROWS: Record<string, [number, number]> = {
		ArrowUp: [-1, 0],
		ArrowDown: [1, 0],
		ArrowLeft: [0, -1],
		ArrowRight: [0, 1]
	};
	const filled = ({ r, c }: Place) => (cellAt(r, c)?.value ?? null) !== null;

	function onkeydown(event: KeyboardEvent) {
		if (editing || !rows.length || event.target !== scroller) return;
		const control = event.ctrlKey || event.metaKey;
		const row = rowAt(active.r)!;
		const column = columns[active.c];
		const cell = cellAt(active.r, active.c);
		const page = Math.max(1, Math.floor(((scroller?.clientHeight ?? 400) - HEAD) / ROW) - 1);
		const done = () => event.preventDefault();
		const wasLeaving = leaving;
		leaving = event.key === 'Escape' || (leaving && ['Tab', 'Shift'].includes(event.key));
		if (event.key in ARROWS) {
			const step = ARROWS[event.key];
			if (event.altKey && row.toggle && step[1] !== 0) {
				if (step[1] > 0 === (row.toggle === 'closed')) ontoggle?.(row);
				return done();
			}
			const size = { rows: rows.length, columns: columns.length };
			select(
				control ? edgeFrom(active, step, size, filled) : { r: active.r + step[0], c: active.c + step[1] },
				event.shiftKey
			);
			return done();
		}
		switch (event.key) {
			case 'Home':
				select({ r: control ? 0 : active.r, c: 0 }, event.shiftKey);
				return done();
			case 'End':
				select({ r: control ? rows.length - 1 : active.r, c: columns.length - 1 }, event.shiftKey);
				return done();
			case 'PageDown':
				select({ r: active.r + page, c: active.c }, event.shiftKey);
				return done();
			case 'PageUp':
				select({ r: active.r - page, c: active.c }, event.shiftKey);
				return done();
			case 'Tab': {
				const c = active.c + (event.shiftKey ? -1 : 1);
				// At the end of a row, and after Esc, Tab leaves as everywhere else.
				if (!edits || wasLeaving || c < 0 || c >= columns.length) return;
				select({ r: active.r, c });
				return done();
			}
			case ' ':
				if (cell && column.kind === 'figure') onopen?.(row, column);
				else if (row.toggle) ontoggle?.(row);
				return done();
			case 'Enter':
			case 'F2':
				if (event.altKey && event.key === 'Enter') {
					if (cell && column.kind === 'figure') onfollow?.(row, column);
				} else if (cell?.action) onaction?.(row, column);
				else if (typable(cell)) startEditing();
				else if (row.toggle && event.key === 'Enter') ontoggle?.(row);
				else if (event.key === 'Enter' && column?.kind === 'figure' && cell) onopen?.(row, column);
				return done();
			case 'ContextMenu':
				openMenuAtCell();
				return done();
			case 'F10':
				if (!event.shiftKey) return;
				openMenuAtCell();
				return done();
			case 'Delete':
			case 'Backspace':
				if (event.altKey) return;
				clearRange();
				return done();
			case 'Escape':
				anchor = { ...active };
				return;
		}
		if (control) {
			const key = event.key.toLowerCase();
			if (key === 'a') {
				anchor = { r: 0, c: 0 };
				active = { r: rows.length - 1, c: columns.length - 1 };
				return done();
			}
			if (!edits) return;
			if (key === 'z' && !event.shiftKey) {
				edits.undo();
				return done();
			}
			if (key === 'y' || (key === 'z' && event.shiftKey)) {
				edits.redo();
				return done();
			}
			if (key === 'r') {
				fill('right');
				return done();
			}
			if (key === 'd') {
				fill('down');
				return done();
			}
			return;
		}
		if (!event.altKey && event.key.length === 1 && typable(cell)) {
			startEditing(event.key);
			done();
		} else if (!event.altKey && /^[0-9=]$/.test(event.key) && cell && edits) onsay?.(reasonOf(cell));
	}

	const typable = (cell: GridCell | undefined) => cell?.editable === true || cell?.spreads === true;
	const reasonOf = (cell: GridCell | undefined) =>
		cell?.reason ?? 'This figure is calculated and cannot be typed.';

	function startEditing(first?: string) {
		const row = rowAt(active.r)!;
		const cell = cellAt(active.r, active.c)!;
		const edit = pending(row, columns[active.c], cell);
		const value = edit ? edit.value : (cell.under ?? cell.value);
		const asPercent = format(row, cell) === 'percent' && typeof value === 'number';
		const text = asPercent ? `${plain(Number((value * 100).toPrecision(12)))}%` : plain(value);
		editing = { ...active, text: first ?? text };
	}

	/** Holds typing in the input until it is committed; the grid takes the focus back. */
	function input(node: HTMLInputElement) {
		node.focus();
		if (editing && node.value.length > 1) node.select();
	}

	function commit(move: [number, number] | null) {
		if (!editing) return;
		const { r, c, text } = editing;
		const row = rowAt(r);
		const cell = cellAt(r, c);
		if (!row || !cell) {
			editing = null;
			return;
		}
		const value = readTyped(text, format(row, cell), valueIn(row, columns[c], cell));
		if (value === undefined) {
			onsay?.(
				`“${text}” is no number. Type one such as ${userStyle.decimal === ',' ? '1.234,50' : '1,234.50'}, 12k, =1200*1${userStyle.decimal}05 or +5%, or leave the cell empty.`
			);
			return;
		}
		editing = null;
		if (cell.spreads && !cell.editable) {
			scroller?.focus();
			if (value !== null && value !== cell.value) onspread?.([{ row, column: columns[c] }], value);
			return;
		}
		put([{ r, c, value }]);
		scroller?.focus();
		if (move) select({ r: r + move[0], c: c + move[1] });
	}

	function put(list: (Place & { value: number | null })[]) {
		edits?.apply(
			list.map(({ r, c, value }) => {
				const [row, column, cell] = [rowAt(r)!, columns[c], cellAt(r, c)!];
				return { ...addressOf(row, column, cell), before: cell.typed ?? null, value };
			})
		);
	}

	function onInputKey(event: KeyboardEvent) {
		event.stopPropagation();
		if (event.key === 'Enter') commit([event.shiftKey ? -1 : 1, 0]);
		else if (event.key === 'Tab') commit([0, event.shiftKey ? -1 : 1]);
		else if (event.key === 'Escape') {
			editing = null;
			scroller?.focus();
		} else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 's') {
			// The page saves; what is being typed belongs to it.
			commit(null);
			scroller?.dispatchEvent(new KeyboardEvent('keydown', { key: 's', ctrlKey: true, bubbles: true }));
		} else return;
		event.preventDefault();
	}

	const writable = ({ r, c }: Place) => edits !== undefined && cellAt(r, c)?.editable === true;

	const clearable = (at: Place) =>
		writable(at) || (edits !== undefined && cellAt(at.r, at.c)?.erasable === true);

	function clearRange() {
		const list = placesOf(range).filter(clearable);
		if (list.length) put(list.map((at) => ({ ...at, value: null })));
		else if (edits) onsay?.('There is nothing here that can be cleared.');
	}

	const numberAt = (r: number, c: number): number | null => {
		const cell = cellAt(r, c);
		const value = cell && valueIn(rowAt(r)!, columns[c], cell);
		return typeof value === 'number' ? value : null;
	};
	/** A block takes the values of its first column or row; a single cell those of its neighbour before it. */
	function fill(direction: 'right' | 'down') {
		const right = direction === 'right';
		const alone = right ? widthOfBlock(range) === 1 : heightOf(range) === 1;
		const from = (right ? range.left : range.top) - (alone ? 1 : 0);
		if (from < 0) return;
		const list = placesOf(range).filter((at) => writable(at) && (right ? at.c : at.r) > from);
		put(list.map((at) => ({ ...at, value: right ? numberAt(at.r, from) : numberAt(from, at.c) })));
	}
	/** What the fill handle was drawn over goes on from what is chosen. */
	function fillFromHandle() {
		const target = fillRange;
		filling = null;
		if (!target) return;
		const list: (Place & { value: number | null })[] = [];
		const along = (line: Place[], onto: Place[]) =>
			continued(
				line.map(({ r, c }) => numberAt(r, c)),
				onto.length
			).forEach((value, i) => {
				if (writable(onto[i])) list.push({ ...onto[i], value });
			});
		const counted = (from: number, to: number) =>
			Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => from + i);
		if (heightOf(target) > heightOf(range))
			for (const c of counted(range.left, range.right)) {
				const line = counted(range.top, range.bottom).map((r) => ({ r, c }));
				along(
					line,
					counted(range.bottom + 1, target.bottom).map((r) => ({ r, c }))
				);
				along(
					[...line].reverse(),
					counted(target.top, range.top - 1)
						.reverse()
						.map((r) => ({ r, c }))
				);
			}
		else
			for (const r of counted(range.top, range.bottom)) {
				const line = counted(range.left, range.right).map((c) => ({ r, c }));
				along(
					line,
					counted(range.right + 1, target.right).map((c) => ({ r, c }))
				);
				along(
					[...line].reverse(),
					counted(target.left, range.left - 1)
						.reverse()
						.map((c) => ({ r, c }))
				);
			}
		put(list);
		anchor = { r: target.top, c: target.left };
		active = { r: target.bottom, c: target.right };
	}

	function copied(withHeads: boolean): string {
		const lines: string[][] = [];
		const chosen = columns.slice(range.left, range.right + 1);
		if (withHeads) lines.push([head, ...chosen.map((c) => [c.group, c.label].filter(Boolean).join(' '))]);
		for (let r = range.top; r <= range.bottom; r++) {
			const row = rowAt(r)!;
			lines.push([
				...(withHeads ? [row.label] : []),
				...chosen.map((column) => {
					const cell = cellOf(row, column);
					if (!cell || column.kind === 'shape' || column.kind === 'bar') return '';
					return column.kind === 'text' ? (cell.text ?? '') : plain(valueIn(row, column, cell));
				})
			]);
		}
		return writeBlock(lines);
	}
	function oncopy(event: ClipboardEvent) {
		if (editing) return;
		event.clipboardData?.setData('text/plain', copied(false));
		event.preventDefault();
	}
	function oncut(event: ClipboardEvent) {
		if (editing || !edits) return;
		oncopy(event);
		clearRange();
	}
	async function copyFromMenu(withHeads: boolean) {
		const text = copied(withHeads);
		scroller?.focus();
		try {
			await navigator.clipboard.writeText(text);
			onsay?.('Copied.');
		} catch {
			onsay?.('The browser does not let this page copy by itself; press Ctrl+C.');
		}
	}

	function onpaste(event: ClipboardEvent) {
		if (editing || !edits) return;
		const text = event.clipboardData?.getData('text/plain') ?? '';
		if (!text) return;
		event.preventDefault();
		pasteText(text);
	}
	async function pasteFromMenu() {
		scroller?.focus();
		try {
			const text = await navigator.clipboard.readText();
			if (text) pasteText(text);
			else onsay?.('There is nothing to paste.');
		} catch {
			onsay?.('The browser does not let this page paste by itself; press Ctrl+V.');
		}
	}
	function pasteText(text: string) {
		const block = readBlock(text);
		const plan = planPaste(block, range, { rows: rows.length, columns: columns.length }, ({ r, c }) => {
			const cell = cellAt(r, c);
			return {
				editable: cell?.editable === true,
				format: cell ? format(rowAt(r)!, cell) : 'number',
				reason: reasonOf(cell)
			};
		});
		if (plan.left.length || plan.outside || plan.shapesDiffer)
			pasting = { plan, pasted: { rows: block.length, columns: Math.max(...block.map((l) => l.length)) } };
		else carryOut(plan);
	}
	function carryOut(plan: PastePlan) {
		put(plan.put);
		anchor = { r: plan.block.top, c: plan.block.left };
		active = { r: plan.block.bottom, c: plan.block.right };
		const n = plan.put.length;
		const out = plan.left.length + plan.outside;
		onsay?.(
			`${n.toLocaleString('en-GB')} ${n === 1 ? 'cell' : 'cells'} pasted${out ? `, ${out.toLocaleString('en-GB')} left out` : ''}.`
		);
	}

	/** The place that something in the grid's body belongs to. */
	function placeOf(target: EventTarget | null): Place | null {
		const node = (target as Element | null)?.closest<HTMLElement>('[data-c]');
		const line = node?.closest<HTMLElement>('[data-r]');
		return node && line ? { r: Number(line.dataset.r), c: Number(node.dataset.c) } : null;
	}
	function onpointerdown(event: PointerEvent) {
		const place = placeOf(event.target);
		if (!place || (event.target as Element).closest('input')) return;
		if (event.button === 2) {
			if (!contains(range, place)) select(place);
			return;
		}
		if (event.button !== 0) return;
		if (editing) commit(null);
		if ((event.target as Element).closest('.handle')) {
			dragging = 'fill';
			event.preventDefault();
			return;
		}
		dragging = 'range';
		select(place, event.shiftKey);
	}
	/** Said of a cell when the pointer rests on it; not kept on every cell that scrolls by. */
	let explained: HTMLElement | null = null;
	function explain(node: HTMLElement, { r, c }: Place) {
		if (explained) explained.title = '';
		explained = node;
		const [row, cell] = [rowAt(r), cellAt(r, c)];
		const figure = row && cell && columns[c].kind === 'figure' && cell.value !== null;
		const own = typeof cell?.title === 'function' ? cell.title() : cell?.title;
		node.title = own ?? (figure ? exact(cell.value, format(row, cell)) : '');
	}
	// The element under the pointer shows another row after scrolling.
	$effect(() => {
		void drawnRows;
		void drawn;
		if (explained) explained.title = '';
	});
	function onpointerover(event: PointerEvent) {
		const place = placeOf(event.target);
		if (!place) return;
		if (!dragging) return explain((event.target as Element).closest<HTMLElement>('[data-c]')!, place);
		if (dragging === 'fill') filling = place;
		else active = place;
	}
	function onclick(event: MouseEvent) {
		const place = placeOf(event.target);
		if (!place || several) return;
		const [row, column, cell] = [rowAt(place.r)!, columns[place.c], cellAt(place.r, place.c)];
		if (!cell) return;
		if (cell.action) onaction?.(row, column);
		else if (opensOnClick && column.kind === 'figure') onopen?.(row, column);
	}
	function ondblclick(event: MouseEvent) {
		const place = placeOf(event.target);
		if (!place) return;
		const cell = cellAt(place.r, place.c);
		if (edits && typable(cell)) startEditing();
		else if (cell && columns[place.c].kind === 'figure') onopen?.(rowAt(place.r)!, columns[place.c]);
	}
	/** From the keyboard the menu opens at the chosen cell. */
	function openMenuAtCell() {
		const box = document.getElementById(`${id}-${active.r}-${active.c}`)?.getBoundingClientRect();
		if (box) menuAt = { x: box.left + 12, y: box.bottom };
	}
	function oncontextmenu(event: MouseEvent) {
		if (editing || !rows.length) return;
		event.preventDefault();
		if (event.button === 2 && placeOf(event.target)) menuAt = { x: event.clientX, y: event.clientY };
		else openMenuAtCell();
	}
	const menuGroups = $derived.by((): MenuItem[][] => {
		if (!menuAt) return [];
		const [row, column, cell] = [rowAt(active.r), columns[active.c], cellAt(active.r, active.c)];
		if (!row || !column) return [];
		const here: MenuItem[] = [];
		if (cell && column.kind === 'figure' && onopen)
			here.push({ label: 'What it is made of', keys: 'Space', act: () => onopen(row, column) });
		if (cell && column.kind === 'figure' && onfollow)
			here.push({
				label: 'Go to where it comes from',
				keys: 'Alt+Enter',
				act: () => onfollow(row, column)
			});
		if (cell?.action) here.push({ label: 'Open', keys: 'Enter', act: () => onaction?.(row, column) });
		const changing: MenuItem[] = [];
		if (edits) {
			const any = placesOf(range).some((at) => writable(at));
			changing.push(
				{ label: 'Paste', keys: 'Ctrl+V', act: () => void pasteFromMenu() },
				{ label: 'Fill right', keys: 'Ctrl+R', disabled: !any, act: () => fill('right') },
				{ label: 'Fill down', keys: 'Ctrl+D', disabled: !any, act: () => fill('down') },
				{ label: 'Clear', keys: 'Del', disabled: !any, act: clearRange }
			);
			if (onspread) {
				const cells = placesOf(range).flatMap(({ r, c }) =>
					typable(cellAt(r, c)) ? [{ row: rowAt(r)!, column: columns[c] }] : []
				);
				changing.push({
					label: several ? 'Change these together …' : 'Change or spread …',
					disabled: !cells.length,
					act: () => onspread(cells, null)
				});
			}
		}
		const folding: MenuItem[] = [];
		if (row.toggle && ontoggle)
			folding.push({
				label: row.toggle === 'open' ? `Fold ${row.label}` : `Unfold ${row.label}`,
				keys: row.toggle === 'open' ? 'Alt+←' : 'Alt+→',
				act: () => ontoggle(row)
			});
		if (column.span && onfold) {
			const span = column.span;
			folding.push({
				label: `${span.to > span.from ? 'Unfold' : 'Fold'} Q${calendar.quarter(span.from)}`,
				act: () => onfold(span)
			});
		}
		return [
			here,
			moreMenu?.(row, column) ?? [],
			[
				{ label: 'Copy', keys: 'Ctrl+C', act: () => void copyFromMenu(false) },
				{ label: 'Copy with headings', act: () => void copyFromMenu(true) }
			],
			changing,
			folding
		];
	});

	onMount(() => {
		const first = columns.findIndex((c) => c.span && open >= c.span.from && open <= c.span.to);
		// One closed month stays in sight, so that the boundary is.
		if (startsAtOpen && first > 1 && scroller) scroller.scrollLeft = lefts[first - 1] - frozenWidth;
		// What is chosen stays in sight when the side sheet or a bar takes room.
		const watch = new ResizeObserver(() => {
			room = scroller?.clientWidth ?? 0;
			if (focused) void reveal();
		});
		if (scroller) watch.observe(scroller);
		const stop = () => {
			if (dragging === 'fill') fillFromHandle();
			dragging = null;
		};
		window.addEventListener('pointerup', stop);
		return () => {
			watch.disconnect();
			window.removeEventListener('pointerup', stop);
		};
	});

	const describe = (row: GridRow, column: GridColumn, cell: GridCell): string => {
		const parts: string[] = [];
		if (pending(row, column, cell)) parts.push('not saved');
		else if (cell.preview) parts.push('with what is not saved');
		if (cell.override) parts.push('typed over its basis');
		if (cell.blocked) parts.push('blocked by a combination rule');
		for (const glyph of cell.glyphs ?? []) parts.push(glyph.words);
		if (column.span !== undefined && column.span.to < open) parts.push('closed');
		else if (cell.editable) parts.push('can be typed');
		else if (cell.spreads) parts.push('a total that can be typed and is spread');
		return parts.length ? `, ${parts.join(', ')}` : '';
	};
	/** All that is drawn of a cell, in one step: a derived value for each part would cost more than the drawing. */
	function viewOf(row: GridRow, r: number, column: GridColumn, c: number) {
		const cell = cellOf(row, column);
		const place = { r, c };
		const isActive = active.r === r && active.c === c;
		const chosen = contains(range, place);
		const last = range.bottom === r && range.right === c;
		const classes = classesOf(column, cell, {
			unsaved: pending(row, column, cell) !== undefined,
			chosen: several && chosen,
			drawnOver: fillRange !== null && !chosen && contains(fillRange, place),
			active: isActive,
			focused
		});
		const typing = editing !== null && editing.r === r && editing.c === c;
		return {
			cell,
			classes,
			chosen,
			id: isActive ? `${id}-${r}-${c}` : undefined,
			readonly: cell?.editable ? undefined : (true as const),
			draws: typing ? 'typing' : !cell ? 'nothing' : column.kind,
			text: cell ? shown(row, column, cell) : '',
			/** There is more in it than its figure. */
			more: isActive || last || cell?.glyphs !== undefined,
			words: isActive && focused && cell ? describe(row, column, cell) : '',
			handle: last && edits !== undefined && focused && writable(place)
		};
	}
	/** The leftmost column that is not hidden behind the frozen ones. */
	const leftmost = $derived.by(() => {
		const edge = ($along.scrollOffset ?? 0) + frozenWidth;
		return columns.findIndex((column, c) => !column.frozen && lefts[c] + widths[c] > edge + 24);
	});
	const goesOn = (c: number) => c > 0 && columns[c].group === columns[c - 1].group;
</script>

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
		aria-activedescendant={rows.length ? `${id}-${active.r}-${active.c}` : undefined}
		{onkeydown}
		{oncopy}
		{oncut}
		{onpaste}
		{onpointerdown}
		{onpointerover}
		{onclick}
		{ondblclick}
		{oncontextmenu}
		onfocus={() => {
			focused = true;
			leaving = false;
			onenter?.();
		}}
		onpointerenter={() => onenter?.()}
		onblur={() => (focused = false)}
	>
		<div class="head" role="row" aria-rowindex={1} style:height="{HEAD}px" style:width="{width}px">
			<div class="pinned" role="presentation" style:width="{frozenWidth}px">
				<div class="corner" role="columnheader" aria-colindex={1} style:width="{nameWidth}px">
					{head}
					{@render grip(NAME)}
				</div>
				{#each frozen as { column, c } (column.key)}
					{@render title(column, c)}
				{/each}
			</div>
			{#each drawn as { column, c } (column.key)}
				{@render title(column, c)}
			{/each}
		</div>
		<div class="body" role="presentation" style:height="{$down.getTotalSize()}px" style:width="{width}px">
			{#each drawnRows as r, at (at)}
				{@const entry = rows[r]}
				{#if entry}
					{@const row = entry.row}
					<div
						class="row {row.kind}"
						role="row"
						aria-rowindex={r + 2}
						aria-level={(row.indent ?? entry.depth) + 1}
						aria-expanded={row.toggle ? row.toggle === 'open' : undefined}
						style:transform="translateY({r * ROW}px)"
						data-row={row.key}
						data-r={r}
					>
						<div class="pinned" role="presentation" style:width="{frozenWidth}px">
							<div
								class="name"
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
							{#each frozen as { column, c } (column.key)}
								{@render figureCell(row, r, column, c)}
							{/each}
						</div>
						{#each drawn as { column, c } (column.key)}
							{@render figureCell(row, r, column, c)}
						{/each}
					</div>
				{/if}
			{/each}
		</div>
	</div>
	<div class="foot" class:empty={!summary && !seeks}>
		{#if seeks}
			<label class="seek"
				><span class="sr-only">Find rows</span>
				<input type="search" placeholder="Find rows" bind:value={words} oninput={seek} />
			</label>
			{#if words}<span>{rows.length.toLocaleString('en-GB')} {rows.length === 1 ? 'row' : 'rows'}</span>{/if}
		{/if}
		<span class="summary" aria-live="polite">{summary}</span>
	</div>
	<span class="sr-only" id="{id}-keys"
		>Arrow keys go from cell to cell, Space says what a figure is made of.{edits
			? ' Type to change a cell. Escape, then Tab leaves the grid.'
			: ''}</span
	>
</div>
{#if menuAt}
	<GridMenu
		x={menuAt.x}
		y={menuAt.y}
		groups={menuGroups}
		onclose={() => {
			menuAt = null;
			scroller?.focus();
		}}
	/>
{/if}
{#if pasting}
	<PasteDialog
		plan={pasting.plan}
		pasted={pasting.pasted}
		chosen={{ rows: heightOf(range), columns: widthOfBlock(range) }}
		nameOf={({ r, c }) => `${rowAt(r)?.label ?? ''}, ${columns[c]?.label ?? ''}`}
		onpaste={() => pasting && carryOut(pasting.plan)}
		onclose={() => {
			pasting = null;
			scroller?.focus();
		}}
	/>
{/if}

{#snippet title(column: GridColumn, c: number)}
	<div
		class="title"
		class:words={column.kind !== 'figure' && column.align !== 'right'}
		class:apart={column.apart}
		class:grouped
		style:left="{lefts[c]}px"
		style:width="{widths[c]}px"
		class:openmonth={column.span !== undefined && column.span.to >= open}
		role="columnheader"
		aria-colindex={c + 2}
	>
		{#if grouped}<span class="group">{goesOn(c) && c !== leftmost ? '' : (column.group ?? '')}</span>{/if}
		<span
			>{#if grouped && column.group}<i class="sr-only">{column.group}, </i>{/if}{column.label}</span
		>
		{#if column.span !== undefined}
			<RodSegment
				{calendar}
				span={column.span}
				{open}
				first={c === firstPeriod || (grouped && !goesOn(c))}
				{onfold}
			/>
		{:else}
			<span class="norod"></span>
		{/if}
		{@render grip(column.key)}
	</div>
{/snippet}

{#snippet figureCell(row: GridRow, r: number, column: GridColumn, c: number)}
	{@const view = viewOf(row, r, column, c)}
	<div
		id={view.id}
		class={view.classes}
		style:left="{lefts[c]}px"
		style:width="{widths[c]}px"
		role="gridcell"
		aria-colindex={c + 2}
		aria-selected={view.chosen}
		aria-readonly={view.readonly}
		data-c={c}
		data-column={column.key}
	>
		{#if view.draws === 'figure' || view.draws === 'text'}
			<!-- It stays the same element when a cell is chosen: a click needs it at its beginning and end. -->
			<span class="value">{view.text}</span>
			{#if view.more}
				{#if view.cell?.glyphs?.length}<span class="glyphs" aria-hidden="true"
						>{#each view.cell.glyphs as glyph (glyph.shape)}<i class={glyph.shape} title={glyph.words}
							></i>{/each}</span
					>{/if}
				{#if view.words}<span class="sr-only">{view.words}</span>{/if}
				{#if view.handle}
					<span class="handle" title="Draw over neighbours to fill them"></span>
				{/if}
			{/if}
		{:else if view.draws === 'shape'}
			<Shape values={view.cell?.values ?? []} />
		{:else if view.draws === 'bar'}
			<Bar
				value={typeof view.cell?.value === 'number' ? view.cell.value : 0}
				bad={view.cell?.tone === 'bad'}
			/>
		{:else if view.draws === 'typing' && editing}
			<input
				class="typing"
				aria-label="{row.label}, {column.label}"
				bind:value={editing.text}
				use:input
				onkeydown={onInputKey}
				onblur={() => commit(null)}
			/>
		{/if}
	</div>
{/snippet}

{#snippet grip(key: string)}
	<span
		class="grip"
		role="presentation"
		title="Draw to change the width; twice for the usual one"
		onmousedown={(e) => {
			e.preventDefault();
			table.resize(key, e);
		}}
		ontouchstart={(e) => table.resize(key, e)}
		ondblclick={(e) => {
			e.stopPropagation();
			table.resetWidth(key);
		}}
	></span>
{/snippet}

<style>
	.frame {
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
	.head {
		min-width: 100%;
		position: sticky;
		top: 0;
		z-index: 3;
		background: var(--ground);
		border-bottom: 1px solid var(--rule-strong);
	}
	/** The name and the frozen columns: in sight however far it is scrolled to the right. */
	.pinned {
		position: sticky;
		left: 0;
		z-index: 2;
		height: 100%;
		background: var(--ground);
	}
	.corner {
		position: absolute;
		top: 0;
		bottom: 0;
		left: 0;
		display: flex;
		align-items: end;
		padding: 0 8px 4px;
		font-weight: 600;
		color: var(--ink-2);
		border-right: 1px solid var(--rule-strong);
	}
	.title {
		position: absolute;
		top: 0;
		bottom: 0;
		display: flex;
		flex-direction: column;
		justify-content: space-between;
		font-weight: 600;
		padding-top: 4px;
		min-width: 0;
	}
	.title > span {
		text-align: right;
		padding-right: 6px;
		white-space: nowrap;
		overflow: hidden;
		text-overflow: ellipsis;
	}
	.title.words > span {
		text-align: left;
		padding-left: 8px;
	}
	.title.openmonth > span {
		font-weight: 400;
		color: var(--ink-2);
	}
	.norod {
		height: 20px;
	}
	.title:not(:has(.segment)) {
		justify-content: flex-end;
		padding-bottom: 4px;
	}
	.title:not(:has(.segment)) .norod {
		display: none;
	}
	.body {
		position: relative;
		/* Rows that are not drawn yet while it is scrolled fast. */
		background-image: repeating-linear-gradient(0deg, var(--rule) 0 1px, transparent 1px var(--row));
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
	.name {
		position: absolute;
		top: 0;
		bottom: 0;
		left: 0;
		display: flex;
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
	.cell {
		position: absolute;
		top: 0;
		bottom: 0;
		padding: 0 6px;
		/* One line each, so that no box has to be aligned. */
		line-height: calc(var(--row) - 1px);
		text-align: right;
		border-bottom: 1px solid var(--rule);
		white-space: nowrap;
		cursor: cell;
		font-variant-numeric: tabular-nums;
		user-select: none;
	}
	.cell.text,
	.cell.bar,
	.cell.shape {
		text-align: left;
		background: var(--ground);
		cursor: default;
	}
	.cell.rightward {
		text-align: right;
		font-variant-numeric: tabular-nums;
	}
	.cell > :global(svg) {
		display: inline-block;
		vertical-align: middle;
	}
	.cell.action {
		cursor: pointer;
	}
	.cell.action .value {
		text-decoration: underline dotted;
		text-underline-offset: 3px;
	}
	.cell.text {
		overflow: hidden;
		text-overflow: ellipsis;
	}
	.pinned .title,
	.pinned .cell {
		border-right: 1px solid var(--rule-strong);
	}
	.apart {
		border-left: 1px solid var(--rule-strong);
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
	.editable {
		background-color: var(--sheet);
	}
	/* The line to write on: drawn as a background, for a box of its own in every cell slows scrolling down. */
	.spreads,
	.editable {
		--dash: 1px;
		--gap: 2px;
		background-image: repeating-linear-gradient(
			90deg,
			var(--rule-strong) 0 var(--dash),
			transparent var(--dash) calc(var(--dash) + var(--gap))
		);
		background-position: 6px calc(100% - 3px);
		background-size: calc(100% - 12px) 1px;
		background-repeat: no-repeat;
	}
	.spreads {
		--dash: 3px;
		--gap: 3px;
	}
	.unsaved {
		background: var(--plum-tint);
		color: var(--plum);
		font-style: italic;
		font-weight: 600;
	}
	.preview {
		color: var(--plum);
		font-style: italic;
	}
	.unsaved::before {
		content: '';
		position: absolute;
		left: 0;
		top: 2px;
		bottom: 2px;
		width: 3px;
		background: var(--plum);
	}
	.override .value::before {
		content: '^';
		color: var(--timber);
		font-weight: 600;
		padding-right: 2px;
	}
	.good {
		color: var(--green);
	}
	.bad,
	.error,
	.attention {
		color: var(--clay);
	}
	.error {
		font-family: var(--font-mono);
		font-size: 11px;
	}
	.chosen {
		background: var(--green-tint);
	}
	.active {
		box-shadow: inset 0 0 0 1px var(--rule-strong);
	}
	.active.focused {
		box-shadow: inset 0 0 0 2px var(--green);
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
	.blocked {
		background-image: repeating-linear-gradient(-45deg, transparent 0 5px, var(--rule-strong) 5px 6px);
	}
	.drawnover {
		background: var(--plum-tint);
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
	.grip {
		position: absolute;
		right: 0;
		top: 0;
		bottom: 0;
		width: 5px;
		cursor: col-resize;
	}
	.grip:hover {
		background: var(--rule-strong);
	}
	.glyphs {
		position: absolute;
		right: 1px;
		top: 2px;
		display: flex;
		gap: 1px;
	}
	.glyphs i {
		width: 5px;
		height: 5px;
		background: var(--timber);
	}
	.glyphs .note {
		clip-path: polygon(0 0, 100% 0, 100% 100%);
	}
	.glyphs .items {
		background: none;
		border-block: 2px solid var(--timber);
	}
	.glyphs .attachment {
		border-radius: 50%;
	}
	.title .group {
		height: 20px;
		text-align: left;
		font-weight: 600;
		color: var(--ink);
		overflow: visible;
		padding-left: 6px;
	}
	.seek input {
		border: 1px solid var(--rule-strong);
		border-radius: 4px;
		background: var(--sheet);
		font: inherit;
		font-size: 12px;
		padding: 1px 8px;
		width: 150px;
	}
	.summary {
		margin-left: auto;
	}
	.foot.empty {
		display: none;
	}
	.foot {
		display: flex;
		gap: 12px;
		align-items: center;
		min-height: 26px;
		padding: 2px 10px 2px 8px;
		font-size: 12px;
		color: var(--ink-2);
		background: var(--ground);
		border-top: 1px solid var(--rule);
	}
</style>
