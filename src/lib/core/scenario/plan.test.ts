import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../calendar/calendar';
import { movesFrom, move, SUBMISSION_STATES } from '../rounds/submission';
import { overTime } from '../statements/statement';
import { totalsOf } from '../statements/totals';
import { newMatrix, setCell } from '../engine/values';
import { ModelDefinition } from '../blocks/driver-model/schema';
import type { Account } from '../company/schema';
import type { Basis } from '../inputs/basis';
import type { Scenario } from './schema';
import { buildStructure } from '../company/structure';
import { calculateScenario, firstOpen } from './assemble';
import type { ScenarioData } from './data';
import { nextForecast } from './carry';
import { trace } from '../explain/trace';

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
const structure = buildStructure(
	calendar,
	[
		account('profit', null, 'revenue'),
		account('sales', 'profit', 'revenue'),
		account('cost', 'profit', 'expense'),
		account('wages', 'cost', 'expense'),
		account('other', 'cost', 'expense')
	],
	[
		{ code: 'all', name: 'All', parent: null, entity: 'e' },
		{ code: 'a', name: 'A', parent: 'all', entity: 'e' },
		{ code: 'b', name: 'B', parent: 'all', entity: 'e' }
	],
	[
		{
			code: 'product',
			name: 'Product',
			members: [
				{ code: 'p', name: 'P', parent: null, retired: false, attributes: { seller: 'b' } },
				{ code: 'q', name: 'Q', parent: null, retired: false, attributes: { seller: 'a' } }
			]
		}
	],
	'GBP'
);
const FIRST = at('2025-04');

/** Actuals of a year and a half: 100, 101, 102 … in department a; ten times that in b. */
function history(accounts: string[], months = 18) {
	return {
		first: FIRST,
		accounts: new Map(
			accounts.map((code) => {
				const m = newMatrix(2, months);
				for (let t = 0; t < months; t++) {
					setCell(m, 0, t, 100 + t);
					setCell(m, 1, t, 1000 + 10 * t);
				}
				return [code, m] as const;
			})
		)
	};
}
const scenario: Scenario = {
	code: 's',
	name: 'S',
	kind: 'forecast',
	first: at('2026-04'),
	last: at('2027-03'),
	actualsThrough: at('2026-09'),
	follows: null,
	origin: null,
	locked: false,
	description: ''
};
function plan(more: Partial<ScenarioData> = {}, bases: [string, string, Basis][] = []) {
	return calculateScenario(structure, {
		scenario,
		models: [],
		series: [],
		history: history(['sales', 'wages']),
		bases: bases.map(([account, department, basis]) => ({ account, department, basis })),
		...more
	});
}
const typed = (line: string, row: string, first: string, values: number[]) => ({
	block: 'accounts',
	line,
	row,
	first: at(first),
	values: Float64Array.from(values)
});

