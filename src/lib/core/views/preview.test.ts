/** What changes while somebody types: exactly the rows that a full calculation would find changed, and no other. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../calendar/calendar';
import { ModelDefinition } from '../blocks/driver-model/schema';
import { rowKey } from '../engine/row-key';
import type { Series } from '../inputs/series';
import { byKey, changesIn, reachedBy, valuesOf } from './model-changes';
import { layoutOf, modelFigures, type ModelQuery } from './model-view';
import { packScenario } from '../scenario/package';
import type { TypedCell } from '../inputs/cell';
import { Preview } from './preview';
import { calculateScenario } from '../scenario/assemble';
import { tryTyped } from '../scenario/type-cells';
import type { ScenarioData } from '../scenario/data';
import { buildStructure } from '../company/structure';

const calendar = monthCalendar(4);
const APR = calendar.parse('2026-04')!;
const MONTHS = 8;
const names = ['p1', 'p2', 'p3', 'p4', 'p5'];
const structure = buildStructure(
	calendar,
	[{ code: 'sales', name: 'Sales', parent: null, type: 'revenue', rollup: 'sum', format: 'money' }],
	[{ code: 'a', name: 'A', parent: null, entity: 'e' }],
	[
		{
			code: 'product',
			name: 'Product',
			members: [
				{ code: 'g', name: 'G', parent: null, retired: false, attributes: {} },
				...names.map((code, i) => ({
					code,
					name: code,
					parent: i < 3 ? 'g' : null,
					retired: false,
					attributes: {}
				}))
			]
		},
		{
			code: 'channel',
			name: 'Channel',
			members: ['web', 'shop'].map((code) => ({
				code,
				name: code,
				parent: null,
				retired: false,
				attributes: {}
			}))
		}
	],
	'GBP'
);
const rows = names.flatMap((p, i) =>
	i === 4
		? [[p, 'web']]
		: [
				[p, 'web'],
				[p, 'shop']
			]
);
/** Own past, a look ahead, totals over other rows, an error where something is 0, an exception, a recomputed total. */
const plain = [
	{ code: 'units', label: 'Units' },
	{ code: 'price', label: 'Price', rollup: { time: 'formula', members: 'weighted:units' } },
	{ code: 'income', label: 'Income', formula: 'units * price' },
	{ code: 'stock', label: 'Stock', formula: 'opening(stock) + units', rollup: { time: 'last' } },
	{ code: 'kin', label: 'Kin', formula: 'total(units, product)' },
	{ code: 'before', label: 'Before', formula: 'lag(units, 1)' },
	{ code: 'ahead', label: 'Ahead', formula: 'lead(units, 2) + 1' },
	{
		code: 'part',
		label: 'Part',
		formula: 'price / units',
		rollup: { time: 'average', members: 'average' }
	},
	{
		code: 'other',
		label: 'Other',
		formula: 'units * 2',
		scoped: [{ where: { product: 'g', channel: 'web' }, formula: 'income / 10' }]
	},
	{
		code: 'each',
		label: 'Each',
		formula: 'ratio(income, units)',
		rollup: { time: 'formula', members: 'formula' }
	}
];
/** A total that is recomputed from the total before it. */
const moves = {
	code: 'moved',
	label: 'Moved',
	formula: 'income - lag(income, 1)',
	rollup: { time: 'formula', members: 'formula' }
};
const model = (code: string, lines: object[]) =>
	ModelDefinition.parse({ code, name: code, dimensions: ['product', 'channel'], lines });
