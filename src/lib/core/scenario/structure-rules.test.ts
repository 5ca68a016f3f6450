/** What a company must be for every figure of it to be calculated: each rule, and that a sound one breaks none. */
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../calendar/calendar';
import { chartFaults, planFault } from '../company/chart';
import { ModelDefinition } from '../blocks/driver-model/schema';
import type { Account } from '../company/schema';
import type { AdjustmentDefinition } from '../inputs/schema';
import type { Basis } from '../inputs/basis';
import { treeFaults } from '../company/tree';
import { adjustmentFaults } from './check-adjustment';
import { blocksOf } from '../blocks/kinds';
import { basisFaults } from '../blocks/accounts/check-basis';
import { rowFaults } from '../blocks/driver-model/check-rows';
import { scenarioFaults } from './check-scenarios';
import { buildStructure } from '../company/structure';

const calendar = monthCalendar(4);
const at = (key: string) => calendar.parse(key)!;
const account = (code: string, parent: string | null, type: Account['type']): Account => ({
	code,
	name: code,
	parent,
	type,
	rollup: 'sum',
	format: 'money'
});
const node = (code: string, parent: string | null) => ({ code, name: code, parent });
const CHART = [
	account('profit', null, 'revenue'),
	account('sales', 'profit', 'revenue'),
	account('energy', 'profit', 'expense'),
	account('assets', null, 'asset'),
	account('cash', 'assets', 'asset'),
	account('figures', null, 'statistical'),
	account('mwh', 'figures', 'statistical')
];
const structure = buildStructure(
	calendar,
	CHART,
	['all', 'a', 'b'].map((code) => ({ ...node(code, code === 'all' ? null : 'all'), entity: 'e' })),
	[
		{
			code: 'product',
			name: 'Product',
			members: [node('boats', null), node('kayak', 'boats'), node('rope', null)].map((m) => ({
				...m,
				retired: false,
				attributes: { account: m.code === 'rope' ? 'cash' : m.code === 'kayak' ? 'sales' : '' }
			}))
		}
	],
	'GBP'
);
const model = ModelDefinition.parse({
	code: 'm',
	name: 'M',
	dimensions: ['product'],
	lines: [
		{ code: 'units', label: 'Units' },
		{ code: 'price', label: 'Price', rollup: { members: 'weighted:units' } },
		{ code: 'income', label: 'Income', formula: 'units * price' }
	],
	postings: [{ line: 'income', account: { attribute: 'product.account' }, department: { code: 'a' } }]
});

describe('trees', () => {
	it('tell all faults at once: codes twice, parents that are not there, circles, too many levels', () => {
		const items = [node('a', 'b'), node('b', 'a'), node('c', 'x'), node('c', null), node('d', 'a')];
		expect(treeFaults(items).map((f) => [f.code, f.column])).toEqual([
			['c', 'code'],
			['a', 'parent'],
			['b', 'parent']
		]);
		const deep = Array.from({ length: 32 }, (_, i) => node(`${i}`, i ? `${i - 1}` : null));
		expect(treeFaults(deep.slice(0, 30))).toEqual([]);
		expect(treeFaults(deep).at(-1)!.message).toMatch(/more than 30 levels deep/);
	});
	it('may list children before their parents', () => {
		expect(treeFaults([node('a', 'b'), node('b', null)])).toEqual([]);
	});
});

describe('a chart of accounts', () => {
	it('keeps statistics and money apart', () => {
		expect(chartFaults(CHART)).toEqual([]);
		const [under, over] = chartFaults([
			...CHART,
			account('kwh', 'energy', 'statistical'),
			account('fee', 'figures', 'expense')
		]);
		expect(under).toMatchObject({
			code: 'kwh',
			column: 'type',
			message: expect.stringMatching(/do not add up/)
		});
		expect(over).toMatchObject({ code: 'fee', column: 'type' });
		expect(chartFaults([account('r', null, 'revenue'), account('x', 'r', 'rate')])).toHaveLength(1);
	});
	it('has accounts that take a plan, and says of each other why not', () => {
		const why = (code: string) => planFault(structure.accounts, code);
		expect(why('sales')).toBeNull();
		expect(why('mwh')).toBeNull();
		expect(why('profit')).toMatch(/total/);
		expect(why('cash')).toMatch(/balance \(asset\). Balances are not typed/);
		expect(why('constructor')).toMatch(/no planning account/);
	});
});

describe('a basis', () => {
	const faults = (basis: Basis, code = 'energy', department = 'a') =>
		basisFaults({ account: code, department, basis }, structure, [model]).map((f) => f.column);
	it('rests on accounts that are planned, in departments that take figures, on lines that add up', () => {
		expect(faults({ kind: 'percent-of', percent: 0.1, account: 'sales' })).toEqual([]);
		expect(faults({ kind: 'driver', driver: 'm.units', rate: 2 })).toEqual([]);
		expect(faults({ kind: 'percent-of', percent: 0.1, account: 'cash' })).toEqual(['of_account']);
		expect(faults({ kind: 'last-year', percent: 0 }, 'cash')).toEqual(['account']);
		expect(faults({ kind: 'typed' }, 'energy', 'all')).toEqual(['department']);
		expect(faults({ kind: 'driver', driver: 'm.price', rate: 2 })).toEqual(['driver']);
		expect(faults({ kind: 'driver', driver: 'm.toString', rate: 2 })).toEqual(['driver']);
	});
});