describe('a scenario', () => {
	it('takes actuals through its month and is plan after it', () => {
		expect(calendar.key(firstOpen(scenario))).toBe('2026-10');
		const p = plan({ series: [typed('sales', 'a', '2026-09', [9999, 500])] });
		expect(p.calculation.cell('accounts', 'sales', 0, at('2026-09'))).toBe(117);
		expect(p.calculation.cell('accounts', 'sales', 0, at('2026-10'))).toBe(500);
		expect(p.calculation.cell('accounts', 'sales', 0, at('2026-11'))).toBeNull();
	});

	it('plans by last year, also a year further on from its own plan', () => {
		const p = plan({ scenario: { ...scenario, last: at('2027-12') } }, [
			['sales', 'a', { kind: 'last-year', percent: 0.1 }]
		]);
		// October 2025 was 106; October 2026 is 10 % more, and October 2027 10 % on top.
		expect(p.calculation.cell('accounts', 'sales', 0, at('2026-10'))).toBeCloseTo(106 * 1.1, 10);
		expect(p.calculation.cell('accounts', 'sales', 0, at('2027-10'))).toBeCloseTo(106 * 1.1 * 1.1, 10);
	});

	it('plans by run-rate, by a share of another account, each department in its own way', () => {
		const p = plan({}, [
			['sales', 'a', { kind: 'run-rate', months: 3 }],
			['other', 'a', { kind: 'percent-of', percent: 0.5, account: 'sales' }],
			['sales', 'b', { kind: 'percent-of', percent: 2, account: 'other' }],
			['other', 'b', { kind: 'run-rate', months: 3 }]
		]);
		expect(p.calculation.cell('accounts', 'sales', 0, at('2027-01'))).toBe((115 + 116 + 117) / 3);
		expect(p.calculation.cell('accounts', 'other', 0, at('2027-01'))).toBe(58);
		// b has no history of “other”, so nothing to average; the two departments' rules do not make a circle.
		expect(p.calculation.cell('accounts', 'other', 1, at('2027-01'))).toBeNull();
	});
	it('takes figures typed over bases that cross between two departments', () => {
		const months = ['sales', 'other'].flatMap((account) =>
			['a', 'b'].map((department) => typed(account, department, '2026-12', [8]))
		);
		const p = plan({ series: months }, [
			['other', 'a', { kind: 'percent-of', percent: 0.5, account: 'sales' }],
			['sales', 'b', { kind: 'percent-of', percent: 2, account: 'other' }],
			['sales', 'a', { kind: 'run-rate', months: 3 }]
		]);
		expect(p.calculation.cell('accounts', 'other', 0, at('2027-01'))).toBe(58);
		expect(p.calculation.cell('accounts', 'other', 0, at('2026-12'))).toBe(8);
	});

	it('refuses a share of itself, however far around', () => {
		expect(() =>
			plan({}, [
				['sales', 'a', { kind: 'percent-of', percent: 0.5, account: 'wages' }],
				['wages', 'a', { kind: 'percent-of', percent: 0.5, account: 'sales' }]
			])
		).toThrow(/account sales → account wages → account sales|account wages → account sales → account wages/);
	});

	it('lets a typed value stand over the basis, in its month alone', () => {
		const p = plan({ series: [typed('sales', 'a', '2026-11', [42])] }, [
			['sales', 'a', { kind: 'last-year', percent: 0 }]
		]);
		expect([10, 11, 12].map((m) => p.calculation.cell('accounts', 'sales', 0, at(`2026-${m}`)))).toEqual([
			106, 42, 108
		]);
		const t = trace(p, {
			kind: 'account',
			account: 'sales',
			department: 'a',
			from: at('2026-11'),
			to: at('2026-11')
		});
		expect(t.explanations).toEqual([
			{ kind: 'typed', basis: { kind: 'last-year', percent: 0 }, basisValue: 107 }
		]);
	});

	it('adds accounts up with the sign of their type, over departments and time', () => {
		const p = plan();
		const s = totalsOf(p).of('profit', null);
		expect(overTime(s, at('2026-04'), at('2026-04'))).toBe(0);
		const sales = totalsOf(p).of('sales', null);
		expect(overTime(sales, at('2025-04'), at('2025-06'))).toBe(100 + 101 + 102 + 1000 + 1010 + 1020);
	});
});

