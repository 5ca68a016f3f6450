/** Schedules as blocks of a scenario: their rows, what these come to in departments, and what is posted. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../../calendar/calendar';
import { fromIsoDate, toIsoDate } from '../../calendar/dates';
import type { Account } from '../../company/schema';
import { buildStructure } from '../../company/structure';
import { ACCOUNTS_BLOCK } from '../../engine/spec';
import type { Series } from '../../inputs/series';
import { whyItChanged } from '../../explain/why';
import { calculateScenario } from '../../scenario/assemble';
import type { Plan } from '../../scenario/plan';
import type { ScenarioData } from '../../scenario/data';
import { typeInto } from '../../scenario/type-cells';
import { withoutRows } from '../../scenario/without-rows';
import { ModelDefinition } from '../driver-model/schema';
import { scheduleFaults } from './check-definition';
import { scheduleRowFaults } from './check-rows';
import { scheduleNames, sharesNames } from './names';
import { ScheduleDefinition, type ScenarioSchedule, type ScheduleRow } from './schema';

const calendar = monthCalendar(4);
const at = (key: string) => calendar.parse(key)!;
const account = (code: string, type: Account['type'], format: Account['format'] = 'money'): Account => ({
	code,
	name: code,
	parent: null,
	type,
	rollup: type === 'statistical' ? 'average' : 'sum',
	format
});
const structure = buildStructure(
	calendar,
	[
		account('pay', 'expense'),
		account('tax', 'expense'),
		account('software', 'expense'),
		account('rent', 'expense'),
		account('fte', 'statistical', 'number'),
		{ ...account('cash', 'asset'), rollup: 'last' }
	],
	['all', 'a', 'b', 'helsinki'].map((code) => ({
		code,
		name: code.toUpperCase(),
		parent: code === 'all' ? null : 'all',
		entity: code === 'helsinki' ? 'oy' : 'ltd'
	})),
	[
		{
			code: 'region',
			name: 'Tax region',
			members: ['north', 'south'].map((code) => ({
				code,
				name: code,
				parent: null,
				retired: false,
				attributes: {}
			}))
		}
	],
	'GBP',
	[
		{ code: 'ltd', name: 'Ltd', currency: 'GBP' },
		{ code: 'oy', name: 'Oy', currency: 'EUR' }
	]
);
/** The rate and cap of each tax region, as a table that rows look up by what they name. */
const TAXES = ModelDefinition.parse({
	code: 'taxes',
	name: 'Taxes',
	dimensions: ['region'],
	lines: [
		{ code: 'rate', label: 'Rate', format: 'percent', closed: 'keep' },
		{ code: 'cap', label: 'Cap', format: 'money', unit: 'months', closed: 'keep' }
	]
});
const STAFF = ScheduleDefinition.parse({
	code: 'staff',
	name: 'Staff',
	one: 'person',
	named: 'name',
	divided: true,
	columns: [
		{ code: 'name', label: 'Name', kind: 'text', required: true },
		{ code: 'home', label: 'Department', kind: 'department', required: true },
		{ code: 'region', label: 'Tax region', kind: 'member', dimension: 'region' },
		{ code: 'annual', label: 'Annual pay', kind: 'money', least: 0 },
		{ code: 'start', label: 'Start', kind: 'date', required: true },
		{ code: 'end', label: 'End', kind: 'date', least: 'start' },
		{ code: 'open', label: 'Open post', kind: 'yes-no' },
		{ code: 'monthly', label: 'Pay of a month', kind: 'money', formula: 'annual / 12' }
	],
	lines: [
		{ code: 'raise', label: 'Raise', format: 'percent', adds: false },
		{
			code: 'raises',
			label: 'Raises in force',
			format: 'percent',
			adds: false,
			formula: 'if(is_blank(opening(raises)), 1, opening(raises)) * (1 + raise)'
		},
		{ code: 'fte', label: 'FTE', format: 'number', time: 'average', formula: 'active(start, end)' },
		{ code: 'pay', label: 'Pay', formula: 'monthly * raises * fte' },
		{ code: 'tax', label: 'Tax', formula: 'taxes.rate * capped(pay, 50000)' }
	],
	postings: [
		{ line: 'pay', account: { code: 'pay' } },
		{ line: 'tax', account: { code: 'tax' } },
		{ line: 'fte', account: { code: 'fte' } }
	]
});
const person = (id: string, values: ScheduleRow['values'], shares?: string[]): ScheduleRow => ({
	id,
	values: { name: id, home: 'a', region: 'north', annual: 84_000, start: '2027-02-15', ...values },
	...(shares ? { shares } : {})
});
const FIRST = at('2027-01');
const LENGTH = 14;
const typed = (block: string, line: string, row: string, months: Record<string, number>): Series => ({
	block,
	line,
	row,
	first: FIRST,
	values: Float64Array.from({ length: LENGTH }, (_, t) => months[calendar.key(FIRST + t)] ?? NaN)
});
const every = (value: number) =>
	Object.fromEntries(Array.from({ length: LENGTH }, (_, t) => [calendar.key(FIRST + t), value]));
