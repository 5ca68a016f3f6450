/** Scoped formulas, adjustments, proofs, other scenarios, moved drivers and attribution, on one small plan. */
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../calendar/calendar';
import { bridgeOf, effectsOf } from './effects';
import { overTime } from '../statements/statement';
import { totalsOf } from '../statements/totals';
import { bareAxis } from '../engine/axis';
import { Calculation } from '../engine/calculation';
import { explainCell, explainTotal } from '../engine/explain';
import { ModelDefinition, type Line, type Proof } from '../blocks/driver-model/schema';
import type { Account } from '../company/schema';
import type { Basis } from '../inputs/basis';
import type { Scenario } from '../scenario/schema';
import { goalSeek } from './goal-seek';
import { monteCarlo } from './monte-carlo';
import { sensitivity } from './sensitivity';
import type { Adjustment, AdjustmentStep } from '../inputs/adjust';
import { calculateScenario } from '../scenario/assemble';
import { Driver } from './driver';
import { foreignReferences, linesOf } from '../scenario/foreign';
import { rollupLines } from '../views/model-view';
import { checkProofs } from '../explain/proof';
import type { Plan } from '../scenario/plan';
import type { ScenarioData } from '../scenario/data';
import { buildStructure } from '../company/structure';
import { trace } from '../explain/trace';
import { whyItChanged, type DriverGroup } from '../explain/why';

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
const member = (code: string, parent: string | null, attributes: Record<string, string> = {}) => ({
	code,
	name: code,
	parent,
	retired: false,
	attributes
});
const structure = buildStructure(
	calendar,
	[
		account('profit', null, 'revenue'),
		account('sales', 'profit', 'revenue'),
		account('cost', 'profit', 'expense'),
		account('travel', 'cost', 'expense')
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
				member('boats', null, { seller: 'a', warranty: '0.02' }),
				member('dinghy', 'boats', { launch: '2026-12-01' }),
				member('kayak', 'boats', { warranty: '0.05', launch: '2026-04-01' }),
				member('rope', null, { seller: 'b', warranty: '0', launch: '2026-04-01' })
			]
		}
	],
	'GBP'
);
const scenario: Scenario = {
	code: 's',
	name: 'S',
	kind: 'forecast',
	first: at('2026-04'),
	last: at('2027-03'),
	actualsThrough: null,
	follows: null,
	origin: null,
	locked: false,
	description: ''
};
const ROWS = [['dinghy'], ['kayak'], ['rope']];
const line = (more: Partial<Line> & { code: string }) => ({ label: more.code, ...more });
const model = (lines: Partial<Line>[] = [], proofs: Partial<Proof>[] = []) =>
	ModelDefinition.parse({
		code: 'm',
		name: 'M',
		dimensions: ['product'],
		lines: [
			line({ code: 'units' }),
			line({ code: 'price', unit: 'GBP each' }),
			line({ code: 'income', unit: 'GBP', formula: 'units * price' }),
			...lines
		],
		postings: [{ line: 'income', account: { code: 'sales' }, department: { attribute: 'product.seller' } }],
		...(proofs.length ? { proofs } : {})
	});
const series = (code: string, row: string, value: number | number[], block = 'm') => ({
	block,
	line: code,
	row,
	first: at('2026-04'),
	values: Array.isArray(value) ? Float64Array.from(value) : new Float64Array(12).fill(value)
});
const INPUTS = [
	series('units', 'dinghy', 2),
	series('units', 'kayak', 10),
	series('units', 'rope', 100),
	series('price', 'dinghy', 500),
	series('price', 'kayak', 80),
	series('price', 'rope', 3)
];
const BASES: [string, string, Basis][] = [
	['travel', 'a', { kind: 'percent-of', account: 'sales', percent: 0.1 }]
];
function data(more: Partial<ScenarioData> = {}, definition = model()): ScenarioData {
	return {
		scenario,
		models: [{ definition, rows: ROWS }],
		series: INPUTS,
		bases: BASES.map(([acct, department, basis]) => ({ account: acct, department, basis })),
		history: { first: at('2026-04'), accounts: new Map() },
		...more
	};
}
const plan = (more: Partial<ScenarioData> = {}, definition = model()) =>
	calculateScenario(structure, data(more, definition));
const figure = (p: Plan, code: string, from = '2026-04', to = '2027-03') =>
	overTime(totalsOf(p).of(code, null), at(from), at(to)) as number;
