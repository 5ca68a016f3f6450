/** A sheet without a page: what is chosen in it, typed, filled, copied and pasted. */
import { describe, expect, it } from 'vitest';
import * as fc from 'fast-check';
import {
	clearChosen,
	carryOut,
	continueChosen,
	copied,
	fillChosen,
	fillOver,
	pasteInto
} from './editing/changes';
import { EditBatch } from './editing/edits.svelte';
import { drawnTo, linesFrom } from './editing/fill';
import { begins, commandOf, foldOf, placeAfter, type Key } from './keys';
import { menuOf } from './menu';
import { Pointer } from './pointer.svelte';
import { blockOf, contains, placesOf, type Block } from './range';
import { RodDrawing } from './head/rod-drawing.svelte';
import { Sheet } from './sheet.svelte';
import { Typing } from './editing/typing.svelte';
import type { GridCell, GridColumn, GridRow } from './types';
import { monthCalendar } from '../../core/calendar/calendar';

/** Rows a, b and their total; three months and a column of words. Cells of a and b can be typed. */
function example(cells: Record<string, Partial<GridCell>> = {}) {
	const row = (key: string, kind: GridRow['kind']): { row: GridRow } => ({
		row: { key, label: key.toUpperCase(), kind, format: 'number' }
	});
	const rows = [row('a', 'leaf'), row('b', 'leaf'), row('all', 'total')];
	const columns: GridColumn[] = [
		...['m1', 'm2', 'm3'].map((key): GridColumn => ({ key, label: key, kind: 'figure', width: 80 })),
		{ key: 'words', label: 'Words', kind: 'text', width: 80 }
	];
	const edits = new EditBatch();
	const values: Record<string, number> = { 'a/m1': 1, 'a/m2': 2, 'b/m1': 10 };
	const cell = (r: GridRow, c: GridColumn): GridCell => {
		if (c.kind === 'text') return { value: null, text: `about ${r.key}` };
		const at = `${r.key}/${c.key}`;
		const total = r.kind === 'total';
		const value = total ? 11 : (values[at] ?? null);
		return { value, typed: total ? null : value, editable: !total, spreads: total, ...cells[at] };
	};
	const sheet = new Sheet({ rows, columns, cell, edits, figures: 'whole' });
	return { sheet, edits, typed: () => edits.list.map((e) => `${e.row}/${e.column}=${e.value}`) };
}
const key = (name: string, ...held: ('Ctrl' | 'Shift' | 'Alt' | 'Meta')[]): Key => ({
	key: name,
	ctrlKey: held.includes('Ctrl'),
	metaKey: held.includes('Meta'),
	shiftKey: held.includes('Shift'),
	altKey: held.includes('Alt')
});