const lineCells = (calculation: Plan['calculation'], block: string, line: string, row: number) =>
	Array.from({ length: LENGTH }, (_, t) => calculation.cell(block, line, row, FIRST + t));
const data = (schedules: readonly ScenarioSchedule[], series: readonly Series[] = []): ScenarioData => ({
	scenario: {
		code: 's',
		name: 'S',
		kind: 'budget',
		first: FIRST,
		last: FIRST + LENGTH - 1,
		actualsThrough: null,
		follows: null,
		origin: null,
		locked: false,
		description: ''
	},
	models: [{ definition: TAXES, rows: [['north'], ['south']] }],
	schedules,
	series: [...series, ...['north', 'south'].map((r, i) => typed('taxes', 'rate', r, every(i ? 0.2 : 0.08)))],
	bases: [],
	rates: [
		{
			currency: 'EUR',
			average: { first: FIRST, values: new Float64Array(LENGTH).fill(0.5) },
			closing: { first: FIRST, values: new Float64Array(LENGTH).fill(0.5) }
		}
	],
	history: { first: FIRST, accounts: new Map() }
});
function calculated(rows: readonly ScheduleRow[], series: readonly Series[] = []) {
	const plan = calculateScenario(structure, data([{ definition: STAFF, rows }], series));
	const all = (block: string, line: string, row: string) =>
		Array.from({ length: LENGTH }, (_, t) =>
			plan.calculation.cell(block, line, plan.blocks.get(block)!.rowAt(row), FIRST + t)
		);
	const posted = (code: string, department: string) =>
		all(ACCOUNTS_BLOCK, code, department).map((v) => (v as number | null) ?? 0);
	return { plan, all, posted };
}
const cents = (list: readonly unknown[]) => list.map((v) => Math.round((v as number) * 100) / 100);
const sum = (...lists: number[][]) => lists[0].map((_, t) => lists.reduce((s, l) => s + l[t], 0));

