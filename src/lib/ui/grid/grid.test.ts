/** The grid's parts that are no interface: ranges, filling, the clipboard, typed cells, rows as a tree. */
import { afterEach, describe, expect, it } from 'vitest';
import * as fc from 'fast-check';
import { monthCalendar } from '../../core/calendar/calendar';
import { columnSpans, quartersOf } from '../../core/calendar/spans';
import { figure, plain, readFigure, readTyped } from '../writing/format';
import { userStyle } from '../writing/user-style.svelte';
import { planPaste, readBlock, writeBlock, type PasteTarget } from './editing/clipboard';
import { nested, spanKey } from './columns';
import { EditBatch } from './editing/edits.svelte';
import { continued } from './editing/fill';
import { classesOf, markClasses } from './cell-view';
import {
	ACTIVE,
	CHOSEN,
	DRAWN_OVER,
	LAST,
	marksAt,
	marksIn,
	SEVERAL,
	steady,
	TYPED,
	UNMARKED
} from './marks';
import { inPlaces } from './places';
import { blockOf, edgeFrom, placesOf } from './range';
import type { GridRow } from './types';

describe('a chosen block', () => {
	it('is the same from whichever corner it is drawn', () => {
		const block = { top: 1, bottom: 3, left: 2, right: 5 };
		expect(blockOf({ r: 3, c: 2 }, { r: 1, c: 5 })).toEqual(block);
		expect(blockOf({ r: 1, c: 5 }, { r: 3, c: 2 })).toEqual(block);
		expect(placesOf(block)).toHaveLength(12);
	});
	it('reaches with Ctrl to where filled and empty meet', () => {
		const row = [1, 1, 1, 0, 0, 1, 1];
		const go = (c: number, way: 1 | -1) =>
			edgeFrom({ r: 0, c }, [0, way], { rows: 1, columns: row.length }, (p) => row[p.c] === 1).c;
		expect([go(0, 1), go(2, 1), go(3, 1), go(5, 1), go(6, -1), go(4, -1)]).toEqual([2, 5, 5, 6, 5, 2]);
	});
});

describe('the fill handle', () => {
	it.each([
		[[5], 3, [5, 5, 5]],
		[[1, 2], 3, [3, 4, 5]],
		[[10, 7.5], 2, [5, 2.5]],
		[[1, 2, 4], 4, [1, 2, 4, 1]],
		[[null, 2], 3, [null, 2, null]]
	])('goes on from %j', (source, count, expected) => expect(continued(source, count)).toEqual(expected));
});

describe('the clipboard', () => {
	it('reads what spreadsheets write, quoted cells too', () => {
		expect(readBlock('1\t2\r\n3\t"4\n5"\r\n')).toEqual([
			['1', '2'],
			['3', '4\n5']
		]);
		expect(readBlock('"say ""so"""\t')).toEqual([['say "so"', '']]);
	});
	it('writes what it reads', () => {
		const cell = fc.string({ maxLength: 6 }).map((s) => s.replace(/\r/g, ''));
		fc.assert(
			fc.property(
				fc.array(fc.array(cell, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 4 }),
				(rows) => {
					// A last row that is empty is no row to a spreadsheet either.
					const block = [...rows, ['end', 'x']];
					expect(readBlock(writeBlock(block))).toEqual(block);
				}
			)
		);
	});
	const read = (text: string) => {
		const value = readFigure(text, 'money');
		return value === undefined ? { reason: 'This is no number.' } : { value };
	};
	const writable: PasteTarget = { editable: true, read, reason: '' };
	const size = { rows: 10, columns: 10 };
	const at = (top: number, left: number, bottom = top, right = left) => ({ top, left, bottom, right });
	it('fills a block with one value, repeats what fits several times, else lays it down', () => {
		expect(planPaste([['7']], at(0, 0, 1, 2), size, () => writable).put.map((p) => p.value)).toEqual([
			7, 7, 7, 7, 7, 7
		]);
		const twice = planPaste([['1', '2']], at(0, 0, 1, 3), size, () => writable);
		expect(twice.put.map((p) => p.value)).toEqual([1, 2, 1, 2, 1, 2, 1, 2]);
		expect(twice.shapesDiffer).toBe(false);
		const down = planPaste([['1', '2'], ['3']], at(4, 4, 6, 4), size, () => writable);
		expect(down.put).toEqual([
			{ r: 4, c: 4, value: 1 },
			{ r: 4, c: 5, value: 2 },
			{ r: 5, c: 4, value: 3 }
		]);
		expect(down.shapesDiffer).toBe(true);
	});
	it('says of every cell whether it is put, left out or outside', () => {
		const plan = planPaste(
			[
				['1', 'x', ''],
				['2', '3', '4']
			],
			at(8, 8),
			{ rows: 9, columns: 10 },
			({ c }) => (c === 9 ? { ...writable, editable: false, reason: 'It is closed.' } : writable)
		);
		expect(plan.put).toEqual([{ r: 8, c: 8, value: 1 }]);
		expect(plan.left).toEqual([{ r: 8, c: 9, text: 'x', reason: 'It is closed.' }]);
		expect(plan.outside).toBe(3);
		const bad = planPaste([['abc']], at(0, 0), size, () => writable);
		expect(bad.left[0].reason).toBe('This is no number.');
	});
	it('plans 50,000 cells', () => {
		const cells = Array.from({ length: 1000 }, (_, r) => Array.from({ length: 50 }, (_, c) => `${r}.${c}`));
		const plan = planPaste(cells, at(0, 0), { rows: 1000, columns: 60 }, () => writable);
		expect(plan.put).toHaveLength(50_000);
	});
});

