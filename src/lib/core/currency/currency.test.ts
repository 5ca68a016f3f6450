/** A company in three currencies: its figures in reporting currency against working them out one by one. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../calendar/calendar';
import { calendarOf } from '../calendar/calendar-of';
import { axisOf } from '../engine/axis';
import { newMatrix, setCell, type Cell } from '../engine/values';
import { ModelDefinition } from '../blocks/driver-model/schema';
import type { Basis } from '../inputs/basis';
import { buildStructure, currencyUnder } from '../company/structure';
import type { Account, AccountType } from '../company/schema';
import { signInParent } from '../company/sign';
import { calculateScenario } from '../scenario/assemble';
import type { ScenarioData } from '../scenario/data';
import { whyItChanged } from '../explain/why';
import { EACH_ROW, LINES } from '../views/arrangement';
import { modelFigures } from '../views/model-view';
import { cellsOf, overTime } from '../statements/statement';
import { totalsOf, type TotalsIn } from '../statements/totals';
import { Exchange } from './exchange';
import { missingRates, missingText, type CurrencyRates } from './rates';

const calendar = monthCalendar(4);
const APR = calendar.parse('2026-04')!;
const MONTHS = 12;

const account = (
	code: string,
	type: AccountType,
	parent: string | null,
	more: Partial<Account> = {}
): Account => ({
	code,
	name: code,
	parent,
	type,
	rollup: ['asset', 'liability', 'equity'].includes(type) ? 'last' : 'sum',
	format: 'money',
	...more
});
const ACCOUNTS = [
	account('profit', 'revenue', null),
	account('sales', 'revenue', 'profit'),
	account('rent', 'expense', 'profit'),
	account('assets', 'asset', null),
	account('cash', 'asset', 'assets'),
	account('stock', 'asset', 'assets'),
	account('liabilities', 'liability', null),
	account('loan', 'liability', 'liabilities'),
	account('equity', 'equity', null),
	account('capital', 'equity', 'equity'),
	account('difference', 'equity', 'equity', { translation: true }),
	account('heads', 'statistical', null, { format: 'number' })
];
const ENTITIES = [
	{ code: 'uk', name: 'UK', currency: 'GBP' },
	{ code: 'oy', name: 'Oy', currency: 'EUR' },
	{ code: 'inc', name: 'Inc', currency: 'USD' }
];
const department = (code: string, parent: string | null, entity: string) => ({
	code,
	name: code,
	parent,
	entity
});
const DEPARTMENTS = [
	department('all', null, 'uk'),
	department('north', 'all', 'uk'),
	department('baltic', 'all', 'oy'),
	department('riga', 'baltic', 'oy'),
	department('oslo', 'baltic', 'oy'),
	department('boston', 'all', 'inc')
];
const structure = buildStructure(calendar, ACCOUNTS, DEPARTMENTS, [], 'GBP', ENTITIES);
const LEAVES = structure.departmentRows.map((d) => d.code);
const currencyOf = (leaf: string) => structure.rowCurrency[structure.departmentRow.get(leaf)!];

const run = (first: number, values: (number | null)[]) => ({
	first,
	values: Float64Array.from(values, (v) => v ?? NaN)
});
const rates = (currency: string, average: (number | null)[], closing: (number | null)[], first = APR) => ({
	currency,
	average: run(first, average),
	// From the month before on: what the year opens with.
	closing: run(first - 1, closing)
});
const flat = (n: number, length = MONTHS) => new Array<number>(length).fill(n);
const RATES: CurrencyRates[] = [
	rates('EUR', flat(0.86), [0.85, ...flat(0.88)]),
	rates('USD', flat(0.75), [0.7, ...flat(0.8)])
];

/** Ledger values by account and department, month by month from April. */
type Ledger = Record<string, Record<string, (number | null)[]>>;
const historyOf = (ledger: Ledger) => ({
	first: APR,
	accounts: new Map(
		Object.entries(ledger).map(([code, rows]) => {
			const matrix = newMatrix(LEAVES.length, MONTHS);
			LEAVES.forEach((leaf, r) => {
				for (let t = 0; t < MONTHS; t++) setCell(matrix, r, t, rows[leaf]?.[t] ?? null);
			});
			return [code, matrix];
		})
	)
});
const scenario = {
	code: 's',
	name: 'S',
	kind: 'forecast' as const,
	first: APR,
	last: APR + MONTHS - 1,
	actualsThrough: APR + 5,
	follows: null,
	origin: null,
	locked: false,
	description: ''
};
const planned = (more: Partial<ScenarioData> = {}) =>
	calculateScenario(structure, {
		scenario,
		models: [],
		series: [],
		bases: [],
		history: historyOf({}),
		rates: RATES,
		...more
	});