describe('a schedule', () => {
	const raised = typed('staff', 'raise', 'p', { '2027-07': 0.04 });

	it('gives pay, tax up to its cap and FTE of a person, and posts them to the department', () => {
		const { all, posted } = calculated([person('p', {})], [raised]);
		const pay = [0, 3500, 7000, 7000, 7000, 7000, ...new Array<number>(8).fill(7280)];
		const tax = [0, 280, 560, 560, 560, 560, 582.4, 582.4, 315.2, 0, 0, 0, 582.4, 582.4];
		expect(cents(all('staff', 'pay', 'p'))).toEqual(pay);
		expect(cents(all('staff', 'tax', 'p'))).toEqual(tax);
		expect(cents(posted('pay', 'a'))).toEqual(pay);
		expect(cents(posted('tax', 'a'))).toEqual(tax);
		expect(posted('fte', 'a').slice(0, 3)).toEqual([0, 0.5, 1]);
		expect(posted('pay', 'b')).toEqual(new Array(LENGTH).fill(0));
	});
	it('looks up what is kept by what a row names, which another row need not name', () => {
		const { all } = calculated([
			person('p', {}),
			person('q', { region: 'south' }),
			person('r', { region: '' })
		]);
		const march = (id: string) => all('staff', 'tax', id)[2];
		expect([march('p'), march('q'), march('r')]).toEqual([560, 1400, 0]);
	});
	it('divides a person over departments: each share its part, together what the person is', () => {
		const { all, posted } = calculated(
			[person('p', {}, ['b']), person('q', { start: '2026-01-01' })],
			[
				raised,
				typed('staff_shares', 'share', 'p|a', { ...every(0.7), '2027-02': 1, '2027-03': 1 }),
				typed('staff_shares', 'share', 'p|b', { ...every(0.3), '2027-02': 0, '2027-03': 0 })
			]
		);
		const april = 3;
		expect(all('staff_shares', 'fte', 'p|a')[april]).toBe(0.7);
		expect(all('staff_shares', 'pay', 'p|a')[april]).toBeCloseTo(4900, 9);
		expect(all('staff_shares', 'tax', 'p|b')[april]).toBeCloseTo(168, 9);
		expect(posted('pay', 'b')[april]).toBeCloseTo(2100, 9);
		// Blank is all of a person who is not divided.
		expect(all('staff_shares', 'pay', 'q|a')).toEqual(all('staff', 'pay', 'q'));
		for (const line of ['pay', 'tax', 'fte'])
			expect(cents(sum(posted(line, 'a'), posted(line, 'b')))).toEqual(
				cents(sum(all('staff', line, 'p') as number[], all('staff', line, 'q') as number[]))
			);
	});
	it('leaves accounts as they are where its rows are summed up for those who may not see them', () => {
		const given = data(
			[
				{
					definition: STAFF,
					rows: [
						person('p', {}, ['b']),
						person('q', { annual: 36_000 }),
						person('r', { region: 'south' }),
						person('s', { home: 'helsinki' })
					]
				}
			],
			[typed('staff_shares', 'share', 'p|a', every(0.7)), typed('staff_shares', 'share', 'p|b', every(0.3))]
		);
		const plan = calculateScenario(structure, given);
		const summed = withoutRows(plan, given);
		const again = calculateScenario(structure, summed);
		const figures = ({ calculation, blocks }: Plan) =>
			['pay', 'tax', 'fte'].map((line) =>
				['a', 'b', 'helsinki'].map((department) =>
					cents(
						Array.from({ length: LENGTH }, (_, t) => {
							const row = blocks.get(ACCOUNTS_BLOCK)!.rowAt(department);
							return calculation.cell(ACCOUNTS_BLOCK, line, row, FIRST + t);
						})
					)
				)
			);
		// In April: 70 % of one, 3,000 of the second, all of the third.
		expect(figures(plan)[0][0][3]).toBe(4900 + 3000 + 7000);
		expect(figures(again)).toEqual(figures(plan));
		// All of a department stand together, whatever else they are.
		expect(summed.schedules![0].rows.map((r) => r.values)).toEqual([
			{ home: 'a' },
			{ home: 'b' },
			{ home: 'helsinki' }
		]);
		// Where a line is looked up by region, that line is told by region, and no other.
		const heads = ModelDefinition.parse({
			code: 'heads',
			name: 'Heads',
			dimensions: ['region'],
			lines: [{ code: 'desks', label: 'Desks', formula: 'staff_shares.fte' }]
		});
		const read = { ...given, models: [...given.models, { definition: heads, rows: [['north'], ['south']] }] };
		const before = calculateScenario(structure, read);
		const told = withoutRows(before, read);
		const after = calculateScenario(structure, told);
		expect(figures(after)).toEqual(figures(plan));
		const desks = ({ calculation }: Plan) =>
			[0, 1].map((row) => cents(lineCells(calculation, 'heads', 'desks', row)));
		expect(desks(after)).toEqual(desks(before));
		expect(desks(before)[1].at(-1)).toBe(1);
		expect(told.series.filter((s) => s.line === 'pay').map((s) => s.row)).toEqual([
			'a / north',
			'b / north',
			'helsinki / north'
		]);
	});
	it('counts in the currency of each row’s department', () => {
		const { posted, plan } = calculated([
			person('p', { start: '2026-01-01', annual: 12_000 }),
			person('q', { start: '2026-01-01', annual: 24_000, home: 'helsinki' })
		]);
		expect([posted('pay', 'a')[3], posted('pay', 'helsinki')[3]]).toEqual([1000, 2000]);
		expect(plan.blocks.get('staff')!.currencyOf('pay')).toBe('local currency');
	});
	it('posts to the account that a row names, and to one department where rows have none', () => {
		const licences = ScheduleDefinition.parse({
			code: 'licences',
			name: 'Licences',
			named: 'what',
			columns: [
				{ code: 'what', label: 'What', kind: 'text' },
				{ code: 'goes_to', label: 'Account', kind: 'account', required: true },
				{ code: 'fee', label: 'Fee', kind: 'money' }
			],
			lines: [{ code: 'cost', label: 'Cost', formula: 'fee' }],
			postings: [{ line: 'cost', account: { column: 'goes_to' }, department: 'b' }]
		});
		const rows = [
			{ id: '1', values: { what: 'CAD', goes_to: 'software', fee: 100 } },
			{ id: '2', values: { what: 'Desk', goes_to: 'rent', fee: 30 } },
			{ id: '3', values: { what: 'Nest', goes_to: 'software', fee: 5 } }
		];
		const plan = calculateScenario(structure, data([{ definition: licences, rows }]));
		const b = plan.accounts.rowAt('b');
		const of = (code: string) => plan.calculation.cell(ACCOUNTS_BLOCK, code, b, FIRST);
		expect([of('software'), of('rent')]).toEqual([105, 30]);
		expect(plan.blocks.has('licences_shares')).toBe(false);
	});
	it('is read by driver models, by department or as a whole', () => {
		const desks = ModelDefinition.parse({
			code: 'desks',
			name: 'Desks',
			dimensions: ['department'],
			lines: [
				{ code: 'people', label: 'People', formula: 'staff_shares.fte' },
				{ code: 'everybody', label: 'Everybody', formula: 'staff.fte' }
			]
		});
		const base = data([
			{
				definition: STAFF,
				rows: [person('p', { start: '2026-01-01' }), person('q', { home: 'b', start: '2026-01-01' })]
			}
		]);
		const plan = calculateScenario(structure, {
			...base,
			models: [...base.models, { definition: desks, rows: [['a'], ['b']] }]
		});
		const cell = (line: string, row: number) => plan.calculation.cell('desks', line, row, FIRST);
		expect([cell('people', 0), cell('people', 1), cell('everybody', 0)]).toEqual([1, 1, 2]);
	});
	it('is typed into where it takes figures, and what it comes to follows', () => {
		const { plan, posted } = calculated([person('p', {}, ['b'])]);
		const block = plan.blocks.get('staff')!;
		const shares = plan.blocks.get('staff_shares')!;
		expect(block.typingFaults('raise', 'p')).toEqual([]);
		expect(block.typingFaults('pay', 'p')[0].message).toMatch(/is calculated/);
		expect(shares.typingFaults('share', 'p|b')).toEqual([]);
		expect(shares.typingFaults('share', 'p|helsinki')[0].message).toMatch(/is no row/);
		expect(shares.rowName('p|b')).toBe('p · B');
		// Nothing typed is all of it, twice: the page says so before it is kept.
		expect(posted('pay', 'a')[3] + posted('pay', 'b')[3]).toBe(14_000);
		const given = ['p|a', 'p|b'].map((row, i) => ({
			block: 'staff_shares',
			line: 'share',
			row,
			period: at('2027-04'),
			value: i ? 0.25 : 0.75
		}));
		expect(typeInto(plan, given)).toBe(true);
		plan.calculation.recalculate();
		const pay = (department: string) =>
			plan.calculation.cell(ACCOUNTS_BLOCK, 'pay', plan.accounts.rowAt(department), at('2027-04'));
		expect([pay('a'), pay('b')]).toEqual([5250, 1750]);
	});
	it('explains what changed against another scenario, also where its rows are others', () => {
		const result = (plan: Plan) =>
			plan.calculation.cell(ACCOUNTS_BLOCK, 'pay', plan.accounts.rowAt('a'), at('2027-08')) as number;
		const raise = (id: string, share: number) => typed('staff', 'raise', id, { '2027-03': share });
		const b = data([{ definition: STAFF, rows: [person('p', {})] }], [raise('p', 0.02)]);
		const grown = data([{ definition: STAFF, rows: [person('p', {})] }], [raise('p', 0.05)]);
		expect(whyItChanged(structure, grown, b, result)).toMatchObject({
			groups: [{ block: 'staff', line: 'raise' }],
			effects: [expect.closeTo(7000 * 0.03, 6) as number]
		});
		// Somebody stands before the one whom both have: no row is taken for another.
		const rows = [person('q', { annual: 12_000 }), person('p', {})];
		const hired = data([{ definition: STAFF, rows }], [raise('p', 0.05)]);
		const why = whyItChanged(structure, hired, b, result);
		expect(why.groups).toEqual([
			{ block: 'staff', rows: true },
			{ block: 'staff', line: 'raise' }
		]);
		expect(why.effects).toEqual([
			expect.closeTo(1000, 6) as number,
			expect.closeTo(7000 * 0.03, 6) as number
		]);
	});
	it('is the same as each month worked out by hand, whatever the dates, shares and raises', () => {
		const day = fc.integer({ min: fromIsoDate('2026-06-01')!, max: fromIsoDate('2028-04-30')! });
		const row = fc.record({
			annual: fc.integer({ min: 0, max: 200_000 }),
			start: day,
			long: fc.integer({ min: 0, max: 500 }),
			ends: fc.boolean(),
			share: fc.integer({ min: 0, max: 10 }),
			raisedIn: fc.integer({ min: 0, max: LENGTH - 1 }),
			raise: fc.integer({ min: -5, max: 20 }),
			divided: fc.boolean()
		});
		fc.assert(
			fc.property(fc.array(row, { minLength: 1, maxLength: 5 }), (list) => {
				const rows = list.map((r, i) =>
					person(
						`r${i}`,
						{
							annual: r.annual,
							start: toIsoDate(r.start),
							...(r.ends ? { end: toIsoDate(r.start + r.long) } : {})
						},
						r.divided ? ['b'] : undefined
					)
				);
				const series = list.flatMap((r, i) => [
					typed('staff', 'raise', `r${i}`, { [calendar.key(FIRST + r.raisedIn)]: r.raise / 100 }),
					...(r.divided
						? [
								typed('staff_shares', 'share', `r${i}|a`, every(r.share / 10)),
								typed('staff_shares', 'share', `r${i}|b`, every(1 - r.share / 10))
							]
						: [])
				]);
				const { posted } = calculated(rows, series);
				const [a, b] = [posted('pay', 'a'), posted('pay', 'b')];
				for (let t = 0; t < LENGTH; t++) {
					const first = fromIsoDate(calendar.firstDay(FIRST + t))!;
					const last = fromIsoDate(calendar.lastDay(FIRST + t))!;
					let [inA, inB] = [0, 0];
					for (const r of list) {
						const until = r.ends ? Math.min(last, r.start + r.long) : last;
						const days = Math.max(0, until - Math.max(first, r.start) + 1);
						const raised = t >= r.raisedIn ? 1 + r.raise / 100 : 1;
						const pay = (r.annual / 12) * raised * (days / (last - first + 1));
						inA += r.divided ? (pay * r.share) / 10 : pay;
						inB += r.divided ? pay * (1 - r.share / 10) : 0;
					}
					expect(a[t]).toBeCloseTo(inA, 6);
					expect(b[t]).toBeCloseTo(inB, 6);
				}
			}),
			{ numRuns: 40 }
		);
	});
});