describe('keys', () => {
	const grid = { size: { rows: 9, columns: 5 }, page: 4, filled: () => true };
	it.each([
		[key('ArrowDown'), { r: 5, c: 2 }],
		[key('ArrowLeft'), { r: 4, c: 1 }],
		[key('ArrowRight', 'Ctrl'), { r: 4, c: 4 }],
		[key('ArrowUp', 'Meta', 'Shift'), { r: 0, c: 2 }],
		[key('Home'), { r: 4, c: 0 }],
		[key('Home', 'Ctrl'), { r: 0, c: 0 }],
		[key('End'), { r: 4, c: 4 }],
		[key('End', 'Ctrl'), { r: 8, c: 4 }],
		[key('PageDown'), { r: 8, c: 2 }],
		[key('PageUp'), { r: 0, c: 2 }],
		[key('Enter'), undefined]
	])('%j leads to %j', (pressed, to) => expect(placeAfter(pressed, { r: 4, c: 2 }, grid)).toEqual(to));
	it.each([
		[key(' '), 'open'],
		[key('Enter', 'Shift'), 'enter'],
		[key('Enter', 'Alt'), 'follow'],
		[key('F1'), 'help'],
		[key('F2'), 'type'],
		[key('F10', 'Shift'), 'menu'],
		[key('F10'), undefined],
		[key('Delete'), 'clear'],
		[key('Backspace', 'Alt'), undefined],
		[key('Escape'), 'one'],
		[key('a', 'Ctrl'), 'all'],
		[key('a'), undefined],
		[key('z', 'Meta'), 'undo'],
		[key('Z', 'Ctrl', 'Shift'), 'redo'],
		[key('y', 'Ctrl'), 'redo'],
		[key('r', 'Ctrl'), 'fill right'],
		[key('D', 'Ctrl'), 'fill down'],
		[key('s', 'Ctrl'), undefined],
		[key('ArrowRight', 'Alt', 'Shift'), 'wider'],
		[key('ArrowLeft', 'Alt', 'Shift'), 'narrower'],
		[key('ArrowLeft', 'Shift'), undefined]
	])('%j does %j', (pressed, command) => expect(commandOf(pressed)).toBe(command));
	it('fold with Alt and an arrow, and begin typing alone', () => {
		expect([foldOf(key('ArrowLeft', 'Alt')), foldOf(key('ArrowRight', 'Alt'))]).toEqual(['fold', 'unfold']);
		for (const other of [key('ArrowLeft'), key('ArrowUp', 'Alt'), key('ArrowLeft', 'Alt', 'Shift')])
			expect(foldOf(other)).toBeUndefined();
		expect(placeAfter(key('ArrowLeft', 'Alt', 'Shift'), { r: 4, c: 2 }, grid)).toBeUndefined();
		expect([begins(key('7')), begins(key('7', 'Ctrl')), begins(key('7', 'Alt')), begins(key('Tab'))]).toEqual(
			[true, false, false, false]
		);
	});
});

describe('a sheet', () => {
	it('is chosen within its bounds, and stays within them when rows go', () => {
		const { sheet } = example();
		sheet.select({ r: 99, c: -1 });
		expect(sheet.active).toEqual({ r: 2, c: 0 });
		sheet.select({ r: 1, c: 2 }, true);
		expect(sheet.range).toEqual({ top: 1, bottom: 2, left: 0, right: 2 });
		sheet.selectOne();
		expect(sheet.several).toBe(false);
	});
	it('tells the first cell that can be typed', () => {
		const shut = { editable: false };
		const { sheet } = example({ 'a/m1': shut, 'a/m2': shut, 'a/m3': shut, 'b/m1': shut });
		expect(sheet.firstTypable()).toEqual({ r: 1, c: 1 });
		const none = Object.fromEntries(
			['a', 'b', 'all'].flatMap((r) =>
				['m1', 'm2', 'm3'].map((m) => [`${r}/${m}`, { ...shut, spreads: false }])
			)
		);
		expect(example(none).sheet.firstTypable()).toBeUndefined();
	});
	it('sums what is chosen, words and blanks left out, with what is not saved', () => {
		const { sheet, edits } = example();
		sheet.selectBlock({ top: 0, bottom: 1, left: 0, right: 3 });
		expect(sheet.summary).toBe('Sum 13.00 · Average 4.33 · Count 3');
		edits.apply([{ row: 'b', column: 'm3', before: null, value: 7 }]);
		expect(sheet.summary).toBe('Sum 20.00 · Average 5.00 · Count 4');
		sheet.selectOne();
		expect(sheet.summary).toBe('');
	});
	it('shows what its basis gives once a typed figure is taken away', () => {
		const { sheet, edits } = example({ 'a/m1': { erasable: true, editable: false, without: 5, typed: 1 } });
		edits.apply([{ row: 'a', column: 'm1', before: 1, value: null }]);
		expect(sheet.numberAt({ r: 0, c: 0 })).toBe(5);
	});
});