type Planned = ReturnType<typeof planned>;
const figure = (
	plan: Planned,
	code: string,
	of: string | null,
	t: number,
	by: TotalsIn = plan.exchange
): Cell => {
	const series = totalsOf(plan, calendar, by).of(code, of);
	return cellsOf(series, APR + t, APR + t)[0];
};
const typed = (line: string, row: string, values: number[], first = APR + 6, block = 'accounts') => ({
	block,
	line,
	row,
	...run(first, values)
});

describe('translation', () => {
	it('of opening net assets 100,000 at 0.85 and profit 12,000 at 0.86, closing 0.88, leaves 3,240', () => {
		const plan = planned({
			history: historyOf({
				cash: { riga: [112_000] },
				capital: { riga: [100_000] },
				sales: { riga: [15_000] },
				rent: { riga: [3_000] }
			})
		});
		expect(figure(plan, 'assets', 'riga', 0)).toBeCloseTo(98_560, 6);
		expect(figure(plan, 'capital', 'riga', 0)).toBeCloseTo(85_000, 6);
		expect(figure(plan, 'profit', 'riga', 0)).toBeCloseTo(10_320, 6);
		expect(figure(plan, 'difference', 'riga', 0)).toBeCloseTo(3_240, 6);
		expect(figure(plan, 'difference', null, 0)).toBeCloseTo(3_240, 6);
	});

	it('takes flows at each month’s average rate, so that a year is the sum of its months', () => {
		const average = [0.8, 0.9, ...flat(1, 10)];
		const plan = planned({
			rates: [rates('EUR', average, flat(1, 13)), RATES[1]],
			history: historyOf({ sales: { riga: [100, 200, 300], north: [1, 2, 3], boston: [4, 4, 4] } })
		});
		const year = overTime(totalsOf(plan).of('sales', null), APR, APR + 2);
		expect(year).toBeCloseTo(80 + 180 + 300 + 6 + 12 * 0.75, 9);
	});

	it('leaves what is no money as it is', () => {
		const plan = planned({ history: historyOf({ heads: { riga: [3], boston: [4], north: [5] } }) });
		expect(figure(plan, 'heads', null, 0)).toBe(12);
		expect(figure(plan, 'heads', null, 0, 'local')).toBe(12);
	});

	it('adds amounts in local currencies only where they are in one', () => {
		const plan = planned({
			history: historyOf({ sales: { riga: [100], oslo: [50], north: [7] }, rent: { oslo: [20] } })
		});
		expect(figure(plan, 'sales', 'baltic', 0, 'local')).toBe(150);
		expect(figure(plan, 'profit', 'baltic', 0, 'local')).toBe(130);
		expect(figure(plan, 'sales', 'all', 0, 'local')).toBe('#MIXED!');
		expect(figure(plan, 'profit', null, 0, 'local')).toBe('#MIXED!');
		expect(figure(plan, 'sales', 'all', 1, 'local')).toBeNull();
		expect(['north', 'baltic', 'all', null].map((d) => currencyUnder(structure, d))).toEqual([
			'GBP',
			'EUR',
			null,
			null
		]);
	});

	it('without a rate is an error, never 1, and says which rate of which months is missing', () => {
		const some = [rates('EUR', [0.86, null, 0.86], [0.85, 0.88, 0.88, 0.88]), RATES[1]];
		const plan = planned({
			rates: some,
			history: historyOf({ sales: { riga: [100, 100, 100], oslo: [0, 0, 0], boston: [1, 1, 1] } })
		});
		expect([0, 1, 2].map((t) => figure(plan, 'sales', 'riga', t))).toEqual([86, '#RATE!', 86]);
		expect(figure(plan, 'profit', null, 1)).toBe('#RATE!');
		expect(figure(plan, 'sales', 'boston', 1)).toBe(0.75);
		// 0 is 0 at any rate.
		expect(figure(plan, 'sales', 'oslo', 1)).toBe(0);
		const missing = missingRates(some, ['EUR', 'USD', 'SEK'], APR, APR + 2);
		expect(missing.map((m) => missingText(m, calendar))).toEqual([
			'EUR average May 26',
			'SEK average Apr 26 – Jun 26',
			'SEK closing Apr 26 – Jun 26'
		]);
	});

	it('of a year before is at the rates of the year before', () => {
		const before = new Exchange(
			'GBP',
			[rates('EUR', [...flat(0.5), ...flat(0.6)], flat(1, 25))],
			calendar
		).yearBefore.between('EUR', 'GBP', 'average', axisOf(calendar, APR + 12, 12, 0));
		expect([...before]).toEqual(flat(0.5));
	});

	it('in weeks takes the mean rate by days, and the closing one of the last day', () => {
		const weeks = calendarOf({
			kind: 'weeks',
			grouping: 'weeks',
			fiscalStart: 9,
			endsOn: 6,
			rule: 'nearest'
		});
		const monday = weeks.periodOfDay(calendarDay('2026-04-27'));
		const axis = axisOf(weeks, monday, 1, 0);
		const two = new Exchange('GBP', [rates('EUR', [0.8, 0.9], [0.7, 0.8, 0.9])], calendar);
		// The week of Sunday 26 April to Saturday 2 May: five days of April, two of May.
		expect(weeks.firstDay(monday)).toBe('2026-04-26');
		expect(two.between('EUR', 'GBP', 'average', axis)[0]).toBeCloseTo((5 * 0.8 + 2 * 0.9) / 7, 12);
		expect(two.between('EUR', 'GBP', 'closing', axis)[0]).toBe(0.9);
	});
});
const calendarDay = (iso: string) => Date.parse(`${iso}T00:00Z`) / 86_400_000 + 25_569;