describe('what other people’s spreadsheets hold', () => {
	afterEach(() => Object.assign(userStyle, { decimal: '.', negative: 'minus' }));
	it.each([
		['GBP 1,200.50', 1200.5],
		['1,200 EUR', 1200],
		['(£1,200)', -1200],
		['1’200', 1200],
		['350.25-', -350.25],
		['-£5', -5]
	])('%s', (text, value) => expect(readFigure(text, 'money')).toBe(value));
	it('with a decimal comma, when the user writes so', () => {
		userStyle.decimal = ',';
		expect(readFigure('1.234,50', 'money')).toBe(1234.5);
		expect(readFigure('(1.234)', 'money')).toBe(-1234);
		expect(readFigure('1,234.50', 'money')).toBeUndefined();
		expect(readFigure('3,5 %', 'percent')).toBe(0.035);
		expect(readTyped('=1.200*1,05', 'money', null)).toBe(1260);
		expect(readTyped('+2,5%', 'money', 200)).toBe(205);
		expect(figure(-1234.5, 'money', 'cents')).toBe('−1.234,50');
		expect(plain(0.5)).toBe('0,5');
	});
	it('and negatives in brackets', () => {
		userStyle.negative = 'brackets';
		expect(figure(-1234.5, 'money', 'cents')).toBe('(1,234.50)');
		expect(figure(-0.05, 'percent', 'whole')).toBe('(5.0 %)');
		expect(figure(-0.2, 'money', 'whole')).toBe('0');
		expect(readFigure(figure(-1234.5, 'money', 'cents'), 'money')).toBe(-1234.5);
	});
});