const definitions = [model('m', plain), model('n', [...plain, moves])];
const data: ScenarioData = {
	scenario: {
		code: 's',
		name: 'S',
		kind: 'budget',
		first: APR,
		last: APR + MONTHS - 1,
		actualsThrough: null,
		follows: null,
		origin: null,
		locked: false,
		description: ''
	},
	models: definitions.map((definition) => ({ definition, rows })),
	series: rows.flatMap((row, r) =>
		['m/units', 'm/price', 'n/units', 'n/price'].map((name, n): Series => ({
			block: name.split('/')[0],
			line: name.split('/')[1],
			row: rowKey(row),
			first: APR,
			values: Float64Array.from(
				{ length: MONTHS },
				(_, t) => ((r * 7 + t * 3 + (n % 2)) % 9) * (n % 2 ? 2.5 : 1)
			)
		}))
	),
	bases: [],
	history: { first: APR, accounts: new Map() }
};
const spans = [
	...Array.from({ length: MONTHS }, (_, t) => ({ from: APR + t, to: APR + t })),
	{ from: APR, to: APR + 2 },
	{ from: APR, to: APR + MONTHS - 1 }
];
const lines = definitions[1].lines.map((l) => l.code);
const queries: ModelQuery[] = [
	{ model: 'm', spans, open: lines },
	{ model: 'm', spans, rows: ['product', 'line'], open: ['product:g', 'product:p4'] },
	{ model: 'm', spans, rows: ['line', 'product'], across: 'channel', open: ['units', 'part', 'income'] },
	{ model: 'm', spans, open: ['units'], where: { product: 'g' }, lines: ['units', 'other'] },
	{ model: 'm', spans, open: lines, hideEmpty: true },
	{ model: 'n', spans, open: lines },
	{ model: 'n', spans, rows: ['line', 'product'], across: 'channel', open: ['units', 'moved'] }
];

const edit = fc.record({
	block: fc.constantFrom('m', 'n'),
	line: fc.constantFrom('units', 'price'),
	row: fc.constantFrom(...rows.map(rowKey)),
	period: fc.integer({ min: APR, max: APR + MONTHS - 1 }),
	value: fc.option(fc.constantFrom(0, 1, 2.5, 40), { nil: null })
});
/** One edit a cell, as an interface keeps them. */
const once = (edits: readonly TypedCell[]) => [
	...new Map(edits.map((e) => [`${e.block}${e.line}${e.row}${e.period}`, e])).values()
];
/** The scenario with cells typed, calculated from nothing. */
function typed(edits: readonly TypedCell[]) {
	const series = data.series.map((s) => {
		const values = s.values.slice();
		for (const e of edits)
			if (e.block === s.block && e.line === s.line && e.row === s.row)
				values[e.period - s.first] = e.value ?? NaN;
		return { ...s, values };
	});
	return calculateScenario(structure, { ...data, series });
}