describe('a translated balance sheet', () => {
	it('balances in every month, whatever is booked at whatever rates', () => {
		const cents = fc.integer({ min: -5_000_000, max: 5_000_000 }).map((n) => n / 100);
		const month = fc.record({
			cash: cents,
			stock: cents,
			loan: cents,
			capital: cents,
			average: fc.double({ min: 0.1, max: 9, noNaN: true }),
			closing: fc.double({ min: 0.1, max: 9, noNaN: true })
		});
		fc.assert(
			fc.property(
				fc.array(month, { minLength: 6, maxLength: 6 }),
				fc.array(month, { minLength: 6, maxLength: 6 }),
				(eur, usd) => {
					const ledger: Ledger = { cash: {}, stock: {}, loan: {}, capital: {}, sales: {} };
					for (const [leaf, months] of [
						['riga', eur],
						['boston', usd]
					] as const) {
						for (const code of ['cash', 'stock', 'loan', 'capital'] as const)
							ledger[code][leaf] = months.map((m) => m[code]);
						// What is earned in a month is what net assets grow by beyond capital.
						const earned = months.map((m) => m.cash + m.stock - m.loan - m.capital);
						ledger.sales[leaf] = earned.map((e, t) => e - (earned[t - 1] ?? 0));
					}
					const own = (list: typeof eur, currency: string) =>
						rates(
							currency,
							list.map((m) => m.average),
							[list[0].closing * 1.1, ...list.map((m) => m.closing)]
						);
					const plan = planned({ history: historyOf(ledger), rates: [own(eur, 'EUR'), own(usd, 'USD')] });
					for (const of of ['riga', 'boston', null])
						for (let t = 0; t < 6; t++) {
							const at = (code: string) => figure(plan, code, of, t) as number;
							let result = 0;
							for (let u = 0; u <= t; u++) result += figure(plan, 'profit', of, u) as number;
							expect(at('assets') - at('liabilities') - at('equity') - result).toBeCloseTo(0, 3);
						}
					// The difference, worked out from what rates do to net assets.
					let expected = 0;
					eur.forEach((m, t) => {
						const net = (x: typeof m) => x.cash + x.stock - x.loan;
						const before = eur[t - 1];
						expected +=
							t === 0
								? m.capital * (m.closing - m.closing * 1.1) + (net(m) - m.capital) * (m.closing - m.average)
								: net(before) * (m.closing - before.closing) +
									(net(m) - net(before)) * (m.closing - m.average);
						expect(figure(plan, 'difference', 'riga', t)).toBeCloseTo(expected, 3);
					});
				}
			),
			{ numRuns: 60 }
		);
	});
});