const cell = (p: Plan, code: string, row: number, month: string) =>
	p.calculation.cell('m', code, row, at(month));

describe('scoped formulas', () => {
	const scoped = model([
		line({
			code: 'fee',
			unit: 'GBP',
			scoped: [
				{ where: { product: 'kayak' }, from: '2026-10', formula: 'income * 50%' },
				{ where: { product: 'boats' }, to: '2026-12', formula: 'income * 10%' },
				{ where: { product: 'rope' } }
			],
			formula: 'income * 1%'
		})
	]);
	const p = plan({ series: [...INPUTS, series('fee', 'rope', 7)] }, scoped);
	it('apply to their members and months, first match first', () => {
		expect([cell(p, 'fee', 1, '2026-09'), cell(p, 'fee', 1, '2026-10')]).toEqual([80, 400]);
		expect([cell(p, 'fee', 0, '2026-12'), cell(p, 'fee', 0, '2027-01')]).toEqual([100, 10]);
	});
	it('may leave some members to be typed', () => {
		expect(cell(p, 'fee', 2, '2026-05')).toBe(7);
	});
	it('say which one applied', () => {
		expect(p.calculation.ruleAt('m', 'fee', 1, at('2026-09'))!.rule).toBe(1);
		expect(p.calculation.ruleAt('m', 'fee', 0, at('2027-01'))!.rule).toBe(3);
		expect(p.calculation.ruleAt('m', 'fee', 2, at('2027-01'))).toBeNull();
		const told = trace(p, { kind: 'line', model: 'm', line: 'fee', row: 'kayak', period: at('2026-10') });
		expect(told.explanations[0]).toMatchObject({ formula: 'income * 50%', scope: 'kayak, from Oct 26' });
	});
});

describe('what would take too long', () => {
	it('is refused with the place: too much text, too many scoped formulas for so many rows', () => {
		const long = Array.from({ length: 80 }, (_, i) =>
			line({ code: `l${i}`, formula: `1${' + 0'.repeat(990)}` })
		);
		expect(() => plan({}, model(long))).toThrow(/All formulas together have more than 300000 characters/);
		const rules = Array.from({ length: 50 }, () => ({ rows: [0], expr: null }));
		const many = { id: 'm', dimensions: ['r'], rows: Array.from({ length: 30_000 }, (_, i) => [String(i)]) };
		const build = () =>
			new Calculation(bareAxis(1), [{ ...many, lines: [{ code: 'x', additive: true, rules }] }]);
		expect(build).toThrow(/m\.x has 50 scoped formulas over 30000 rows/);
	});
});