describe('typing', () => {
	it('begins with what stands there, a share as a percentage, or with its first key', () => {
		const { sheet } = example({
			'a/m1': { value: 0.1, format: 'percent' },
			'a/m2': { value: 9, under: 2.5 }
		});
		const typing = new Typing(sheet);
		typing.begin();
		expect(typing.at).toEqual({ r: 0, c: 0, text: '10%' });
		sheet.select({ r: 0, c: 1 });
		typing.begin();
		expect(typing.at?.text).toBe('2.5');
		typing.begin('=');
		expect(typing.at?.text).toBe('=');
		typing.cancel();
		expect(typing.end()).toBeUndefined();
	});
	it('offers a calculated figure as a decimal, and types nothing where it is left as it stands', () => {
		const noisy = 0.1 + 0.2;
		const { sheet, edits } = example({ 'a/m1': { value: noisy } });
		const typing = new Typing(sheet);
		typing.begin();
		expect(typing.at?.text).toBe('0.3');
		expect(typing.end()).toEqual({ kind: 'put', at: { r: 0, c: 0 } });
		expect(edits.count).toBe(0);
		// The same figure typed is typed.
		typing.begin('0.3');
		typing.end();
		expect(edits.list).toMatchObject([{ value: 0.3 }]);
	});
	it('takes up arithmetic and steps, and goes on when it is no number', () => {
		const { sheet, typed } = example();
		const typing = new Typing(sheet);
		typing.begin('x1');
		expect(typing.end()).toMatchObject({
			kind: 'refused',
			reason: expect.stringContaining('“x1” is no number')
		});
		expect(typing.at?.text).toBe('x1');
		typing.begin('=2*3');
		expect(typing.end()).toEqual({ kind: 'put', at: { r: 0, c: 0 } });
		expect(typed()).toEqual(['a/m1=6']);
		typing.begin('+50%');
		typing.end();
		expect(typed()).toEqual(['a/m1=9']);
	});
	it('in a total types nothing but tells what it is to come to', () => {
		const { sheet, typed } = example();
		const typing = new Typing(sheet);
		sheet.select({ r: 2, c: 0 });
		typing.begin('22');
		expect(typing.end()).toMatchObject({ kind: 'total', cell: { row: { key: 'all' } }, value: 22 });
		typing.begin('11');
		expect(typing.end()).toMatchObject({ kind: 'total', value: null });
		expect(typed()).toEqual([]);
	});
});

describe('filling', () => {
	it('goes across or down, whichever is farther, and nowhere while the block is not left', () => {
		const from = { top: 1, bottom: 2, left: 1, right: 1 };
		expect(drawnTo(from, { r: 2, c: 1 })).toBeNull();
		expect(drawnTo(from, { r: 5, c: 2 })).toEqual({ ...from, bottom: 5 });
		expect(drawnTo(from, { r: 0, c: 4 })).toEqual({ ...from, right: 4 });
		expect(drawnTo(from, { r: 0, c: 1 })).toEqual({ ...from, top: 0 });
	});
	it('covers every new cell once, and none of the block', () => {
		const place = fc.record({ r: fc.nat(6), c: fc.nat(6) });
		fc.assert(
			fc.property(place, place, place, (a, b, to) => {
				const block = blockOf(a, b);
				const target = drawnTo(block, to);
				if (!target) return;
				const onto = linesFrom(block, target).flatMap((l) => l.onto);
				const text = ({ r, c }: { r: number; c: number }) => `${r},${c}`;
				const fresh = placesOf(target).filter((at) => !contains(block, at));
				expect(onto.map(text).sort()).toEqual(fresh.map(text).sort());
				expect(linesFrom(block, target).every((l) => l.known.every((at) => contains(block, at)))).toBe(true);
			})
		);
	});
	it('with the handle goes on in steps, in either direction', () => {
		const { sheet, typed } = example();
		sheet.selectBlock({ top: 0, bottom: 0, left: 0, right: 1 });
		fillOver(sheet, { top: 0, bottom: 0, left: 0, right: 3 });
		// The column of words takes nothing.
		expect(typed()).toEqual(['a/m3=3']);
		const back = example({ 'b/m2': { value: 20 }, 'b/m3': { value: 30 } });
		back.sheet.selectBlock({ top: 1, bottom: 1, left: 1, right: 2 });
		fillOver(back.sheet, { top: 1, bottom: 1, left: 0, right: 2 });
		// What stood there was 10 already: nothing to be saved.
		expect(back.typed()).toEqual([]);
		expect(back.sheet.range).toEqual({ top: 1, bottom: 1, left: 0, right: 2 } satisfies Block);
	});
	it('by keys repeats the first column or row of a block, or the neighbour of one cell', () => {
		const { sheet, typed } = example();
		sheet.selectBlock({ top: 0, bottom: 1, left: 0, right: 2 });
		fillChosen(sheet, 'right');
		expect(typed()).toEqual(['a/m2=1', 'a/m3=1', 'b/m2=10', 'b/m3=10']);
		const one = example();
		one.sheet.select({ r: 1, c: 1 });
		fillChosen(one.sheet, 'down');
		expect(one.typed()).toEqual(['b/m2=2']);
		one.sheet.select({ r: 0, c: 0 });
		fillChosen(one.sheet, 'right');
		expect(one.typed()).toEqual(['b/m2=2']);
	});
	it('by the menu goes on in even steps from the first two, where there are more', () => {
		const { sheet, typed } = example();
		sheet.selectBlock({ top: 0, bottom: 1, left: 0, right: 1 });
		continueChosen(sheet, 'right');
		expect(typed()).toEqual([]);
		sheet.selectBlock({ top: 0, bottom: 0, left: 0, right: 2 });
		continueChosen(sheet, 'right');
		expect(typed()).toEqual(['a/m3=3']);
		expect(sheet.range).toEqual({ top: 0, bottom: 0, left: 0, right: 2 } satisfies Block);
	});
});

