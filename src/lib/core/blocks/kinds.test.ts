/** What every kind of block keeps to, so that whoever asks one may ask any. */
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../calendar/calendar';
import { buildStructure } from '../company/structure';
import type { Account } from '../company/schema';
import { rowKey } from '../engine/row-key';
import { newMatrix, setCell } from '../engine/values';
import { adjustmentsFrom } from '../inputs/adjust';
import { calculateScenario } from '../scenario/assemble';
import type { ScenarioData } from '../scenario/data';
import { typeInto } from '../scenario/type-cells';
import { ModelDefinition } from './driver-model/schema';
import { changeRows } from './schedule/row-changes';
import { ScheduleDefinition } from './schedule/schema';

const calendar = monthCalendar(4);
const first = calendar.parse('2026-04')!;
const account = (code: string, type: Account['type'], parent: string | null): Account => ({
	code,
	name: code.toUpperCase(),
	parent,
	type,
	rollup: type === 'asset' ? 'last' : 'sum',
	format: 'money'
});
const structure = buildStructure(
	calendar,
	[
		account('profit', 'revenue', null),
		account('sales', 'revenue', 'profit'),
		account('rent', 'expense', 'profit'),
		account('bonus', 'expense', 'profit'),
		account('fees', 'expense', 'profit'),
		account('cash', 'asset', null)
	],
	[
		{ code: 'all', name: 'All', parent: null, entity: 'e' },
		{ code: 'a', name: 'A', parent: 'all', entity: 'e' },
		{ code: 'b', name: 'B', parent: 'all', entity: 'e' }
	],
	[],
	'GBP'
);
const model = ModelDefinition.parse({
	code: 'boats',
	name: 'Boats',
	dimensions: ['department'],
	lines: [
		{ code: 'units', label: 'Units', extend: 'last' },
		{ code: 'price', label: 'Price', scoped: [{ where: { department: 'a' }, formula: '7' }] },
		{ code: 'income', label: 'Income', formula: 'units * price' }
	],
	postings: [{ line: 'income', account: { code: 'sales' }, department: { attribute: 'department.code' } }]
});
const table = ModelDefinition.parse({
	code: 'rates',
	name: 'Rates',
	lines: [{ code: 'growth', label: 'Growth' }]
});
const contracts = ScheduleDefinition.parse({
	code: 'contracts',
	name: 'Contracts',
	named: 'what',
	divided: true,
	columns: [
		{ code: 'what', label: 'What', kind: 'text' },
		{ code: 'home', label: 'Department', kind: 'department', required: true },
		{ code: 'fee', label: 'Fee', kind: 'money' }
	],
	lines: [
		{ code: 'extra', label: 'Extra' },
		{ code: 'cost', label: 'Cost', formula: 'fee + extra' }
	],
	postings: [{ line: 'cost', account: { code: 'fees' } }]
});
const past = newMatrix(2, 12);
for (let t = 0; t < 12; t++) setCell(past, 0, t, 10 * (t + 1));
const data = (more: Partial<ScenarioData> = {}): ScenarioData => ({
	scenario: {
		code: 's',
		name: 'S',
		kind: 'budget',
		first,
		last: first + 11,
		actualsThrough: first - 1,
		follows: null,
		origin: null,
		locked: false,
		description: ''
	},
	models: [
		{ definition: model, rows: [['a'], ['b']] },
		{ definition: table, rows: [] }
	],
	schedules: [
		{
			definition: contracts,
			rows: [
				{ id: 'c1', values: { what: 'Berth', home: 'a', fee: 12 } },
				{ id: 'c2', values: { what: 'Lift', home: 'b', fee: 5 }, shares: ['a'] }
			]
		}
	],
	series: [
		{ block: 'boats', line: 'units', row: 'b', first, values: Float64Array.of(1, 2, 3) },
		{ block: 'contracts', line: 'extra', row: 'c2', first, values: Float64Array.of(3) },
		{ block: 'contracts_shares', line: 'share', row: 'c2|b', first, values: Float64Array.of(0.5) },
		{ block: 'rates', line: 'growth', row: '', first, values: Float64Array.of(0.1) },
		{ block: 'accounts', line: 'bonus', row: 'a', first, values: Float64Array.of(5, 6) }
	],
	bases: [{ account: 'rent', department: 'a', basis: { kind: 'last-year', percent: 0.5 } }],
	history: { first: first - 12, accounts: new Map([['rent', past]]) },
	...more
});
const plan = calculateScenario(structure, data());