describe('changes while typing', () => {
	it('are those of a full calculation, whatever was typed before, in any arrangement', () => {
		const preview = new Preview(packScenario(structure, data));
		const plan = calculateScenario(structure, data);
		fc.assert(
			fc.property(fc.array(edit, { maxLength: 4 }), fc.constantFrom(...queries), (some, query) => {
				const edits = once(some);
				const saved = modelFigures(plan, query);
				const before = new Map(saved.rows.map((r) => [r.key, r]));
				const now = modelFigures(typed(edits), query);
				const expected = now.rows.filter(
					(r) => !before.has(r.key) || r.cells.some((c, i) => c !== before.get(r.key)!.cells[i])
				);
				const found = preview.changes(edits, query, saved);
				expect(found.rows.map((r) => r.key)).toEqual(expected.map((r) => r.key));
				expect(found.rows.map((r) => r.cells)).toEqual(expected.map((r) => r.cells));
				if (!query.hideEmpty) expect(saved.errors + found.moreErrors).toBe(now.errors);
				// Tried on a plan that is there, it says the same, and leaves the plan as it was.
				const [layout, values] = [layoutOf(plan, query), valuesOf(plan, 'm')];
				const reached = tryTyped(plan, { cells: edits }, () =>
					reachedBy(plan, edits, query, layout, values)
				)!;
				const was = byKey(modelFigures(plan, query, layout, reached.touched));
				expect(changesIn(reached, query, was)).toEqual(found);
				expect(modelFigures(plan, query)).toEqual(saved);
			}),
			{ numRuns: 250 }
		);
	});
	it('tell a blank from a 0, in later months too', () => {
		const preview = new Preview(packScenario(structure, data));
		const saved = modelFigures(calculateScenario(structure, data), queries[0]);
		const row = rowKey(rows[0]);
		const before = saved.rows.find((r) => r.key === `before@${row}`)!;
		expect(before.cells[1]).toBe(0);
		const changes = preview.changes(
			[{ block: 'm', line: 'units', row, period: APR, value: null }],
			queries[0],
			saved
		);
		expect(changes.rows.find((r) => r.key === before.key)?.cells).toEqual(
			before.cells.map((c, i) => (i === 1 ? null : c))
		);
	});
	it('tell what was typed where adjustments have made something else of it', () => {
		const adjusted: ScenarioData = {
			...data,
			adjustments: [
				{
					code: 'more',
					name: 'More',
					on: true,
					steps: [
						{
							operation: 'multiply',
							value: 2,
							lines: [{ block: 'm', line: 'units' }],
							where: { product: 'g' },
							from: APR + 2
						}
					]
				}
			]
		};
		const preview = new Preview(packScenario(structure, adjusted));
		const saved = modelFigures(calculateScenario(structure, adjusted), queries[0]);
		for (const period of [APR + 5, APR]) {
			const edits = [{ block: 'm', line: 'units', row: rowKey(rows[0]), period, value: 7 }];
			const series = data.series.map((s) => {
				const values = s.values.slice();
				if (s.block === 'm' && s.line === 'units' && s.row === edits[0].row) values[period - APR] = 7;
				return { ...s, values };
			});
			const now = modelFigures(calculateScenario(structure, { ...adjusted, series }), queries[0]);
			const by = new Map(now.rows.map((r) => [r.key, r]));
			const changes = preview.changes(edits, queries[0], saved);
			expect(changes.rows.map((r) => r.key)).toContain(`units@${edits[0].row}`);
			for (const r of changes.rows) {
				expect(r.cells).toEqual(by.get(r.key)!.cells);
				expect(r.typed).toEqual(by.get(r.key)!.typed);
			}
			expect(changes.rows.some((r) => r.typed !== undefined)).toBe(true);
		}
	});
	it('are none once everything is taken back', () => {
		const preview = new Preview(packScenario(structure, data));
		const saved = modelFigures(calculateScenario(structure, data), queries[0]);
		const e = { block: 'm', line: 'units', row: rowKey(rows[0]), period: APR, value: 99 };
		expect(preview.changes([e], queries[0], saved).rows.length).toBeGreaterThan(5);
		expect(preview.changes([], queries[0], saved)).toEqual({ rows: [], moreErrors: 0 });
	});
});

describe('a combination without rows', () => {
	it('is blank, also where a formula would make 0 of it', () => {
		const query = queries[6];
		const { across, rows: shown } = modelFigures(calculateScenario(structure, data), query);
		const moved = shown.find((r) => r.label === 'p5' && r.targets[0]?.line === 'moved')!;
		const under = (member: string) => {
			const e = across.findIndex((a) => a.key === member);
			return moved.cells.slice(e * spans.length, (e + 1) * spans.length);
		};
		expect(under('shop')).toEqual(spans.map(() => null));
		expect(under('web').every((c) => typeof c === 'number')).toBe(true);
	});
});

describe('only the first rows with figures', () => {
	it('are the same as among all, and those after them have none', () => {
		const plan = calculateScenario(structure, data);
		const all = modelFigures(plan, queries[0]);
		for (const rowsWithCells of [0, 1, 5, all.rows.length, 1000]) {
			const some = modelFigures(plan, { ...queries[0], rowsWithCells });
			expect(some.rows.map((r) => r.key)).toEqual(all.rows.map((r) => r.key));
			some.rows.forEach((r, n) => expect(r.cells).toEqual(n < rowsWithCells ? all.rows[n].cells : []));
		}
		// What is left out as empty is known only when all of it is read.
		const hidden = modelFigures(plan, { ...queries[4], rowsWithCells: 2 });
		expect(hidden).toEqual(modelFigures(plan, queries[4]));
	});
});
