/** Arrangements of a driver model: nested, across, filtered, and always the same sums. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../calendar/calendar';
import { ModelDefinition } from '../blocks/driver-model/schema';
import type { Series } from '../inputs/series';
import { EACH_ROW, LINES, nodesOf } from './arrangement';
import { calculateScenario } from '../scenario/assemble';
import { derivedSeries, followedSeries, type TaggedSeries } from '../scenario/derive';
import { modelFigures, type ModelFigures, type ViewRow } from './model-view';
import type { ScenarioData } from '../scenario/data';
import { Exchange } from '../currency/exchange';
import { buildStructure } from '../company/structure';

const calendar = monthCalendar(4);
const APR = calendar.parse('2026-04')!;
const member = (code: string, parent: string | null, attributes: Record<string, string> = {}) => ({
	code,
	name: code.toUpperCase(),
	parent,
	retired: false,
	attributes
});
const structure = buildStructure(
	calendar,
	[
		{ code: 'sales', name: 'Sales', parent: null, type: 'revenue', rollup: 'sum', format: 'money' },
		{ code: 'pieces', name: 'Pieces', parent: null, type: 'statistical', rollup: 'sum', format: 'number' }
	],
	[{ code: 'a', name: 'A', parent: null, entity: 'e' }],
	[
		{
			code: 'product',
			name: 'Product',
			members: [
				member('boats', null),
				member('kayak', 'boats', { size: 'small' }),
				member('dinghy', 'boats', { size: 'large' }),
				member('rope', null, { size: 'small' })
			]
		},
		{ code: 'channel', name: 'Channel', members: [member('web', null), member('shop', null)] }
	],
	'GBP'
);
const rows = [
	['kayak', 'web'],
	['kayak', 'shop'],
	['dinghy', 'shop'],
	['rope', 'web']
];
const definition = ModelDefinition.parse({
	code: 'm',
	name: 'M',
	dimensions: ['product', 'channel'],
	lines: [
		{ code: 'units', label: 'Units', closed: 'actuals' },
		{
			code: 'price',
			label: 'Price',
			actual: 'ratio(income, units)',
			rollup: { time: 'formula', members: 'weighted:units' }
		},
		{ code: 'income', label: 'Income', formula: 'units * price', closed: 'actuals' }
	],
	postings: [
		{ line: 'income', account: { code: 'sales' }, department: { code: 'a' } },
		{ line: 'units', account: { code: 'pieces' }, department: { code: 'a' } }
	]
});
const given = (line: string, at: number, values: number[]): Series => ({
	block: 'm',
	line,
	row: rows[at].join('|'),
	first: APR,
	values: Float64Array.from(values)
});
const months = [1, 2, 3, 4, 5, 6];
const data = (more: Partial<ScenarioData> = {}): ScenarioData => ({
	scenario: {
		code: 's',
		name: 'S',
		kind: 'budget',
		first: APR,
		last: APR + 5,
		actualsThrough: null,
		follows: null,
		origin: null,
		locked: false,
		description: ''
	},
	models: [{ definition, rows }],
	series: rows.flatMap((_, r) => [
		given(
			'units',
			r,
			months.map((m) => m * (r + 1))
		),
		given(
			'price',
			r,
			months.map(() => 10 * (r + 1))
		)
	]),
	bases: [],
	history: { first: APR, accounts: new Map() },
	...more
});
const plan = calculateScenario(structure, data());
const spans = [...months.map((_, i) => ({ from: APR + i, to: APR + i })), { from: APR, to: APR + 5 }];
const show = (more: Partial<Parameters<typeof modelFigures>[1]>): ModelFigures =>
	modelFigures(plan, { model: 'm', spans, ...more });
const row = (view: ModelFigures, key: string): ViewRow => view.rows.find((r) => r.key === key)!;

describe('rows', () => {
	it('of retired members are shown where they hold something, and count as ever', () => {
		const boats = structure.dimensions.get('product')!.dimension;
		const retiring = buildStructure(
			calendar,
			structure.accounts.all,
			structure.departments.all,
			[
				{ ...boats, members: boats.members.map((m) => ({ ...m, retired: m.code === 'boats' })) },
				structure.dimensions.get('channel')!.dimension
			],
			'GBP'
		);
		// The kayak on the web is sold to the third month; in the last three nothing of it is left.
		const { series, ...rest } = data();
		const last = calculateScenario(retiring, {
			...rest,
			series: series.map((s) =>
				s.row === 'kayak|web' ? { ...s, values: s.values.map((v, t) => (t < 3 ? v : NaN)) } : s
			)
		});
		const shown = (from: number) => {
			const view = modelFigures(last, {
				model: 'm',
				spans: [{ from: APR + from, to: APR + 5 }],
				open: ['units']
			});
			return {
				rows: view.rows.filter((r) => r.depth === 1).map((r) => r.label),
				total: row(view, 'units').cells
			};
		};
		expect(shown(0).rows).toEqual(['KAYAK · WEB', 'KAYAK · SHOP', 'DINGHY · SHOP', 'ROPE · WEB']);
		expect(shown(3)).toEqual({
			rows: ['KAYAK · SHOP', 'DINGHY · SHOP', 'ROPE · WEB'],
			total: [(4 + 5 + 6) * (2 + 3 + 4)]
		});
	});
	it('are listed by their full names, or nested by the trees of their members', () => {
		const list = show({ open: ['units'] });
		expect(list.rows.filter((r) => r.depth === 1).map((r) => [r.key, r.label])).toEqual([
			['units@kayak|web', 'KAYAK · WEB'],
			['units@kayak|shop', 'KAYAK · SHOP'],
			['units@dinghy|shop', 'DINGHY · SHOP'],
			['units@rope|web', 'ROPE · WEB']
		]);
		const tree = show({
			rows: [LINES, 'product', 'channel'],
			open: ['units', 'units>product:boats', 'units>product:boats>product:kayak']
		});
		expect(tree.rows.map((r) => r.key)).toEqual([
			'units',
			'units>product:boats',
			'units>product:boats>product:kayak',
			'units>product:boats>product:kayak>channel:web',
			'units>product:boats>product:kayak>channel:shop',
			'units>product:boats>product:dinghy',
			'units>product:rope',
			'price',
			'income'
		]);
		expect(row(tree, 'units>product:boats').cells[0]).toBe(1 + 2 + 3);
		expect(row(tree, 'units>product:boats>product:kayak').cells[6]).toBe(21 * 3);
		// Only a single row can be typed; its line and row are told.
		expect(row(tree, 'units>product:boats').targets[0]).toEqual({ line: 'units', row: null });
		expect(row(tree, 'units>product:boats>product:dinghy').targets[0]).toEqual({
			line: 'units',
			row: 'dinghy|shop'
		});
	});
	it('may have lines inside members, and a price is weighted at every level', () => {
		const view = show({
			rows: ['product', LINES],
			open: ['product:boats', 'product:boats>product:kayak']
		});
		expect(row(view, 'product:boats').targets).toEqual([null]);
		expect(row(view, 'product:boats').cells.every((c) => c === null)).toBe(true);
		const price = row(view, 'product:boats>product:kayak>price');
		expect(price.heads).toBe('price');
		// One kayak on the web at 10, two in the shop at 20.
		expect(price.cells[0]).toBeCloseTo(50 / 3, 12);
		const income = row(view, 'product:boats>product:kayak>income').cells[6] as number;
		const units = row(view, 'product:boats>product:kayak>units').cells[6] as number;
		expect(price.cells[6]).toBeCloseTo(income / units, 12);
	});
	it('are filtered by members, under them, and by attributes', () => {
		const keys = (where: Record<string, string>) => show({ where }).rowCount;
		expect(keys({ product: 'boats' })).toBe(3);
		expect(keys({ product: 'boats', channel: 'web' })).toBe(1);
		expect(keys({ 'product.size': 'small' })).toBe(3);
		expect(keys({ 'product.size': 'none' })).toBe(0);
		expect(keys({ region: 'anywhere' })).toBe(4);
	});
	it('without figures can be left out', () => {
		const empty = calculateScenario(structure, data({ series: data().series.slice(0, 2) }));
		const list = (hideEmpty: boolean) =>
			modelFigures(empty, { model: 'm', spans, open: ['units'], hideEmpty }).rows.filter((r) => r.depth === 1)
				.length;
		expect([list(false), list(true)]).toEqual([4, 1]);
	});
});

describe('what stands across', () => {
	it('is a dimension with all of it first, or the lines', () => {
		const view = show({ rows: [LINES, 'product'], across: 'channel', lines: ['units'] });
		expect(view.across).toEqual([
			{ key: '', label: 'All' },
			{ key: 'web', label: 'WEB' },
			{ key: 'shop', label: 'SHOP' }
		]);
		const { cells } = row(view, 'units');
		expect([cells[0], cells[7], cells[14]]).toEqual([10, 5, 5]);
		const lines = show({ rows: [EACH_ROW], across: LINES });
		expect(lines.rows[0].targets.map((t) => t!.line)).toEqual(['units', 'price', 'income']);
		expect(lines.rows[1].cells.slice(14, 16)).toEqual([2 * 20, 4 * 20]);
	});
	it('never changes a sum, however the model is turned', () => {
		const axes = fc.shuffledSubarray(['product', 'channel'], { minLength: 0 });
		fc.assert(
			fc.property(
				axes,
				fc.constantFrom(null, 'product', 'channel'),
				fc.boolean(),
				(dims, across, outside) => {
					const wanted = outside ? [...dims, LINES] : [LINES, ...dims];
					// Everything is opened, step by step.
					let view = show({ rows: wanted, across });
					for (let n = 0; n < 5; n++)
						view = show({ rows: wanted, across, open: view.rows.map((r) => r.key) });
					const width = view.across.length;
					for (const r of view.rows) {
						const line = r.targets[0]?.line;
						if (line !== 'units' && line !== 'income') continue;
						for (let e = 0; e < width; e++) {
							const own = r.cells.slice(e * 7, e * 7 + 7).map((c) => (c as number | null) ?? 0);
							expect(own[6]).toBeCloseTo(
								own.slice(0, 6).reduce((a, b) => a + b, 0),
								9
							);
						}
						const parts = view.rows.filter(
							(x) => x.depth === r.depth + 1 && x.key.startsWith(`${r.key}>`) && x.targets[0]?.line === line
						);
						if (!parts.length) continue;
						r.cells.forEach((c, i) =>
							expect(parts.reduce((s, x) => s + ((x.cells[i] as number | null) ?? 0), 0)).toBeCloseTo(
								(c as number) ?? 0,
								9
							)
						);
					}
					expect(view.rows.some((r) => r.targets[0]?.line === 'units')).toBe(true);
				}
			),
			{ numRuns: 30 }
		);
	});
});

describe('closed months of a driver', () => {
	const total = (
		account: string,
		product: string,
		channel: string,
		period: number,
		value: number
	): TaggedSeries => ({
		account,
		members: { product, channel, department: 'a' },
		first: period,
		values: Float64Array.of(value)
	});
	const ledger = [
		total('pieces', 'kayak', 'web', APR, 4),
		total('pieces', 'kayak', 'web', APR, 1),
		total('sales', 'kayak', 'web', APR, 60),
		total('sales', 'dinghy', 'web', APR, 999),
		{ ...total('sales', 'kayak', 'web', APR, 7), members: { product: 'kayak' } },
		total('pieces', 'kayak', 'shop', APR + 1, 3),
		total('pieces', 'kayak', 'web', APR + 2, 8)
	];
	const scenario = { ...data().scenario, actualsThrough: APR + 1 };
	const derived = derivedSeries(data().models, structure, ledger, APR + 1, new Exchange('GBP', [], calendar));
	const closed = calculateScenario(structure, data({ scenario, derived }));
	const cell = (line: string, p: number, r = 0) => closed.calculation.cell('m', line, r, APR + p);
	it('are what the ledger holds of the row’s own members, and a price is revenue by units', () => {
		expect([cell('units', 0), cell('income', 0), cell('price', 0)]).toEqual([5, 60, 12]);
		expect([cell('units', 1), cell('price', 1)]).toEqual([null, null]);
		// The last closed month is one of them.
		expect(cell('units', 1, 1)).toBe(3);
		// The plan begins after them, and what lies beyond the last closed month is not looked at.
		expect([cell('units', 2), cell('income', 2)]).toEqual([3, 30]);
		expect(cell('income', 0, 2)).toBeNull();
	});
	it('go on through a scenario that is followed', () => {
		const later = followedSeries(data().models, closed, APR, APR + 3);
		const own = later.find((s) => s.line === 'units' && s.row === 'kayak|web')!;
		expect(own.first).toBe(APR);
		expect([...own.values]).toEqual([5, NaN, 3, 4]);
	});
});

describe('rows that are searched for', () => {
	const found = (find: string, axes = [LINES, EACH_ROW], open: string[] = []) =>
		nodesOf({ definition, rows }, structure, {
			rows: axes,
			across: null,
			lines: ['units'],
			where: {},
			open,
			find
		}).map((n) => n.path.trim());
	it('are found under lines that are folded, each with what it stands under', () => {
		expect(found('shop')).toEqual(['units', 'units kayak · shop', 'units dinghy · shop']);
		expect(found('units k')).toEqual(['units', 'units kayak · web', 'units kayak · shop']);
		expect(found('nothing like it')).toEqual([]);
	});
	it('are found level by level in a tree, and a group that is found is opened only by hand', () => {
		const tree = [LINES, 'product', 'channel'];
		expect(found('dinghy shop', tree)).toEqual([
			'units',
			'units boats',
			'units boats dinghy',
			'units boats dinghy shop'
		]);
		expect(found('boats', tree)).toEqual(['units', 'units boats']);
		expect(found('boats', tree, ['units>product:boats'])).toEqual([
			'units',
			'units boats',
			'units boats kayak',
			'units boats dinghy'
		]);
	});
	it('are as ever without words', () => {
		expect(found('')).toEqual(['units']);
		expect(found('', [LINES, EACH_ROW], ['units'])).toHaveLength(5);
	});
});