describe('what formulas may refer to', () => {
	it('are attributes of members, inherited, as numbers, dates and text', () => {
		const p = plan(
			{},
			model([
				line({ code: 'claims', unit: 'GBP', formula: 'income * product.warranty' }),
				line({ code: 'selling', formula: 'active(product.launch, none)' }),
				line({ code: 'by_a', formula: 'if(product.seller = "A", 1, 0)' })
			])
		);
		expect([0, 1, 2].map((r) => cell(p, 'claims', r, '2026-05'))).toEqual([20, 40, 0]);
		expect(['2026-11', '2026-12'].map((m) => cell(p, 'selling', 0, m))).toEqual([0, 1]);
		expect([0, 1, 2].map((r) => cell(p, 'by_a', r, '2026-05'))).toEqual([1, 1, 0]);
	});
	it('are totals, shares, and values at a member', () => {
		const p = plan(
			{},
			model([
				line({ code: 'part', formula: 'share(income)' }),
				line({ code: 'of_boats', formula: 'ratio(income, at(income, product, "boats"))' }),
				line({ code: 'all', unit: 'GBP', formula: 'total(income)' })
			])
		);
		expect(cell(p, 'all', 2, '2026-05')).toBe(2100);
		expect(cell(p, 'part', 1, '2026-05')).toBeCloseTo(800 / 2100, 12);
		expect(cell(p, 'of_boats', 0, '2026-05')).toBeCloseTo(1000 / 1800, 12);
	});
	it('are accounts: a department’s own in a model by department, and the whole of them as a total', () => {
		const definition = ModelDefinition.parse({
			code: 'd',
			name: 'D',
			dimensions: ['department'],
			lines: [
				line({ code: 'own', formula: 'account("travel")' }),
				line({ code: 'whole', formula: 'total(account("travel"), department)' }),
				line({ code: 'part', formula: 'share(account("travel"), department)' }),
				line({ code: 'before', formula: 'lag(total(account("travel")), 1)' })
			]
		});
		const travel = [series('travel', 'a', 30, 'accounts'), series('travel', 'b', 90, 'accounts')];
		const p = plan({ models: [{ definition, rows: [['a']] }], series: travel, bases: [] }, definition);
		const inMay = (code: string) => p.calculation.cell('d', code, 0, at('2026-05'));
		expect(['own', 'whole', 'part', 'before'].map(inMay)).toEqual([30, 120, 0.25, 120]);
		const [formula] = trace(p, {
			kind: 'line',
			model: 'd',
			line: 'whole',
			row: 'a',
			period: at('2026-05')
		}).explanations;
		expect(formula).toMatchObject({ operands: [{ value: 120 }] });
	});
	it('are lines and accounts of other scenarios', () => {
		const budget = plan({ series: INPUTS.map((s) => ({ ...s, values: s.values.map((v) => v * 2) })) });
		const reading = model([
			line({ code: 'more', formula: 'units - scenario("budget", units)' }),
			line({ code: 'then', unit: 'GBP', formula: 'scenario("budget", account("sales"))' })
		]);
		const references = foreignReferences({ models: [{ definition: reading, rows: ROWS }] });
		expect(references).toEqual([
			{ scenario: 'budget', block: 'm', line: 'units' },
			{ scenario: 'budget', block: 'accounts', line: 'sales' }
		]);
		const p = plan({ others: new Map([['budget', linesOf(budget, references)]]) }, reading);
		expect(cell(p, 'more', 1, '2026-05')).toBe(-10);
		expect(cell(p, 'then', 1, '2026-05')).toBe(8400);
		// A scenario that begins and ends elsewhere is read month by month; where it has none, it is blank.
		const earlier = plan({
			scenario: { ...scenario, first: at('2025-10'), last: at('2026-09') },
			history: { first: at('2025-10'), accounts: new Map() },
			series: [series('units', 'kayak', [0, 0, 0, 0, 0, 0, 1, 2, 3, 4, 5, 6])].map((s) => ({
				...s,
				first: at('2025-10')
			}))
		});
		const beside = plan({ others: new Map([['budget', linesOf(earlier, references)]]) }, reading);
		expect(['2026-04', '2026-06', '2026-09', '2026-10'].map((m) => cell(beside, 'more', 1, m))).toEqual([
			9, 7, 4, 10
		]);
		expect(() => plan({}, model([line({ code: 'x', formula: 'scenario("budget", units)' })]))).toThrow(
			'There is no scenario “budget”'
		);
	});
	it('are refused where units do not fit', () => {
		expect(() => plan({}, model([line({ code: 'x', unit: 'months', formula: 'income' })]))).toThrow(
			'The line holds months, but the formula gives GBP.'
		);
	});
});

describe('explanations', () => {
	it('of a cell name the rule and what was put in; of a posting its rows', () => {
		const p = plan();
		const told = explainCell(p.calculation, { block: 'm', line: 'income', row: 1, period: at('2026-05') });
		expect(told).toMatchObject({ kind: 'formula', rule: 0, value: 800 });
		expect(told.kind === 'formula' && told.operands.map((o) => [o.line, o.value])).toEqual([
			['units', 10],
			['price', 80]
		]);
		const posted = explainCell(p.calculation, {
			block: 'accounts',
			line: 'posted:sales',
			row: 0,
			period: at('2026-05')
		});
		expect(posted.kind === 'sum' && posted.parts.map((x) => [x.row, x.value])).toEqual([
			[0, 1000],
			[1, 800]
		]);
	});
	it('of a cell that looks to other months name those months', () => {
		const rising = INPUTS.map((s) =>
			s.line === 'units' && s.row === 'kayak' ? { ...s, values: s.values.map((_, i) => i + 1) } : s
		);
		const p = plan(
			{ series: rising },
			model([line({ code: 'x', formula: 'lead(units, 2) - lag(units, 3) + opening(units)' })])
		);
		const told = explainCell(p.calculation, { block: 'm', line: 'x', row: 1, period: at('2026-08') });
		expect(told.kind === 'formula' && told.operands.map((o) => [calendar.key(o.period), o.value])).toEqual([
			['2026-10', 7],
			['2026-05', 2],
			['2026-07', 4]
		]);
		expect(told.value).toBe(9);
	});
	it('of a total name its rows and periods, or the totals put into its formula', () => {
		const definition = model();
		const p = plan({}, definition);
		const lines = rollupLines(definition);
		const sum = explainTotal(p.calculation, 'm', 'income', lines, [0, 1], at('2026-04'), at('2026-05'));
		expect(sum).toMatchObject({ value: 3600, members: 'sum', operands: [] });
		expect(sum.byRow).toEqual([
			{ row: 0, value: 2000 },
			{ row: 1, value: 1600 }
		]);
		expect(sum.byPeriod.map((x) => x.value)).toEqual([1800, 1800]);
		const price = lines.map((l) =>
			l.code === 'price'
				? {
						...l,
						time: 'formula' as const,
						members: 'formula',
						expr: { kind: 'binary', op: '/', left: ref('income'), right: ref('units'), span } as const
					}
				: l
		);
		const mean = explainTotal(p.calculation, 'm', 'price', price, [0, 1], at('2026-04'), at('2026-05'));
		expect(mean.value).toBe(150);
		expect(mean.operands).toEqual([
			{ line: 'income', value: 3600 },
			{ line: 'units', value: 24 }
		]);
	});
});
const span = { from: 0, to: 0 };
const ref = (code: string) => ({ kind: 'reference', block: null, line: code, span }) as const;