describe('a driver model in a scenario', () => {
	const model = ModelDefinition.parse({
		code: 'm',
		name: 'M',
		dimensions: ['product'],
		lines: [
			{ code: 'units', label: 'Units' },
			{ code: 'price', label: 'Price', closed: 'keep' },
			{ code: 'income', label: 'Income', formula: 'units * price' }
		],
		postings: [{ line: 'income', account: { code: 'sales' }, department: { attribute: 'product.seller' } }]
	});
	const rows = [['p'], ['q']];
	const input = (line: string, row: string, value: number) => ({
		block: 'm',
		line,
		row,
		first: at('2026-04'),
		values: new Float64Array(12).fill(value)
	});
	const data = {
		models: [{ definition: model, rows }],
		series: [input('units', 'p', 3), input('units', 'q', 5), input('price', 'p', 10), input('price', 'q', 7)]
	};

	it('posts to the department its members name, in open months alone', () => {
		const p = plan(data);
		expect(p.calculation.cell('accounts', 'sales', 0, at('2026-10'))).toBe(35);
		expect(p.calculation.cell('accounts', 'sales', 1, at('2026-10'))).toBe(30);
		expect(p.calculation.cell('accounts', 'sales', 0, at('2026-09'))).toBe(117);
		expect(p.accounts.origin('sales', 'a')).toEqual({ kind: 'posted', models: ['m'] });
	});
	it('shows typed drivers in closed months only where they are kept', () => {
		const p = plan(data);
		expect(p.calculation.cell('m', 'units', 0, at('2026-09'))).toBeNull();
		expect(p.calculation.cell('m', 'price', 0, at('2026-09'))).toBe(10);
	});
	it('is traced from the account to the row, from the row to what was typed', () => {
		const p = plan(data);
		const figure = trace(p, {
			kind: 'account',
			account: 'sales',
			department: 'b',
			from: at('2026-10'),
			to: at('2026-10')
		});
		expect(figure.explanations).toEqual([
			{
				kind: 'posted',
				parts: [
					{
						ref: { kind: 'line', model: 'm', line: 'income', row: 'p', period: at('2026-10') },
						name: 'P',
						value: 30,
						format: 'number',
						sign: 1
					}
				]
			}
		]);
		const row = trace(p, { kind: 'line', model: 'm', line: 'income', row: 'p', period: at('2026-10') });
		expect(row.explanations[0]).toMatchObject({
			kind: 'formula',
			formula: 'units * price',
			operands: [
				{ name: 'Units', value: 3 },
				{ name: 'Price', value: 10 }
			]
		});
		expect(
			trace(p, { kind: 'line', model: 'm', line: 'units', row: 'p', period: at('2026-10') }).explanations
		).toEqual([{ kind: 'input' }]);
	});
	it('is refused when a posting leads nowhere', () => {
		const lost = { ...model, postings: [{ ...model.postings[0], account: { code: 'profit' } }] };
		expect(() => plan({ ...data, models: [{ definition: lost, rows }] })).toThrow(
			/“profit”, which is no account that takes figures/
		);
	});
});

describe('the next forecast', () => {
	it('is named by closed and open months, reaching twelve ahead', () => {
		expect(nextForecast(calendar, scenario, at('2026-10'))).toEqual({
			name: 'FY27 Forecast 7+5',
			actualsThrough: at('2026-10'),
			last: at('2027-10')
		});
		expect(nextForecast(calendar, scenario, at('2027-03')).name).toBe('FY27 Forecast 12+0');
		expect(nextForecast(calendar, { ...scenario, last: at('2028-03') }, at('2026-10')).last).toBe(
			at('2028-03')
		);
	});
});

describe('a submission', () => {
	const both = { owner: true, reviewer: true };
	it('moves along its route, and back only with a reason', () => {
		expect(move('drafting', 'submit', both, '')).toEqual({ state: 'submitted' });
		expect(move('submitted', 'return', both, ' ')).toEqual({ refused: 'Say why, in a sentence.' });
		expect(move('submitted', 'return', both, 'Round it.')).toEqual({ state: 'returned' });
		expect(move('returned', 'submit', both, '')).toEqual({ state: 'submitted' });
		expect(move('in review', 'approve', both, '')).toEqual({ state: 'approved' });
		expect(move('approved', 'submit', both, '')).toHaveProperty('refused');
	});
	it('is moved by those whose move it is', () => {
		expect(move('submitted', 'approve', { owner: true, reviewer: false }, '')).toHaveProperty('refused');
		expect(move('drafting', 'submit', { owner: false, reviewer: true }, '')).toHaveProperty('refused');
		for (const state of SUBMISSION_STATES)
			expect(movesFrom(state, { owner: false, reviewer: false })).toEqual([]);
	});
});