describe('undoing over a save', () => {
	const save = (batch: EditBatch) => {
		batch.send();
		batch.saved();
	};
	const edit = (value: number | null, before: number | null) => ({ row: 'r', column: 'c', before, value });
	it('types the former values again, as edits of what is saved now', () => {
		const batch = new EditBatch();
		batch.apply([edit(2, 1)]);
		batch.apply([edit(3, 1)]);
		save(batch);
		expect(batch.count).toBe(0);
		batch.undo();
		expect(batch.list).toEqual([edit(2, 3)]);
		batch.undo();
		expect(batch.list).toEqual([edit(1, 3)]);
		save(batch);
		batch.redo();
		expect(batch.list).toEqual([edit(2, 1)]);
		batch.redo();
		expect(batch.list).toEqual([edit(3, 1)]);
	});
	it('leaves what is typed while a save is under way to be saved', () => {
		const batch = new EditBatch();
		batch.apply([edit(2, 1), { ...edit(5, null), row: 's' }]);
		expect(batch.send()).toHaveLength(2);
		batch.apply([edit(3, 1), { ...edit(7, null), row: 't' }]);
		batch.saved();
		expect(batch.list).toEqual([edit(3, 2), { ...edit(7, null), row: 't' }]);
		save(batch);
		expect(batch.count).toBe(0);
	});
	it('makes an edit of what is undone while a save is under way', () => {
		const batch = new EditBatch();
		batch.apply([edit(2, 1)]);
		batch.send();
		batch.undo();
		expect(batch.count).toBe(0);
		batch.saved();
		expect(batch.list).toEqual([edit(1, 2)]);
	});
	it('takes nothing of a save into a page that shows other cells by then', () => {
		const batch = new EditBatch();
		batch.apply([edit(2, 1)]);
		batch.send();
		batch.clear();
		batch.apply([edit(4, 9)]);
		batch.saved();
		expect(batch.list).toEqual([edit(4, 9)]);
	});
	it('counts from what somebody else has saved meanwhile', () => {
		const batch = new EditBatch();
		batch.apply([edit(2, 1)]);
		batch.rebase('r', 'c', 9);
		expect(batch.list).toEqual([edit(2, 9)]);
		batch.rebase('r', 'c', 2);
		expect(batch.count).toBe(0);
	});
	it('comes back to where it began, whatever was typed, undone and saved', () => {
		const action = fc.oneof(
			fc.record({ kind: fc.constant('type' as const), cell: fc.nat(2), value: fc.nat(3) }),
			fc.record({ kind: fc.constantFrom('undo' as const, 'redo' as const, 'save' as const) })
		);
		fc.assert(
			fc.property(fc.array(action, { maxLength: 30 }), (actions) => {
				const batch = new EditBatch();
				const saved = new Map<string, number | null>();
				const save = () => {
					for (const e of batch.send()) {
						expect(e.before).toBe(saved.get(e.row) ?? null);
						saved.set(e.row, e.value);
					}
					batch.saved();
				};
				for (const a of actions) {
					if (a.kind === 'type') {
						const row = `r${a.cell}`;
						batch.apply([{ row, column: 'c', before: saved.get(row) ?? null, value: a.value }]);
					} else if (a.kind === 'undo') batch.undo();
					else if (a.kind === 'redo') batch.redo();
					else save();
				}
				while (batch.canUndo) batch.undo();
				save();
				expect([...saved.values()].every((v) => v === null)).toBe(true);
			})
		);
	});
});

describe('columns and rows', () => {
	const calendar = monthCalendar(4);
	const at = (key: string) => calendar.parse(key)!;
	it('fold by the quarters of the fiscal year, as far as they lie in the window', () => {
		const window = { from: at('2026-05'), to: at('2026-11') };
		const keys = (folded: string[]) =>
			columnSpans(calendar, window, (p) => folded.includes(calendar.key(p))).map((s) => spanKey(calendar, s));
		expect(quartersOf(calendar, window).map((q) => q.to - q.from + 1)).toEqual([2, 3, 2]);
		expect(keys([])).toHaveLength(7);
		expect(keys(['2026-05', '2026-07'])).toEqual([
			'2026-05..2026-06',
			'2026-07..2026-09',
			'2026-10',
			'2026-11'
		]);
	});
	it('make a tree of rows that follow their parents', () => {
		const row = (key: string): GridRow => ({ key, label: key, kind: 'leaf', format: 'number' });
		const tree = nested([0, 1, 2, 1, 0].map((depth, i) => ({ depth, row: row(`r${i}`) })));
		expect(tree.map((r) => r.key)).toEqual(['r0', 'r4']);
		expect(tree[0].rows!.map((r) => r.key)).toEqual(['r1', 'r3']);
		expect(tree[0].rows![0].rows!.map((r) => r.key)).toEqual(['r2']);
	});
});