describe('adjustments', () => {
	const step = (more: Partial<AdjustmentStep> & { operation: 'multiply' | 'add' | 'set'; value: number }) =>
		({ lines: [{ block: 'm', line: 'price' }], where: {}, ...more }) as AdjustmentStep;
	const adjust = (name: string, steps: AdjustmentStep[], on = true): Adjustment => ({
		code: name,
		name,
		on,
		steps
	});
	const rise = adjust('rise', [
		step({ operation: 'multiply', value: 1.05, where: { product: 'boats' }, from: at('2026-10') })
	]);

	it('change inputs in their scope before formulas, and only while they are on', () => {
		const p = plan({ adjustments: [rise] });
		expect(cell(p, 'price', 1, '2026-09')).toBe(80);
		expect(cell(p, 'income', 1, '2026-10')).toBeCloseTo(840, 9);
		expect(cell(p, 'income', 2, '2026-10')).toBe(300);
		expect(figure(plan({ adjustments: [{ ...rise, on: false }] }), 'sales')).toBe(figure(plan(), 'sales'));
	});
	it('leave a blank blank when they multiply, and fill it when they add', () => {
		const half = INPUTS.map((x) =>
			x.line === 'price' && x.row === 'kayak' ? { ...x, values: x.values.slice(0, 6) } : x
		);
		const add = adjust('add', [step({ operation: 'add', value: 5 })]);
		expect(cell(plan({ series: half, adjustments: [rise] }), 'price', 1, '2026-11')).toBeNull();
		expect(cell(plan({ series: half, adjustments: [add] }), 'price', 1, '2026-11')).toBe(5);
	});
	it('apply in their order', () => {
		const add = adjust('add', [step({ operation: 'add', value: 20 })]);
		const twice = adjust('twice', [step({ operation: 'multiply', value: 2 })]);
		expect(cell(plan({ adjustments: [add, twice] }), 'price', 1, '2026-05')).toBe(200);
		expect(cell(plan({ adjustments: [twice, add] }), 'price', 1, '2026-05')).toBe(180);
	});
	it('set, and shift in time within their months', () => {
		const set = adjust('set', [step({ operation: 'set', value: 1, to: at('2026-04') })]);
		expect(cell(plan({ adjustments: [set] }), 'price', 0, '2026-04')).toBe(1);
		const rising = series(
			'units',
			'kayak',
			Array.from({ length: 12 }, (_, i) => i)
		);
		const late: Adjustment = {
			...rise,
			steps: [
				{
					operation: 'shift',
					periods: 2,
					lines: [{ block: 'm', line: 'units' }],
					where: { product: 'kayak' }
				}
			]
		};
		const p = plan({
			series: INPUTS.map((s) => (s.line === 'units' && s.row === 'kayak' ? rising : s)),
			adjustments: [late]
		});
		expect(['2026-04', '2026-05', '2026-06', '2026-09'].map((m) => cell(p, 'units', 1, m))).toEqual([
			null,
			null,
			0,
			3
		]);
	});
	it('change an account’s plan wherever it comes from', () => {
		const less = adjust('less travel', [
			step({
				operation: 'multiply',
				value: 0.5,
				lines: [{ block: 'accounts', line: 'travel' }],
				where: { department: 'a' },
				from: at('2026-07')
			}),
			step({
				operation: 'add',
				value: 10,
				lines: [{ block: 'accounts', line: 'travel' }],
				from: at('2026-08')
			})
		]);
		const p = plan({ adjustments: [less] });
		const of = (department: number, m: string) => p.calculation.cell('accounts', 'travel', department, at(m));
		expect(['2026-06', '2026-07', '2026-08'].map((m) => of(0, m))).toEqual([180, 90, 100]);
		// A blank has nothing to be halved.
		expect(['2026-07', '2026-08'].map((m) => of(1, m))).toEqual([null, 10]);
		expect(figure(p, 'profit', '2026-08', '2026-08')).toBe(2100 - 110);
	});
	it('are refused on lines that are computed', () => {
		const wrong = adjust('wrong', [
			step({ operation: 'add', value: 1, lines: [{ block: 'm', line: 'income' }] })
		]);
		expect(() => plan({ adjustments: [wrong] })).toThrow('m.income is computed');
	});
	it('each have their step in a bridge', () => {
		const volume = adjust('volume', [
			step({ operation: 'multiply', value: 1.1, lines: [{ block: 'm', line: 'units' }] })
		]);
		const list = [rise, volume];
		const span = { from: plan().open, to: scenario.last };
		const under = (adjustments: readonly Adjustment[]) => plan({ adjustments });
		const profit = { kind: 'account', account: 'profit', department: 'a' } as const;
		const [effect] = effectsOf(under, list, [profit], span);
		const { steps, end } = bridgeOf(effect, list);
		expect(end).toBe(effect.with);
		expect(steps.map((x) => x.name)).toEqual(['rise', 'volume']);
		// Six months of 5 % on 1,800 a month, less the tenth that travel takes.
		expect(steps[0].amount).toBeCloseTo(6 * 1800 * 0.05 * 0.9, 9);
		expect(steps[1].to).toBeCloseTo(end, 9);
	});
});