describe('the clipboard', () => {
	it('takes what is chosen, with its heads when wanted', () => {
		const { sheet } = example();
		sheet.selectBlock({ top: 0, bottom: 1, left: 1, right: 3 });
		expect(copied(sheet, null)).toBe('2\t\tabout a\n\t\tabout b');
		expect(copied(sheet, { corner: 'Line' })).toBe('Line\tm2\tm3\tWords\nA\t2\t\tabout a\nB\t\t\tabout b');
	});
	it('says what it leaves out and types the rest', () => {
		const { sheet, typed } = example();
		sheet.select({ r: 1, c: 0 });
		const { plan, pasted } = pasteInto(sheet, '4\t5\n6\t7');
		expect(pasted).toEqual({ rows: 2, columns: 2 });
		expect(plan.left.map((l) => l.reason)).toEqual(
			Array(2).fill('This figure is calculated and cannot be typed.')
		);
		expect(carryOut(sheet, plan)).toBe('2 cells pasted, 2 left out.');
		expect(typed()).toEqual(['b/m1=4', 'b/m2=5']);
		expect(sheet.range).toEqual({ top: 1, bottom: 2, left: 0, right: 1 });
	});
	it('clears what is typed alone', () => {
		const { sheet, typed } = example();
		sheet.selectBlock({ top: 0, bottom: 2, left: 0, right: 0 });
		expect(clearChosen(sheet)).toBe(true);
		expect(typed()).toEqual(['a/m1=null', 'b/m1=null']);
		sheet.select({ r: 2, c: 0 });
		expect(clearChosen(sheet)).toBe(false);
	});
});

describe('the pointer', () => {
	const left = { button: 0, shiftKey: false };
	it('draws a block, and the handle what is to be filled', () => {
		const { sheet } = example();
		const pointer = new Pointer(sheet);
		pointer.move({ r: 1, c: 1 });
		expect(sheet.several).toBe(false);
		expect(pointer.press({ r: 0, c: 0 }, left, false)).toBe(true);
		pointer.move({ r: 1, c: 1 });
		expect(pointer.release()).toBeNull();
		expect(sheet.range).toEqual({ top: 0, bottom: 1, left: 0, right: 1 });
		pointer.press({ r: 1, c: 1 }, left, true);
		pointer.move({ r: 1, c: 2 });
		expect(pointer.fills).toEqual({ top: 0, bottom: 1, left: 0, right: 2 });
		expect(sheet.range.right).toBe(1);
		expect(pointer.release()).toEqual({ top: 0, bottom: 1, left: 0, right: 2 });
		expect(pointer.fills).toBeNull();
	});
	it('asks for the menu of what is chosen, or of the cell under it', () => {
		const { sheet } = example();
		const pointer = new Pointer(sheet);
		const right = { button: 2, shiftKey: false };
		sheet.selectBlock({ top: 0, bottom: 1, left: 0, right: 1 });
		pointer.press({ r: 1, c: 0 }, right, false);
		expect(sheet.several).toBe(true);
		pointer.press({ r: 2, c: 2 }, right, false);
		expect(sheet.active).toEqual({ r: 2, c: 2 });
		expect(sheet.several).toBe(false);
	});
});