describe('places of drawn rows', () => {
	it('show every row in sight once, and a row keeps its place while it is in sight', () => {
		for (const [count, places] of [
			[100, 7],
			[8, 7],
			[7, 7],
			[5, 7],
			[0, 7]
		]) {
			let before = new Map<number, number>();
			for (let first = 0; first < count; first++) {
				const rows = inPlaces(first, places, count);
				const shown = Math.min(places, count);
				const start = Math.max(0, Math.min(first, count - places));
				expect([...rows].sort((a, b) => a - b)).toEqual(Array.from({ length: shown }, (_, i) => start + i));
				const now = new Map(rows.map((r, place) => [r, place]));
				for (const [r, place] of now) if (before.has(r)) expect(place).toBe(before.get(r));
				before = now;
			}
		}
	});
});

describe('the look of a cell', () => {
	const column = { key: 'm', label: 'Jan', width: 60, kind: 'figure' } as const;
	it('says what can be typed, and what is not saved rather than what it rests on', () => {
		const cell = { value: 1, editable: true, spreads: true, preview: true, override: true };
		expect(classesOf(column, cell, false)).toBe('cell figure editable preview override');
		expect(classesOf(column, cell, true)).toBe('cell figure unsaved editable');
		expect(classesOf(column, { value: '#DIV/0', tone: 'bad' }, false)).toBe('cell figure error bad');
		expect(classesOf(column, undefined, false)).toBe('cell figure');
	});
	it('is focused only where it is the active one', () => {
		expect(markClasses(CHOSEN | LAST, true)).toBe('');
		expect(markClasses(CHOSEN | ACTIVE, true)).toBe(' active focused');
		expect(markClasses(CHOSEN | SEVERAL | ACTIVE, false)).toBe(' chosen active');
		expect(markClasses(DRAWN_OVER, true)).toBe(' drawnover');
	});
});

describe('what is marked in a row', () => {
	const grid = {
		active: { r: 4, c: 3 },
		range: { top: 2, bottom: 4, left: 1, right: 3 },
		several: true,
		fills: { top: 5, bottom: 6, left: 1, right: 3 },
		typed: null
	};
	it('is what of the chosen cell, the block and the filling lies in it', () => {
		expect(marksIn(2, grid)).toMatchObject({ active: -1, left: 1, right: 3, several: true, foot: false });
		expect(marksIn(4, grid)).toMatchObject({ active: 3, foot: true, fillRight: -1 });
		expect(marksIn(6, grid)).toMatchObject({ left: 0, right: -1, several: false, fillLeft: 1, fillRight: 3 });
		expect(marksIn(9, { ...grid, typed: { r: 9, c: 7 } }).typed).toBe(7);
	});
	it('is the same for every row that nothing is marked in', () => {
		for (const r of [0, 1, 7, 100]) expect(marksIn(r, grid)).toBe(UNMARKED);
	});
	it('is told cell by cell as one number, 0 where there is nothing', () => {
		const at = (r: number) => [0, 1, 2, 3, 4].map((c) => marksAt(c, marksIn(r, grid)));
		expect(at(0)).toEqual([0, 0, 0, 0, 0]);
		const inside = CHOSEN | SEVERAL;
		expect(at(2)).toEqual([0, inside, inside, inside, 0]);
		expect(at(4)).toEqual([0, inside, inside, inside | ACTIVE | LAST, 0]);
		expect(at(6)).toEqual([0, DRAWN_OVER, DRAWN_OVER, DRAWN_OVER, 0]);
		const one = { ...grid, range: { top: 4, bottom: 4, left: 3, right: 3 }, several: false, fills: null };
		expect(marksAt(3, marksIn(4, { ...one, typed: { r: 4, c: 3 } }))).toBe(ACTIVE | CHOSEN | LAST | TYPED);
		// What is chosen already is not drawn over.
		const over = { ...grid, fills: { top: 4, bottom: 4, left: 1, right: 4 } };
		expect(marksAt(2, marksIn(4, over))).toBe(inside);
		expect(marksAt(4, marksIn(4, over))).toBe(DRAWN_OVER);
	});
	it('stays what it was as long as nothing of it changes', () => {
		const same = steady<{ a: number; b?: string }>();
		const first = same({ a: 1, b: 'x' });
		expect(same({ a: 1, b: 'x' })).toBe(first);
		expect(same({ a: 1, b: 'y' })).toEqual({ a: 1, b: 'y' });
		expect(same({ a: 1, b: 'x' })).not.toBe(first);
	});
});