describe('a model', () => {
	const model = (more: object, rows: string[][] = [[]]) => ({
		definition: ModelDefinition.parse({
			code: 'm',
			name: 'M',
			dimensions: [],
			lines: [{ code: 'amount', label: 'Amount', format: 'money' }],
			...more
		}),
		rows
	});
	const to = (code: string) => ({
		postings: [{ line: 'amount', account: { code: 'sales' }, department: { code } }]
	});
	const OPEN = 6;

	it('posts in the currency of the department that it posts to', () => {
		const inPounds = planned({
			models: [model(to('riga'))],
			series: [typed('amount', '', [86, 43], APR + OPEN, 'm')]
		});
		expect([0, 1].map((t) => figure(inPounds, 'sales', 'riga', OPEN + t, 'local'))).toEqual([100, 50]);
		expect(figure(inPounds, 'sales', null, OPEN)).toBeCloseTo(86, 9);
		const inDollars = planned({
			models: [
				model({
					...to('riga'),
					lines: [{ code: 'amount', label: 'Amount', format: 'money', unit: 'USD' }]
				})
			],
			series: [typed('amount', '', [86], APR + OPEN, 'm')]
		});
		expect(figure(inDollars, 'sales', 'riga', OPEN, 'local')).toBeCloseTo((86 * 0.75) / 0.86, 9);
		const missing = planned({
			rates: [],
			models: [model(to('riga'))],
			series: [typed('amount', '', [86], APR + OPEN, 'm')]
		});
		expect(figure(missing, 'sales', 'riga', OPEN, 'local')).toBe('#RATE!');
	});

	it('by department counts in local currency where it says so, and is added up in the reporting one', () => {
		const rows = [['north'], ['riga'], ['boston']];
		const local = model(
			{
				dimensions: ['department'],
				lines: [
					{ code: 'amount', label: 'Amount', format: 'money', unit: 'local' },
					{ code: 'everyone', label: 'All', format: 'money', unit: 'GBP', formula: 'total(amount)' },
					{ code: 'half', label: 'Half', format: 'money', unit: 'local', formula: 'account("rent") * 0.5' }
				],
				postings: [
					{ line: 'amount', account: { code: 'sales' }, department: { attribute: 'department.code' } }
				]
			},
			rows
		);
		const reader = {
			...model({
				lines: [{ code: 'sum', label: 'Sum', format: 'money', formula: 'm.amount + account("rent")' }]
			})
		};
		const plan = planned({
			models: [local, { ...reader, definition: { ...reader.definition, code: 'n' } }],
			series: [
				...['north', 'riga', 'boston'].map((row) => typed('amount', row, [100], APR + OPEN, 'm')),
				typed('rent', 'riga', [10]),
				typed('rent', 'boston', [20])
			]
		});
		const everyone = 100 + 86 + 75;
		expect(figure(plan, 'sales', 'riga', OPEN, 'local')).toBe(100);
		expect(plan.calculation.cell('m', 'half', 1, APR + OPEN)).toBe(5);
		expect(plan.calculation.cell('m', 'everyone', 0, APR + OPEN)).toBeCloseTo(everyone, 9);
		expect(plan.calculation.cell('n', 'sum', 0, APR + OPEN)).toBeCloseTo(everyone + 8.6 + 15, 9);
		// On its own page rows of one currency add up, and those of several do not.
		const shown = modelFigures(plan, {
			model: 'm',
			rows: [LINES, EACH_ROW],
			lines: ['amount'],
			open: ['amount'],
			spans: [{ from: APR + OPEN, to: APR + OPEN }]
		}).rows.map((r) => [r.label, r.cells[0]]);
		expect(shown[0]).toEqual(['Amount', '#MIXED!']);
		expect(shown).toContainEqual(['riga', 100]);
	});

	it('that another set of rates translates differs by the rates, and nothing of the difference is lost', () => {
		const data = (rates: CurrencyRates[], amount: number) => ({
			scenario,
			models: [model(to('riga'))],
			series: [typed('amount', '', [amount], APR + OPEN, 'm'), typed('rent', 'boston', [10])],
			bases: [],
			history: historyOf({}),
			rates
		});
		const other = RATES.map((r) => ({ ...r, average: run(APR, flat(r.currency === 'EUR' ? 0.9 : 0.5)) }));
		const profit = (plan: Planned) => figure(plan, 'profit', null, OPEN) as number;
		const why = whyItChanged(structure, data(RATES, 86), data(other, 45), profit);
		expect(why.groups).toEqual([null, { block: 'm', line: 'amount' }]);
		const total = why.effects.reduce((sum, e) => sum + e, 0);
		expect(total).toBeCloseTo(86 - 7.5 - (45 - 5), 9);
		// Ten dollars of rent are dearer at the other rate; what the model posts in pounds comes back as pounds.
		expect(why.effects[0]).toBeCloseTo(-2.5, 9);
	});

	it.each([
		['m by department adds its own money to local', 'amount + account("rent")', /GBP and local currency/],
		['shares of several currencies', 'share(account("rent")) * amount', /different currencies/],
		['an expression over departments', 'total(account("rent") * 2)', /Make it a line/]
	])('is refused: %s', (_, formula, message) => {
		const lines = [
			{ code: 'amount', label: 'Amount', format: 'money' },
			{ code: 'x', label: 'X', format: 'money', formula }
		];
		expect(() => planned({ models: [model({ dimensions: ['department'], lines }, [['riga']])] })).toThrow(
			message
		);
	});

	it('drives an account in the currency of its department', () => {
		const basis: Basis = { kind: 'driver', driver: 'm.amount', rate: 0.5 };
		const plan = planned({
			models: [model({})],
			series: [typed('amount', '', [86], APR + OPEN, 'm')],
			bases: ['north', 'riga'].map((of) => ({ account: 'rent', department: of, basis }))
		});
		expect(figure(plan, 'rent', 'north', OPEN, 'local')).toBe(43);
		expect(figure(plan, 'rent', 'riga', OPEN, 'local')).toBeCloseTo(50, 9);
		expect(figure(plan, 'rent', null, OPEN)).toBeCloseTo(86, 9);
	});
});

