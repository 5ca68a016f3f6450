import { describe, expect, it } from 'vitest';
import { EditBatch } from '../grid/editing/edits.svelte';
import { figure, readFigure, readTyped, share, widthOf } from '../writing/format';
import { rowsFromText, rowsToText } from '../../core/views/row-text';
import { layOut } from './statement';

describe('figures as people type and paste them', () => {
	it.each([
		['1234.5', 1234.5],
		['1,234.50', 1234.5],
		['(1,234)', -1234],
		['-12', -12],
		['−12', -12],
		['£1,200', 1200],
		['1 200', 1200],
		['12k', 12000],
		['1.5m', 1500000],
		['3%', 0.03],
		['', null],
		['–', 0],
		['abc', undefined],
		['1,23', undefined],
		['1.2.3', undefined],
		['=1+1', undefined],
		['.', undefined]
	])('%s', (text, value) => expect(readFigure(text, 'money')).toBe(value));
	it('reads 3 as 3 % in a percentage', () => {
		expect(readFigure('3', 'percent')).toBe(0.03);
		expect(readFigure('3 %', 'percent')).toBe(0.03);
		expect(readFigure('0.1', 'percent')).toBe(0.001);
	});
});

describe('figures on the screen', () => {
	it('show zero as a dash, blank as nothing, errors as they are', () => {
		expect(figure(0, 'money', 'whole')).toBe('–');
		expect(figure(null, 'money', 'whole')).toBe('');
		expect(figure('#DIV/0!', 'money', 'whole')).toBe('#DIV/0!');
	});
	it('follow the chosen fineness', () => {
		expect(figure(-1234567.891, 'money', 'whole')).toBe('−1,234,568');
		expect(figure(1234567.891, 'money', 'thousand')).toBe('1,234.6');
		expect(figure(1234567.891, 'money', 'cents')).toBe('1,234,567.89');
		expect(figure(-0.2, 'money', 'whole')).toBe('0');
		expect(figure(0.0345, 'percent', 'whole')).toBe('3.5 %');
		expect(figure(3, 'number', 'cents')).toBe('3');
		expect(share(null)).toBe('n/m');
	});
	it('have a width that holds the longest of them, on either side of zero', () => {
		const figures = [1, -250, 99_999.5, null, '#REF!', 1_234_567, -1_234_567.89, 12];
		for (const fineness of ['thousand', 'whole', 'cents'] as const) {
			const alone = figures.map((f) => widthOf([f], fineness));
			expect(widthOf(figures, fineness)).toBe(Math.max(...alone));
		}
		expect(widthOf([-1_234_567], 'whole')).toBeGreaterThan(widthOf([1_234_567], 'whole'));
	});
});

describe('rows as one text', () => {
	it('are what they were, with their names in it once', () => {
		const rows = [
			{ account: '4000', cells: [1.5, null, '#DIV/0!'], origin: { kind: 'basis' }, open: true },
			// The order of names is nothing that rows have in common.
			{ open: false, cells: [], account: '5"0', origin: null }
		];
		const text = rowsToText(rows);
		expect(rowsFromText(text)).toEqual(rows);
		expect(text.match(/origin/g)).toHaveLength(1);
		expect(rowsFromText(rowsToText([]))).toEqual([]);
	});
});

describe('typed cells that are not saved', () => {
	const edit = (value: number | null, before: number | null = 1) => ({
		row: 'r',
		column: 'c',
		before,
		value
	});
	it('are undone and redone step by step', () => {
		const batch = new EditBatch();
		batch.apply([edit(2)]);
		batch.apply([edit(3), { ...edit(4), row: 'other' }]);
		expect(batch.count).toBe(2);
		batch.undo();
		expect(batch.at('r', 'c')?.value).toBe(2);
		expect(batch.count).toBe(1);
		batch.redo();
		expect(batch.at('other', 'c')?.value).toBe(4);
		batch.undo();
		batch.undo();
		expect(batch.count).toBe(0);
		expect(batch.canUndo).toBe(false);
	});
	it('are none when put back to what was there', () => {
		const batch = new EditBatch();
		batch.apply([edit(2)]);
		batch.apply([edit(1)]);
		expect(batch.count).toBe(0);
		batch.apply([edit(null, null)]);
		expect(batch.count).toBe(0);
	});
});

describe('a statement', () => {
	const items = [
		{ account: 'profit', parent: null, leaf: false },
		{ account: 'income', parent: 'profit', leaf: false },
		{ account: 'a', parent: 'income', leaf: true },
		{ account: 'b', parent: 'income', leaf: true },
		{ account: 'cost', parent: 'profit', leaf: false },
		{ account: 'c', parent: 'cost', leaf: true }
	];
	const lines = (folded: string[], hidden: string[] = []) =>
		layOut(items, new Set(folded), (i) => !hidden.includes(i.account)).map(
			(p) => `${p.kind} ${p.item.account} ${p.depth}`
		);
	it('puts parts before their total', () => {
		expect(lines([])).toEqual([
			'heading income 0',
			'leaf a 1',
			'leaf b 1',
			'total income 0',
			'heading cost 0',
			'leaf c 1',
			'total cost 0',
			'total profit 0'
		]);
	});
	it('folds a group to its total and leaves out what is empty', () => {
		expect(lines(['income'])).toEqual([
			'total income 0',
			'heading cost 0',
			'leaf c 1',
			'total cost 0',
			'total profit 0'
		]);
		expect(lines([], ['c'])).toEqual([
			'heading income 0',
			'leaf a 1',
			'leaf b 1',
			'total income 0',
			'total profit 0'
		]);
		expect(lines([], ['a', 'b', 'c'])).toEqual([]);
	});
});

describe('arithmetic typed into a cell', () => {
	it.each([
		['=1200*1.05', 1260],
		['= 1,200 * 1.05 - 60', 1200],
		['=(2+3)^2/5', 5],
		['=10%*50', 5],
		['=round(1.5)', 2],
		['+5%', 105],
		['−5 %', 95],
		['12k', 12_000],
		['-12', -12],
		['', null]
	])('%s over 100 is %s', (text, value) => expect(readTyped(text, 'money', 100)).toBe(value));
	it('is a percentage itself in a percentage cell', () => {
		expect(readTyped('+5%', 'percent', 0.1)).toBe(0.05);
		expect(readTyped('=3+1', 'percent', 0.1)).toBe(0.04);
		expect(readTyped('=3%+1%', 'percent', 0.1)).toBeCloseTo(0.04, 12);
	});
	it.each(['=units*2', '=1/0', '=', '=1200*', 'abc'])('refuses %s', (text) =>
		expect(readTyped(text, 'money', 100)).toBeUndefined()
	);
	it('changes nothing where nothing stands', () => expect(readTyped('+5%', 'money', null)).toBe(0.05));
});