describe('proofs', () => {
	const proof = {
		name: 'Boats',
		line: 'income',
		where: { product: 'boats' },
		first: '2026-04',
		tolerance: 0.01
	};
	it('hold within their tolerance and show each difference', () => {
		const good = { ...proof, expected: [1800, 1800.005] };
		const bad = { ...proof, name: 'Off', expected: [1800, 1801, null] };
		const results = checkProofs(plan({}, model([], [good, bad])), 'm');
		expect(results[0]).toMatchObject({ compared: 2, problem: '', differences: [] });
		expect(results[1].differences).toEqual([
			{ period: at('2026-05'), expected: 1801, actual: 1800 },
			{ period: at('2026-06'), expected: null, actual: 1800 }
		]);
	});
	it('say when they cannot be compared', () => {
		const of = (more: object) =>
			checkProofs(plan({}, model([], [{ ...proof, expected: [1], ...more }])), 'm')[0].problem;
		expect(of({ first: 'spring' })).toContain('no period');
		expect(of({ line: 'gone' })).toContain('no line');
		expect(of({ where: { product: 'nothing' } })).toContain('No row');
		expect(checkProofs(plan(), 'm')).toEqual([]);
	});
});

describe('a driver', () => {
	const price = (p: Plan) =>
		new Driver(p, {
			block: 'm',
			line: 'price',
			where: { product: 'boats' },
			from: at('2026-04'),
			to: at('2027-03')
		});
	it('is moved and put back, with everything that depends on it', () => {
		const p = plan();
		const before = figure(p, 'profit');
		const driver = price(p);
		expect(driver.mean).toBe(290);
		driver.move('multiply', 2);
		p.calculation.recalculate();
		expect(figure(p, 'sales')).toBe(12 * (2 * 1800 + 300));
		driver.restore();
		p.calculation.recalculate();
		expect(figure(p, 'profit')).toBe(before);
	});
	it('is found for a goal', () => {
		const p = plan();
		const driver = price(p);
		const r = goalSeek(
			(x) => {
				driver.move('multiply', x);
				p.calculation.recalculate();
				return figure(p, 'sales');
			},
			30_000,
			{ start: 1 }
		);
		expect(r).toMatchObject({ found: true });
		expect(r.input).toBeCloseTo((30_000 - 3600) / 21_600, 8);
	});
	it('is one of several in a tornado and in ranges by chance', () => {
		const p = plan();
		const drivers = [
			price(p),
			new Driver(p, { block: 'm', line: 'units', where: {}, from: at('2026-04'), to: at('2027-03') })
		];
		const run = () => {
			p.calculation.recalculate();
			return figure(p, 'sales');
		};
		const tornado = sensitivity(
			[
				{ low: 0.9, high: 1.1 },
				{ low: 0.9, high: 1.1 }
			],
			(move) => {
				drivers.forEach((d, i) => (move?.driver === i ? d.move('multiply', move.value) : d.restore()));
				return run();
			}
		);
		expect(tornado.drivers.map((d) => [d.driver, Math.round(d.range)])).toEqual([
			[1, 5040],
			[0, 4320]
		]);
		const ranges = monteCarlo(
			[{ kind: 'uniform', low: 0.5, high: 1.5 }],
			1,
			([x]) => {
				drivers[1].move('multiply', x);
				return [run()];
			},
			{ trials: 400, seed: 5, percentiles: [0, 50, 100] }
		);
		const [low, middle, high] = ranges.percentiles.map((x) => x.values[0]);
		expect(low).toBeGreaterThanOrEqual(12_600);
		expect(high).toBeLessThanOrEqual(37_800);
		expect(Math.abs(middle / 25_200 - 1)).toBeLessThan(0.08);
	});
});