describe('an adjustment', () => {
	const faults = (step: Partial<AdjustmentDefinition['steps'][number]>) =>
		adjustmentFaults(
			{
				code: 'x',
				name: 'X',
				on: true,
				adopted: null,
				steps: [
					{
						operation: 'add',
						value: 1,
						where: {},
						lines: [{ block: 'm', line: 'units' }],
						...step
					} as AdjustmentDefinition['steps'][number]
				]
			},
			structure,
			blocksOf(structure, { models: [{ definition: model, rows: [] }] })
		).map((f) => f.column);
	it('changes what is typed or planned, for members and months that are there', () => {
		expect(faults({ where: { product: 'boats' }, from: '2026-04', to: '2026-04' })).toEqual([]);
		expect(faults({ lines: [{ block: 'accounts', line: 'energy' }], where: { department: 'a' } })).toEqual(
			[]
		);
		expect(faults({ lines: [{ block: 'accounts', line: 'cash' }] })).toEqual(['steps.1.lines']);
		expect(faults({ lines: [{ block: 'm', line: 'income' }] })).toEqual(['steps.1.lines']);
		expect(faults({ lines: [{ block: 'n', line: 'units' }] })).toEqual(['steps.1.lines']);
		expect(faults({ where: { department: 'a' } })).toEqual(['steps.1.where']);
		expect(faults({ where: { product: 'sails' } })).toEqual(['steps.1.where']);
		expect(faults({ from: 'soon' })).toEqual(['steps.1.from']);
		expect(faults({ from: '2026-05', to: '2026-04' })).toEqual(['steps.1.to']);
	});
});

describe('rows of a model', () => {
	const faults = (...rows: string[][]) =>
		rowFaults(model, rows, structure).map((f) => [f.row, f.dimension, f.message]);
	it('are single members, once each, whose postings lead to accounts that are planned', () => {
		expect(faults(['kayak'])).toEqual([]);
		expect(faults(['kayak'], ['boats'], ['kayak'], ['raft'], ['rope'])).toEqual([
			[1, 'product', expect.stringMatching(/total of others/)],
			[2, 'product', expect.stringMatching(/stands twice/)],
			[3, 'product', expect.stringMatching(/no product “raft”/)],
			[4, null, expect.stringMatching(/leads to cash: .*Balances are not typed/)]
		]);
		expect(faults(['kayak', 'b'])[0][2]).toMatch(/names product/);
	});
});

describe('scenarios', () => {
	const scenario = (code: string, first: string, last: string, more = {}) => ({
		code,
		name: code,
		kind: 'forecast' as const,
		first: at(first),
		last: at(last),
		actualsThrough: null,
		follows: null,
		origin: null,
		locked: false,
		description: '',
		target: null,
		...more
	});
	const faults = (...list: ReturnType<typeof scenario>[]) =>
		scenarioFaults(list, at('2026-10'), calendar).map((f) => [f.scenario, f.column]);
	it('follow one another without a gap or a circle, and are actual no further than the ledger', () => {
		const f = scenario('f', '2026-04', '2027-03', { actualsThrough: at('2026-10') });
		expect(faults(f, scenario('b', '2027-04', '2028-03', { follows: 'f', target: 'f' }))).toEqual([]);
		// Listed before the one it follows; the gap is closed by actuals.
		const early = scenario('e', '2026-08', '2027-03', { follows: 'o', actualsThrough: at('2026-07') });
		expect(faults(early, scenario('o', '2025-04', '2026-03'))).toEqual([]);
		expect(faults(f, scenario('b', '2027-05', '2028-03', { follows: 'f' }))).toEqual([['b', 'follows']]);
		expect(faults(scenario('x', '2026-04', '2027-03', { follows: 'x' }))).toEqual([['x', 'follows']]);
		expect(
			faults(
				scenario('x', '2026-04', '2027-03', { follows: 'y' }),
				scenario('y', '2026-04', '2027-03', { follows: 'x' })
			)
		).toEqual([
			['x', 'follows'],
			['y', 'follows']
		]);
		expect(faults(scenario('x', '2026-04', '2027-03', { follows: 'constructor' }))).toEqual([
			['x', 'follows']
		]);
		expect(faults(scenario('x', '2026-04', '2027-03', { actualsThrough: at('2026-11') }))).toEqual([
			['x', 'actuals_through']
		]);
		expect(faults(scenario('x', '2026-04', '2036-04'))).toEqual([['x', 'last']]);
		expect(faults(scenario('x', '2026-04', '2026-03'))).toEqual([['x', 'last']]);
		expect(faults(scenario('x', '2026-04', '2027-03', { target: 'x' }))).toEqual([['x', 'target']]);
	});
});