describe('a definition', () => {
	const sources = {
		accounts: structure.accounts,
		departments: structure.departments,
		dimensions: [structure.dimensions.get('region')!.dimension],
		money: structure.money,
		scenarios: ['actuals']
	};
	const taxes = {
		code: 'taxes',
		dimensions: ['region'],
		lines: [{ code: 'rate', quantity: { kind: 'number' as const, unit: {} } }]
	};
	const faults = (change: object) =>
		scheduleFaults(ScheduleDefinition.parse({ ...STAFF, ...change }), [taxes], sources).map(
			(f) => `${f.column}: ${f.message}`
		);
	const withColumn = (column: object) => ({
		columns: [...STAFF.columns, { label: 'X', code: 'x', ...column }]
	});
	const withLine = (line: object) => ({ lines: [...STAFF.lines, { label: 'X', code: 'x', ...line }] });

	it('is sound as it stands', () => expect(faults({})).toEqual([]));
	it('may have a column for what a whole life comes to', () =>
		expect(faults(withColumn({ kind: 'number', formula: '2 * whole_life(2 * active(start, end))' }))).toEqual(
			[]
		));
	it.each<[object, RegExp]>([
		[{ code: 'region' }, /^code: “region” has another meaning/],
		[{ code: 'taxes' }, /^code: “taxes” has another meaning/],
		[{ named: 'nobody' }, /^named: there is no column “nobody”/],
		[withColumn({ code: 'pay', kind: 'number' }), /^lines\.pay: it stands twice/],
		[withColumn({ kind: 'pick' }), /^columns\.x\.choices: a pick-list needs/],
		[withColumn({ kind: 'pick', choices: ['A', 'A'] }), /a choice stands twice/],
		[
			withColumn({ kind: 'member', dimension: 'planet' }),
			/^columns\.x\.dimension: there is no dimension “planet”/
		],
		[withColumn({ kind: 'row', schedule: 'staff' }), /^columns\.x\.schedule: there is no other schedule/],
		[withColumn({ kind: 'text', least: 3 }), /^columns\.x\.least: only numbers and dates have limits/],
		[withColumn({ kind: 'date', most: 'annual' }), /^columns\.x\.most: “annual” is neither such a value nor/],
		[withColumn({ kind: 'date', default: '2027-02-31' }), /^columns\.x\.default: “2027-02-31” is no date/],
		[
			withColumn({ kind: 'number', formula: 'pay' }),
			/^columns\.x\.formula: A column is the same in all months/
		],
		...['active(start, end)', '2 * whole_life(staff.pay)', 'year(period_end())', 'lag(annual, 1)'].map(
			(formula): [object, RegExp] => [
				withColumn({ kind: 'number', formula }),
				/^columns\.x\.formula: A column is the same in all months/
			]
		),
		[withColumn({ kind: 'number', formula: 'start +' }), /^columns\.x\.formula: /],
		[withLine({ formula: 'annual + start' }), /^lines\.x\.formula: /],
		[withLine({ code: 'share' }), /^lines\.share: “share” has another meaning/],
		[
			{ postings: [{ line: 'raises', account: { code: 'pay' } }] },
			/^postings\.1\.line: “raises” does not add up/
		],
		[
			{ postings: [{ line: 'pay', account: { code: 'gone' } }] },
			/^postings\.1\.account: “gone” is no planning account/
		],
		[
			{ postings: [{ line: 'pay', account: { column: 'name' } }] },
			/^postings\.1\.account: “name” is no column of accounts/
		],
		[
			{ columns: STAFF.columns.map((c) => (c.code === 'home' ? { ...c, required: false } : c)) },
			/^columns\.home\.required: /
		],
		[
			{ columns: STAFF.columns.filter((c) => c.code !== 'home'), postings: STAFF.postings.slice(0, 1) },
			/^divided: .*\n?/
		]
	])('%j is refused', (change, message) => {
		expect(faults(change).some((f) => message.test(f))).toBe(true);
	});
	it('calls its columns and lines by name in formulas, and what adds up by department', () => {
		expect(scheduleNames(STAFF, structure.money).lines.map((l) => l.code)).toContain('annual');
		expect(sharesNames(STAFF, structure.money).lines.map((l) => l.code)).toEqual([
			'share',
			'share_in_force',
			'fte',
			'pay',
			'tax'
		]);
	});
});

