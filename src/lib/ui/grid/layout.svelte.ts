/** Where a grid's rows and columns lie, and which of them are drawn: those in sight, and the chosen one's. */
import { createVirtualizer } from '@tanstack/svelte-virtual';
import { onDestroy, untrack } from 'svelte';
import { get } from 'svelte/store';
import { inPlaces } from './places';
import { scrollWatch } from './scroll-watch';
import type { GridColumn, Place } from './types';

/** What a layout is made from; asked anew whenever it changes. Lengths in pixels. */
export interface LayoutSource {
	readonly scroller: HTMLDivElement | undefined;
	readonly columns: readonly GridColumn[];
	readonly rowCount: number;
	readonly rowHeight: number;
	readonly headHeight: number;
	readonly nameWidth: number;
	/** By column. */
	readonly widths: ReadonlyMap<string, number>;
	/** Room inside the scroller; columns that grow share what the others leave of it. */
	readonly room: number;
	readonly active: Place;
}

/** Before anything is measured, and where the page is made on the server. */
const FIRST_SIGHT = { width: 1100, height: 620 };
/** Of a column that says nothing of its width. */
const USUAL = 80;

/** To be made while a component is. */
export function gridLayout(source: LayoutSource) {
	const widths = $derived.by(() => {
		const { columns, widths: wanted } = source;
		const own = columns.map((c) => wanted.get(c.key) ?? USUAL);
		const growing = columns.filter((c) => c.grows).length;
		const left = source.room - source.nameWidth - own.reduce((a, b) => a + b, 0);
		return growing && left > 0 ? own.map((w, i) => (columns[i].grows ? w + left / growing : w)) : own;
	});
	/** Left edges of the columns. */
	const lefts = $derived.by(() => {
		let left = source.nameWidth;
		return widths.map((w) => (left += w) - w);
	});
	const width = $derived(source.nameWidth + widths.reduce((a, b) => a + b, 0));
	const frozenWidth = $derived(
		source.nameWidth + source.columns.reduce((w, c, i) => w + (c.frozen ? widths[i] : 0), 0)
	);

	const watch = scrollWatch();
	// Read once: the effects below say what changes, and each of hundreds of columns is asked for its width.
	const first = untrack(() => ({ rows: source.rowCount, height: source.rowHeight, widths }));
	const down = createVirtualizer<HTMLDivElement, HTMLDivElement>({
		count: first.rows,
		getScrollElement: () => source.scroller ?? null,
		estimateSize: () => first.height,
		observeElementOffset: watch.observer(false),
		overscan: 4,
		initialRect: FIRST_SIGHT
	});
	const along = createVirtualizer<HTMLDivElement, HTMLDivElement>({
		horizontal: true,
		count: first.widths.length,
		getScrollElement: () => source.scroller ?? null,
		estimateSize: (c) => first.widths[c] ?? USUAL,
		observeElementOffset: watch.observer(true),
		overscan: 1,
		initialRect: FIRST_SIGHT
	});
	$effect(() => {
		const [count, size] = [source.rowCount, source.rowHeight];
		void source.scroller;
		untrack(() => {
			get(down).setOptions({
				count,
				getScrollElement: () => source.scroller ?? null,
				estimateSize: () => size
			});
			get(down).measure();
		});
	});
	$effect(() => {
		const [sizes, paddingStart] = [widths, source.nameWidth];
		void source.scroller;
		untrack(() => {
			get(along).setOptions({
				count: sizes.length,
				getScrollElement: () => source.scroller ?? null,
				estimateSize: (c) => sizes[c] ?? USUAL,
				paddingStart
			});
			get(along).measure();
		});
	});

	// Numbers, so that what is drawn is the same until one of them changes, however far it is scrolled.
	let sight = $state.raw({ top: 0, bottom: -1 });
	let height = $state(0);
	let left = $state(0);
	let firstDrawn = $state(0);
	let lastDrawn = $state(-1);
	onDestroy(
		down.subscribe((virtual) => {
			const items = virtual.getVirtualItems();
			const [top, bottom] = [items.at(0)?.index ?? 0, items.at(-1)?.index ?? -1];
			if (top !== sight.top || bottom !== sight.bottom) sight = { top, bottom };
			height = virtual.getTotalSize();
		})
	);
	onDestroy(
		along.subscribe((virtual) => {
			const items = virtual.getVirtualItems();
			firstDrawn = items.at(0)?.index ?? 0;
			lastDrawn = items.at(-1)?.index ?? -1;
			left = virtual.scrollOffset ?? 0;
		})
	);

	/** As many as were ever in sight at once. */
	let places = 0;
	const drawnRows = $derived.by(() => {
		places = Math.max(places, sight.bottom - sight.top + 1);
		return inPlaces(sight.top, places, source.rowCount);
	});
	const placed = $derived(source.columns.map((column, c) => ({ column, c })));
	const frozen = $derived(placed.filter(({ column }) => column.frozen));
	const moving = $derived(placed.filter(({ column }) => !column.frozen));
	/** As many as were ever in sight at once. */
	let columnPlaces = 0;
	const inSight = $derived.by(() => {
		const first = moving.findIndex(({ c }) => c >= firstDrawn);
		const last = moving.findLastIndex(({ c }) => c <= lastDrawn);
		if (first < 0 || last < first) return [];
		columnPlaces = Math.max(columnPlaces, last - first + 1);
		return inPlaces(first, columnPlaces, moving.length).map((i) => moving[i]);
	});
	/** The chosen cell's column is drawn wherever it is; out of sight it comes last. */
	const drawn = $derived.by(() => {
		const active = placed[source.active.c];
		return !active || active.column.frozen || inSight.includes(active) ? inSight : [...inSight, active];
	});
	/** The leftmost column that is not hidden behind the frozen ones. */
	const leftmost = $derived(
		source.columns.findIndex((column, c) => !column.frozen && lefts[c] + widths[c] > left + frozenWidth + 24)
	);

	function bring({ r, c }: Place, scroller: HTMLDivElement): void {
		const { rowHeight } = source;
		const top = r * rowHeight;
		const visible = scroller.clientHeight - source.headHeight;
		if (top < scroller.scrollTop) scroller.scrollTop = top;
		else if (top + rowHeight > scroller.scrollTop + visible) scroller.scrollTop = top + rowHeight - visible;
		if (source.columns[c]?.frozen) return;
		const before = lefts[c] ?? 0;
		const after = before + (widths[c] ?? 0);
		if (before - frozenWidth < scroller.scrollLeft) scroller.scrollLeft = before - frozenWidth;
		else if (after > scroller.scrollLeft + scroller.clientWidth)
			scroller.scrollLeft = after - scroller.clientWidth;
	}

	return {
		get widths() {
			return widths;
		},
		get lefts() {
			return lefts;
		},
		/** Of all columns with the rows' names. */
		get width() {
			return width;
		},
		/** Of all rows. */
		get height() {
			return height;
		},
		get frozenWidth() {
			return frozenWidth;
		},
		/** The row of each drawn place; places lie in no order. */
		get rows() {
			return drawnRows;
		},
		get frozen() {
			return frozen;
		},
		/** Columns that are drawn besides the frozen ones, by their places, which lie in no order. */
		get columns() {
			return drawn;
		},
		get leftmost() {
			return leftmost;
		},
		/** Rows that fit into sight below the head. */
		get page() {
			const visible = (source.scroller?.clientHeight ?? 400) - source.headHeight;
			return Math.max(1, Math.floor(visible / source.rowHeight) - 1);
		},
		/**
		 * Scrolls as little as brings a cell into sight. Rows are of one height: it need not be drawn yet, and is with the
		 * next change that is drawn.
		 */
		reveal(place: Place): void {
			const { scroller } = source;
			if (!scroller) return;
			bring(place, scroller);
			watch.now(scroller);
		},
		/** Scrolls so that a column is the first in sight. */
		beginAt(c: number): void {
			if (source.scroller) source.scroller.scrollLeft = lefts[c] - frozenWidth;
		}
	};
}
export type GridLayout = ReturnType<typeof gridLayout>;
