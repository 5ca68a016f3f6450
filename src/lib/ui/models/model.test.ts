/** What a driver model's grid shows and what can be typed in it, without a page. */
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../../core/calendar/calendar';
import { ModelDefinition } from '../../core/blocks/driver-model/schema';
import type { ViewRow } from '../../core/views/model-view';
import type { GridRow } from '../grid/types';
import { ModelCells } from './cells.svelte';
import { modelColumns } from './columns';
import { cellKey, cellPlace } from '../entry/cell-key';

const calendar = monthCalendar(4);
const APR = calendar.parse('2027-04')!;
const months = [0, 1, 2].map((i) => ({ from: APR + i, to: APR + i }));
const quarter = { from: APR, to: APR + 2 };
const definition = ModelDefinition.parse({
	code: 'm',
	name: 'M',
	dimensions: ['product'],
	lines: [
		{ code: 'units', label: 'Units' },
		{
			code: 'price',
			label: 'Price',
			format: 'price',
			rollup: { time: 'formula', members: 'weighted:units' }
		},
		{
			code: 'income',
			label: 'Income',
			format: 'money',
			formula: 'units * price',
			scoped: [{ where: { product: 'kayaks' }, from: '2027-06' }]
		}
	]
});
const row = (
	key: string,
	line: string,
	member: string | null,
	cells: ViewRow['cells'],
	more = {}
): ViewRow => ({
	key,
	label: key,
	depth: member ? 1 : 0,
	heads: member ? null : line,
	open: member ? null : true,
	where: {},
	count: member ? 1 : 2,
	targets: [{ line, row: member }],
	cells,
	...more
});
const saved = [
	row('units', 'units', null, [3, 5, 7, 15]),
	row('units@k10', 'units', 'k10', [1, 2, 3, 6], { typed: [1, 9, 3, 6] }),
	row('units@d9', 'units', 'd9', [2, 3, 4, 9]),
	row('price', 'price', null, [10, 10, 10, 10]),
	row('income@k10', 'income', 'k10', [10, 20, 30, 60]),
	row('income@d9', 'income', 'd9', [20, 30, 40, 90])
];

function cellsWith(more: { editable?: boolean; changed?: ViewRow[]; other?: ViewRow[] } = {}) {
	const other = more.other && { name: 'Budget', last: APR + 1, difference: true };
	const layout = modelColumns({
		calendar,
		spans: months,
		read: [...months, quarter],
		across: [{ key: '', label: '' }],
		formulas: true,
		beside: other
			? { columns: [{ key: '@beside/2027-04', label: 'Apr', width: 60, kind: 'figure' }], own: 'Plan' }
			: null
	});
	const rowsOf = (list: ViewRow[]) => new Map(list.map((r) => [r.key, r]));
	const cells = new ModelCells({
		model: {
			definition,
			spans: [...months, quarter],
			across: [{ key: '' }],
			dimensions: [
				{
					code: 'product',
					members: [
						{ code: 'kayaks', depth: 0 },
						{ code: 'k10', depth: 1 },
						{ code: 'd9', depth: 0 }
					]
				}
			],
			open: APR + 1,
			last: APR + 2,
			editable: more.editable ?? true,
			reason: more.editable === false ? 'This scenario is locked.' : '',
			blocked: { d9: 'No dinghies' }
		},
		calendar,
		layout,
		saved: rowsOf(saved),
		changed: rowsOf(more.changed ?? []),
		other: other && { ...other, rows: rowsOf(more.other!) }
	});
	const at = (key: string, column: string) =>
		cells.at(
			{ key } as GridRow,
			layout.columns.find((c) => c.key === column)!
		)!;
	return { at, layout };
}
const titleOf = ({ title }: { title?: string | (() => string | undefined) }) =>
	typeof title === 'function' ? title() : title;

describe('columns', () => {
	it('are the formula, the shape, the months and the total, each with what it shows', () => {
		const { layout } = cellsWith();
		expect(layout.columns.map((c) => c.key)).toEqual([
			'formula',
			'shape',
			'2027-04',
			'2027-05',
			'2027-06',
			'total'
		]);
		expect(layout.shows.get('2027-06')).toEqual({ entry: 0, span: 2 });
		expect(layout.shows.get('total')).toEqual({ entry: 0, span: 3 });
	});
});

describe('names of typed cells', () => {
	it('are read back, whatever stands in the row', () => {
		expect(cellPlace(cellKey('units', 'k10|web@shop'))).toEqual({ line: 'units', row: 'k10|web@shop' });
	});
});

describe('cells', () => {
	it('are typed in open months of single rows', () => {
		const { at } = cellsWith();
		expect(at('units@k10', '2027-05')).toMatchObject({ value: 2, editable: true, typed: 9, under: 9 });
		expect(at('units@k10', '2027-06')).toMatchObject({ value: 3, editable: true, under: undefined });
		expect(at('units@k10', '2027-04')).toMatchObject({ editable: false });
		expect(at('units@k10', '2027-04').reason).toMatch(/outside the months/);
		expect(titleOf(at('units@k10', '2027-05'))).toBe('2 · adjusted, typed is 9');
	});
	it('of totals can be spread where a total is a sum, and reaches into the plan', () => {
		const { at } = cellsWith();
		expect(at('units', '2027-05')).toMatchObject({ editable: false, spreads: true });
		expect(at('units', 'total').spreads).toBe(true);
		expect(at('units', '2027-04').spreads).toBe(false);
		expect(at('price', 'total').spreads).toBe(false);
		expect(at('units@k10', 'total').spreads).toBe(true);
	});
	it('under a combination rule can be taken out and nothing else', () => {
		const cell = cellsWith().at('units@d9', '2027-05');
		expect(cell).toMatchObject({ editable: false, erasable: true, blocked: true });
		expect(cell.reason).toContain('“No dinghies”');
	});
	it('follow the exception that applies there: typed for one group from a month on', () => {
		const { at } = cellsWith();
		expect(at('income@k10', '2027-05')).toMatchObject({ editable: false });
		expect(titleOf(at('income@k10', '2027-05'))).toBe('20.00 · calculated: units * price');
		expect(at('income@k10', '2027-06')).toMatchObject({ editable: true });
		expect(at('income@d9', '2027-06').reason).toMatch(/^Income is calculated|combination rule/);
	});
	it('cannot be typed where the scenario cannot, and say why', () => {
		const { at } = cellsWith({ editable: false });
		for (const column of ['2027-05', 'total']) {
			expect(at('units@k10', column)).toMatchObject({ editable: false, reason: 'This scenario is locked.' });
			expect(at('units@k10', column).spreads).toBe(false);
		}
	});
	it('show what follows from typing as not saved', () => {
		const changed = [row('units', 'units', null, [3, 8, 7, 18])];
		const { at } = cellsWith({ changed });
		expect(at('units', '2027-05')).toMatchObject({ value: 8, preview: true });
		expect(at('units', '2027-06')).toMatchObject({ value: 7, preview: false });
	});
	it('show the difference to another scenario', () => {
		const other = [row('units', 'units', null, [1, 1, 1, 3])];
		const { at } = cellsWith({ other });
		expect(at('units', '@beside/2027-04')).toMatchObject({ value: 2 });
		expect(at('units', '@beside/2027-04').reason).toMatch(/^Budget is shown to compare with/);
	});
});