it('totals in reporting currency follow every edit, as if worked out anew', () => {
	const plan = planned();
	const of = (code: string) => ACCOUNTS.find((a) => a.code === code)!;
	fc.assert(
		fc.property(
			fc.array(
				fc.record({
					line: fc.constantFrom('sales', 'rent'),
					row: fc.constantFrom(...LEAVES),
					t: fc.integer({ min: 6, max: 11 }),
					value: fc.integer({ min: -9, max: 9 })
				}),
				{ minLength: 1, maxLength: 5 }
			),
			(edits) => {
				for (const { line, row, t, value } of edits) {
					const [r, at] = [structure.departmentRow.get(row)!, APR + t - plan.calculation.axis.first];
					plan.calculation.setInput('accounts', `typed:${line}`, r, at, value);
				}
				plan.calculation.recalculate();
				for (let t = 6; t < 12; t++) {
					let expected = 0;
					for (const line of ['sales', 'rent'])
						for (const leaf of LEAVES) {
							const own = figure(plan, line, leaf, t, 'local');
							const rate = { GBP: 1, EUR: 0.86, USD: 0.75 }[currencyOf(leaf)]!;
							expected += signInParent(of(line).type, 'revenue') * ((own as number | null) ?? 0) * rate;
						}
					expect(figure(plan, 'profit', null, t) ?? 0).toBeCloseTo(expected, 9);
				}
			}
		),
		{ numRuns: 60 }
	);
});
