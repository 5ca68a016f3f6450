/** The grid's rows and columns as a headless table: the tree laid flat, filtered by words, columns of any width. */
import {
	columnFilteringFeature,
	columnResizingFeature,
	columnSizingFeature,
	createExpandedRowModel,
	createFilteredRowModel,
	createTable,
	globalFilteringFeature,
	rowExpandingFeature,
	tableFeatures
} from '@tanstack/svelte-table';
import { onMount, untrack } from 'svelte';
import { z } from 'zod';
import { keep, readKept } from '../kit/kept';
import type { GridColumn, GridRow } from './types';

const features = tableFeatures({
	columnFilteringFeature,
	globalFilteringFeature,
	filteredRowModel: createFilteredRowModel(),
	rowExpandingFeature,
	expandedRowModel: createExpandedRowModel(),
	columnSizingFeature,
	columnResizingFeature
});

/** The name of the column of row heads. */
export const NAME = '@name';

interface Source {
	rows: readonly GridRow[];
	columns: readonly GridColumn[];
	labelWidth: number;
	/** Words that a row, or one above it, must hold. */
	words: string;
	/** Under which name the browser keeps widths; not at all where it is absent. */
	keeps?: string;
}
const Widths = z.record(z.string(), z.number().min(0).max(2000));

/** @param source is read anew whenever it changes */
export function gridTable(source: Source) {
	/** A row is found by its own name and the names above it. */
	const sought = $derived.by(() => {
		const found = new Map<string, string>();
		if (!source.words) return found;
		const walk = (rows: readonly GridRow[], above: string) => {
			for (const row of rows) {
				const own = `${above} ${row.label}`.toLowerCase();
				found.set(row.key, own);
				walk(row.rows ?? [], own);
			}
		};
		walk(source.rows, '');
		return found;
	});
	const columns = $derived([
		{
			id: NAME,
			accessorFn: (row: GridRow) => sought.get(row.key) ?? '',
			size: source.labelWidth,
			minSize: 80
		},
		...source.columns.map((c) => ({
			id: c.key,
			accessorFn: () => '',
			size: c.width,
			minSize: 40,
			enableGlobalFilter: false
		}))
	]);
	const table = createTable({
		features,
		get data() {
			return source.rows as GridRow[];
		},
		get columns() {
			return columns;
		},
		getRowId: (row: GridRow) => row.key,
		getSubRows: (row: GridRow) => row.rows,
		// Folded rows are not given at all.
		get state() {
			return { expanded: true as const, globalFilter: source.words.trim().toLowerCase() };
		},
		getColumnCanGlobalFilter: (column) => column.id === NAME,
		globalFilterFn: (row, column, words: string) => String(row.getValue(column)).includes(words),
		filterFromLeafRows: true,
		maxLeafRowFilterDepth: 100,
		autoResetExpanded: false,
		columnResizeMode: 'onChange' as const
	});
	const flat = $derived(table.getRowModel().rows.map((r) => ({ row: r.original, depth: r.depth })));
	const widths = $derived(new Map(table.getAllLeafColumns().map((c) => [c.id, c.getSize()])));
	const resizers = $derived(
		new Map(table.getLeafHeaders().map((h) => [h.column.id, h.getResizeHandler()] as const))
	);
	const { keeps } = untrack(() => source);
	if (keeps !== undefined) {
		let known = false;
		onMount(() => {
			const kept = readKept(keeps, Widths);
			if (kept) table.setColumnSizing(() => kept);
			known = true;
		});
		$effect(() => {
			const other = table.getAllLeafColumns().filter((c) => widths.get(c.id) !== c.columnDef.size);
			const own = Object.fromEntries(other.map((c) => [c.id, widths.get(c.id)]));
			if (known) keep(keeps, own);
		});
	}
	return {
		get rows() {
			return flat;
		},
		/** Rows that hold the words that are sought; others are shown because these stand under them. */
		get found() {
			const words = source.words.trim().toLowerCase();
			return flat.filter(({ row }) => sought.get(row.key)?.includes(words)).length;
		},
		/** By column, the rows' names among them. */
		get widths(): ReadonlyMap<string, number> {
			return widths;
		},
		/** Begins to draw a column wider or narrower. */
		resize: (key: string, event: MouseEvent | TouchEvent) => resizers.get(key)?.(event),
		/** Makes a column wider, or narrower by a negative number of pixels. */
		widen: (key: string, by: number) => {
			const least = table.getColumn(key)?.columnDef.minSize ?? 0;
			const width = Math.max(least, (widths.get(key) ?? 80) + by);
			table.setColumnSizing((former) => ({ ...former, [key]: width }));
		},
		/** Back to the width it had. */
		resetWidth: (key: string) => table.getColumn(key)?.resetSize(),
		resetWidths: () => table.resetColumnSizing(true)
	};
}
export type GridTable = ReturnType<typeof gridTable>;