describe.each([...plan.blocks.values()].map((b) => [b.code, b] as const))('the block %s', (code, block) => {
	const lines =
		code === 'accounts'
			? ['sales', 'rent', 'bonus']
			: code === 'contracts_shares'
				? ['share', 'extra', 'cost']
				: (code === 'contracts' ? contracts : plan.models.get(code)!.definition).lines.map((l) => l.code);
	const calculated = plan.calculation.block(code);

	it('has its rows where the calculation has them', () => {
		expect(block.rows.map(rowKey)).toEqual(calculated.rows.map(rowKey));
		block.rows.forEach((row, i) => expect(block.rowAt(rowKey(row))).toBe(i));
		expect(block.rowAt('nowhere')).toBe(-1);
		expect(block.dimensions).toEqual(calculated.dimensions);
	});
	it('knows its lines and says what is not there', () => {
		for (const line of lines) {
			expect(block.line(line)?.label).toBeTruthy();
			for (const row of block.rows) expect(block.missing(line, rowKey(row))).toBeNull();
			expect(block.missing(line, 'nowhere')).toMatch(/nowhere/);
		}
		expect(block.line('constructor')).toBeUndefined();
		expect(block.missing('constructor', rowKey(block.rows[0]))).toMatch(/constructor/);
		expect(block.adjustmentFault('constructor')).toMatch(/constructor/);
		expect(block.typingFaults('constructor', rowKey(block.rows[0]))[0]).toMatchObject({ column: 'line' });
	});
	it('takes what is typed where it says so, and nowhere else', () => {
		const fresh = calculateScenario(structure, data());
		for (const line of lines)
			for (const row of [...block.rows.map(rowKey), 'nowhere']) {
				const may = block.typingFaults(line, row).length === 0;
				const own = (of: typeof plan) =>
					of.calculation.cell(code, block.typedLine(line), block.rowAt(row), first + 3);
				// Of a line that is typed for some rows it says “some of it can be”.
				const taken = typeInto(fresh, [{ block: code, line, row, period: first + 3, value: 77 }]);
				if (!may) expect(taken, `${line} ${row}`).toBe(false);
				if (taken) expect(own(fresh)).toBe(77);
				if (may && !(line === 'price' && row === 'a')) expect(taken, `${line} ${row}`).toBe(true);
			}
	});
	it('is adjusted in every line that it offers, and adopted to the same figures', () => {
		for (const { code: line } of block.adjustable()) {
			expect(block.adjustmentFault(line)).toBeNull();
			if (line === 'price') continue;
			const adjustments = adjustmentsFrom(
				[
					{
						code: 'x',
						name: 'X',
						on: true,
						adopted: null,
						steps: [{ operation: 'add', value: 3, lines: [{ block: code, line }], where: {} }]
					}
				],
				calendar
			);
			const with_ = calculateScenario(structure, data({ adjustments }));
			const { cells, values } = block.adopting(plan, with_, line);
			expect(cells.length + values.length).toBeGreaterThan(0);
			const rows = changeRows(
				data().schedules![0].rows,
				values.map(({ row, ...v }) => ({ kind: 'set', id: row, ...v }))
			);
			expect(rows.conflicts).toEqual([]);
			const schedules = [{ definition: contracts, rows: rows.rows }];
			const adopted = calculateScenario(structure, data({ schedules }));
			expect(typeInto(adopted, cells)).toBe(true);
			block.rows.forEach((_, r) => {
				for (let p = first; p < first + 12; p++)
					expect(adopted.calculation.cell(code, line, r, p)).toBe(with_.calculation.cell(code, line, r, p));
			});
		}
		expect(block.adjustable().length).toBeGreaterThan(0);
	});
	it('says of every cell what it is made of', () => {
		for (const line of lines)
			block.rows.forEach((_, r) => {
				for (let p = plan.calculation.axis.first; p < first + 12; p++) {
					const made = block.madeOf(plan, line, r, p);
					const value = plan.calculation.cell(code, line, r, p);
					if (made.kind === 'nothing') expect(value).toBeNull();
					if (made.kind === 'input' || made.kind === 'typed') expect(value).not.toBeNull();
				}
			});
	});
});

it('cells say where they come from: typed, by a basis, posted, by a formula', () => {
	const kind = (block: string, line: string, row: string, period = first) => {
		const own = plan.blocks.get(block)!;
		return own.madeOf(plan, line, own.rowAt(row), period).kind;
	};
	expect(kind('accounts', 'bonus', 'a')).toBe('typed');
	expect(kind('accounts', 'rent', 'a')).toBe('basis');
	expect(kind('accounts', 'sales', 'b')).toBe('posted');
	expect(kind('accounts', 'bonus', 'b')).toBe('nothing');
	expect(kind('accounts', 'rent', 'a', first - 1)).toBe('followed');
	expect(kind('boats', 'units', 'b')).toBe('input');
	expect(kind('boats', 'price', 'a')).toBe('formula');
	expect(kind('boats', 'price', 'b')).toBe('nothing');
	expect(kind('rates', 'growth', '')).toBe('input');
});

it('what adopting moves away leaves a blank, and a 0 over a basis that would show again', () => {
	const shifted = (line: string) => {
		const adjustments = adjustmentsFrom(
			[
				{
					code: 'x',
					name: 'X',
					on: true,
					adopted: null,
					steps: [{ operation: 'shift', periods: 1, lines: [{ block: 'accounts', line }], where: {} }]
				}
			],
			calendar
		);
		const with_ = calculateScenario(structure, data({ adjustments }));
		return plan.accounts.adopting(plan, with_, line).cells.find((e) => e.row === 'a' && e.period === first);
	};
	expect(shifted('bonus')).toMatchObject({ before: 5, value: null });
	expect(shifted('rent')).toMatchObject({ before: null, value: 0 });
});