describe('rows', () => {
	const faults = (...rows: ScheduleRow[]) =>
		scheduleRowFaults(STAFF, rows, structure, new Map()).map((f) => `${f.row} ${f.column}: ${f.message}`);
	const good = person('p', {});

	it('are sound as they stand', () => expect(faults(good, person('q', {}, ['b']))).toEqual([]));
	it.each<[ScheduleRow, string]>([
		[{ ...good, id: '' }, '1 id: an identifier is missing'],
		[{ ...good, id: 'a|b' }, '1 id: “a|b” is no identifier: without blanks around it, “|”, “;” and “/”'],
		[{ ...good, id: 'o' }, '1 id: “o” stands twice'],
		[person('q', { name: '' }), '1 name: “Name” is missing'],
		[person('q', { start: '31.02.2027' }), '1 start: “31.02.2027” is no date such as 2027-01-31'],
		[person('q', { end: '2027-02-14' }), '1 end: “End” is before “Start”'],
		[person('q', { annual: -1 }), '1 annual: “Annual pay” is below 0'],
		[person('q', { annual: 'much' }), '1 annual: “much” is no number'],
		[person('q', { home: 'gone' }), '1 home: there is no department “gone”'],
		[person('q', { home: 'all' }), '1 home: “all” is a total of the departments under it'],
		[person('q', { region: 'west' }), '1 region: there is no tax region “west”'],
		[person('q', { open: 'yes' }), '1 open: “yes” is neither yes nor no'],
		[person('q', { monthly: 5 }), '1 monthly: “Pay of a month” is worked out and takes no value'],
		[person('q', { grade: 'A' }), '1 grade: there is no column “grade”'],
		[person('q', {}, ['a']), '1 shares: “a” stands twice'],
		[person('q', {}, ['all']), '1 shares: “all” is no department that takes figures'],
		[
			person('q', {}, ['helsinki']),
			'1 shares: “helsinki” plans in EUR and “a” in GBP; a row is divided within one currency'
		]
	])('%j is refused', (row, message) => {
		expect(faults(person('o', {}), row)).toEqual([message]);
	});
});