describe('why a result changed', () => {
	const profit = (p: Plan) => figure(p, 'profit');
	const name = (g: DriverGroup) => (g === null ? 'frame' : 'rows' in g ? 'rows' : g.line);
	it('is told line by line, and sums exactly', () => {
		const after = INPUTS.map((s) => {
			if (s.line === 'units' && s.row === 'kayak') return { ...s, values: s.values.map((v) => v + 2) };
			return s.line === 'price' ? { ...s, values: s.values.map((v) => v * 1.1) } : s;
		});
		const b = data({ series: [...INPUTS, series('travel', 'b', 50, 'accounts')] });
		const why = whyItChanged(structure, data({ series: after }), b, profit);
		expect(why.groups.map(name).sort()).toEqual(['price', 'travel', 'units']);
		const of = (code: string) => why.effects[why.groups.findIndex((g) => name(g) === code)];
		expect(of('travel')).toBeCloseTo(600, 9);
		// Two more kayaks at the mean of 80 and 88, twelve months, a tenth to travel.
		expect(of('units')).toBeCloseTo(2 * 84 * 12 * 0.9, 9);
		expect(why.effects.reduce((x, y) => x + y, 0)).toBe(why.difference);
		expect(why.start).toBe(profit(calculateScenario(structure, b)));
		expect(why.difference).toBeCloseTo(
			profit(plan({ series: after })) - profit(calculateScenario(structure, b)),
			6
		);
	});
	it('has formulas, bases and what is closed as one group', () => {
		const dearer = {
			...data(),
			bases: [
				{
					account: 'travel',
					department: 'a',
					basis: { kind: 'percent-of', account: 'sales', percent: 0.2 } as Basis
				}
			]
		};
		const why = whyItChanged(
			structure,
			{
				...dearer,
				series: INPUTS.map((s) => ({ ...s, values: s.values.map((v) => v * (s.line === 'units' ? 2 : 1)) }))
			},
			data(),
			profit
		);
		expect(why.groups.map(name)).toEqual(['frame', 'units']);
		expect(why.effects.reduce((x, y) => x + y, 0)).toBe(why.difference);
	});
	it('leaves months that only one of the two has to what is not typed', () => {
		// A share of what is not there would be an error in every later month.
		const share = model([line({ code: 'x', formula: 'units / price' })]);
		const longer = data({ scenario: { ...scenario, last: at('2027-09') } }, share);
		const later = [...INPUTS].map((s) => ({
			...s,
			values: Float64Array.from([...s.values, ...s.values.slice(0, 6)])
		}));
		const dearer = later.map((s) => (s.line === 'price' ? { ...s, values: s.values.map((v) => v * 2) } : s));
		const why = whyItChanged(structure, { ...longer, series: dearer }, data({}, share), (p) =>
			figure(p, 'profit', '2026-04', '2027-09')
		);
		expect(why.groups.map(name)).toEqual(['frame', 'price']);
		expect(why.effects.every(Number.isFinite)).toBe(true);
		expect(why.effects.reduce((x, y) => x + y, 0)).toBe(why.difference);
	});
	it('is nothing between equal scenarios', () => {
		expect(whyItChanged(structure, data(), data(), profit)).toMatchObject({ groups: [], difference: 0 });
	});
});