describe('the rod', () => {
	const month = (n: number) => ({ from: n, to: n });
	it('is drawn over from either side, and a press alone shows nothing', () => {
		const drawing = new RodDrawing();
		drawing.move(month(3));
		expect(drawing.release()).toBeNull();
		drawing.press(month(3));
		expect(drawing.span).toBeNull();
		expect(drawing.release()).toBeNull();
		drawing.press(month(7));
		drawing.move({ from: 3, to: 5 });
		expect(drawing.span).toEqual({ from: 3, to: 7 });
		expect(drawing.release()).toEqual({ from: 3, to: 7 });
		expect(drawing.span).toBeNull();
	});
});

describe('the menu', () => {
	const acts = {
		calendar: monthCalendar(1),
		copy() {},
		paste() {},
		fill() {},
		go() {},
		clear() {},
		widen() {},
		usualWidths() {}
	};
	const WIDTHS = ['Wider column', 'Narrower column', 'Wider row names', 'Narrower row names', 'Usual widths'];
	const labels = (sheet: Sheet, more = {}) =>
		menuOf(sheet, { ...acts, ...more })
			.flat()
			.map((item) => (item.disabled ? `(${item.label})` : item.label));
	it('offers what can be done with the chosen cells, and dims what cannot', () => {
		const { sheet } = example();
		expect(labels(sheet)).toEqual([
			'Copy',
			'Copy with headings',
			'Paste',
			'Fill right',
			'Fill down',
			'Clear',
			...WIDTHS
		]);
		sheet.select({ r: 2, c: 0 });
		expect(labels(sheet, { onopen() {}, onfollow() {} })).toEqual([
			'What it is made of',
			'Go to where it comes from',
			'Copy',
			'Copy with headings',
			'Paste',
			'(Fill right)',
			'(Fill down)',
			'(Clear)',
			...WIDTHS
		]);
	});
	it('offers the chosen months alone, where there are others', () => {
		const { sheet } = example();
		sheet.columns.forEach((column, c) => {
			if (column.kind === 'figure') column.span = { from: 100 + c, to: 100 + c };
		});
		const asked: unknown[] = [];
		const more = { onwindow: (span: unknown) => asked.push(span) };
		const item = () =>
			menuOf(sheet, { ...acts, ...more })
				.flat()
				.find((i) => i.label === 'Show these months alone');
		expect(item()).toBeUndefined();
		sheet.selectBlock({ top: 0, bottom: 1, left: 1, right: 3 });
		item()!.act();
		expect(asked).toEqual([{ from: 101, to: 102 }]);
		sheet.selectBlock({ top: 0, bottom: 0, left: 0, right: 2 });
		expect(item()).toBeUndefined();
	});
	it('gives a spread the cells that can be typed or spread', () => {
		const { sheet } = example();
		const asked: string[][] = [];
		const onspread = (cells: { row: GridRow; column: GridColumn }[]) =>
			asked.push(cells.map((c) => `${c.row.key}/${c.column.key}`));
		sheet.selectBlock({ top: 1, bottom: 2, left: 2, right: 3 });
		const item = menuOf(sheet, { ...acts, onspread })
			.flat()
			.find((i) => i.label === 'Change these together …')!;
		item.act();
		expect(asked).toEqual([['b/m3', 'all/m3']]);
	});
});
