/** The menu of a cell. */
import type { Calendar } from '../../core/calendar/calendar';
import { isAlone, type Span } from '../../core/calendar/spans';
import { goesOn } from './editing/changes';
import { placesOf } from './range';
import { typable, type Sheet } from './sheet.svelte';
import type { MenuItem } from '../kit/menu';
import { isOpened, type GridColumn, type GridRow } from './types';

type At = (row: GridRow, column: GridColumn) => void;

/** What a page lets be done with its cells, and what the grid does itself. */
export interface MenuActs {
	calendar: Calendar;
	onopen?: At;
	onaction?: At;
	onfollow?: At;
	ontoggle?: (row: GridRow) => void;
	onfold?: (span: Span) => void;
	onwindow?: (span: Span) => void;
	onspread?: (cells: { row: GridRow; column: GridColumn }[], value: number | null) => void;
	/** What the page adds. */
	more?: (row: GridRow, column: GridColumn) => MenuItem[];
	copy: (heads: boolean) => void;
	paste: () => void;
	fill: (direction: 'right' | 'down') => void;
	/** Fills on in even steps. */
	go: (direction: 'right' | 'down') => void;
	clear: () => void;
	/** Makes the column of the chosen cell, or that of the rows' names, wider or narrower. */
	widen: (of: 'column' | 'names', narrower?: boolean) => void;
	usualWidths: () => void;
}

/** Its lines, in groups of those that belong together; some may be empty. */
export function menuOf(sheet: Sheet, acts: MenuActs): MenuItem[][] {
	const { r, c } = sheet.active;
	const [row, column] = [sheet.rowAt(r), sheet.columns[c]];
	if (!row || !column) return [];
	return [
		figureItems(sheet, acts, row, column),
		acts.more?.(row, column) ?? [],
		[
			{ label: 'Copy', keys: 'Ctrl+C', act: () => acts.copy(false) },
			{ label: 'Copy with headings', act: () => acts.copy(true) }
		],
		sheet.edits ? changeItems(sheet, acts) : [],
		[...foldItems(acts, row, column), ...windowItems(sheet, acts)],
		widthItems(acts)
	];
}

function figureItems(sheet: Sheet, acts: MenuActs, row: GridRow, column: GridColumn): MenuItem[] {
	const { onopen, onfollow } = acts;
	const cell = sheet.cellAt(sheet.active);
	const list: MenuItem[] = [];
	if (onopen && isOpened(cell, column))
		list.push({ label: 'What it is made of', keys: 'Space', act: () => onopen(row, column) });
	if (cell && column.kind === 'figure' && onfollow)
		list.push({ label: 'Go to where it comes from', keys: 'Alt+Enter', act: () => onfollow(row, column) });
	if (cell?.action) list.push({ label: 'Open', keys: 'Enter', act: () => acts.onaction?.(row, column) });
	return list;
}

function changeItems(sheet: Sheet, acts: MenuActs): MenuItem[] {
	const places = placesOf(sheet.range);
	const none = !places.some((at) => sheet.writable(at));
	const list: MenuItem[] = [
		{ label: 'Paste', keys: 'Ctrl+V', act: acts.paste },
		{ label: 'Fill right', keys: 'Ctrl+R', disabled: none, act: () => acts.fill('right') },
		{ label: 'Fill down', keys: 'Ctrl+D', disabled: none, act: () => acts.fill('down') },
		...(goesOn(sheet.range, 'right')
			? [{ label: 'Fill right in even steps', disabled: none, act: () => acts.go('right') }]
			: []),
		...(goesOn(sheet.range, 'down')
			? [{ label: 'Fill down in even steps', disabled: none, act: () => acts.go('down') }]
			: []),
		{ label: 'Clear', keys: 'Del', disabled: none, act: acts.clear }
	];
	const { onspread } = acts;
	if (onspread) {
		const cells = places
			.filter((at) => typable(sheet.cellAt(at)))
			.map((at) => ({ row: sheet.rowAt(at.r)!, column: sheet.columns[at.c] }));
		list.push({
			label: sheet.several ? 'Change these together …' : 'Change or spread …',
			disabled: !cells.length,
			act: () => onspread(cells, null)
		});
	}
	return list;
}

/** The chosen months alone, where there are others. */
function windowItems(sheet: Sheet, { calendar, onwindow }: MenuActs): MenuItem[] {
	const { left, right } = sheet.range;
	const spans = sheet.columns.slice(left, right + 1).flatMap(({ span }) => (span ? [span] : []));
	const others = sheet.columns.some(({ span }, c) => span && (c < left || c > right));
	if (!onwindow || spans.length < 2 || !others) return [];
	const span = { from: Math.min(...spans.map((s) => s.from)), to: Math.max(...spans.map((s) => s.to)) };
	return [{ label: `Show these ${calendar.words.many} alone`, act: () => onwindow(span) }];
}

const widthItems = ({ widen, usualWidths }: MenuActs): MenuItem[] => [
	{ label: 'Wider column', keys: 'Alt+Shift+→', act: () => widen('column') },
	{ label: 'Narrower column', keys: 'Alt+Shift+←', act: () => widen('column', true) },
	{ label: 'Wider row names', act: () => widen('names') },
	{ label: 'Narrower row names', act: () => widen('names', true) },
	{ label: 'Usual widths', act: usualWidths }
];

function foldItems({ ontoggle, onfold, calendar }: MenuActs, row: GridRow, column: GridColumn): MenuItem[] {
	const list: MenuItem[] = [];
	if (row.toggle && ontoggle)
		list.push({
			label: row.toggle === 'open' ? `Fold ${row.label}` : `Unfold ${row.label}`,
			keys: row.toggle === 'open' ? 'Alt+←' : 'Alt+→',
			act: () => ontoggle(row)
		});
	if (column.span && onfold && !isAlone(calendar, column.span.from)) {
		const { span } = column;
		list.push({
			label: `${span.to > span.from ? 'Unfold' : 'Fold'} Q${calendar.quarter(span.from)}`,
			act: () => onfold(span)
		});
	}
	return list;
}
