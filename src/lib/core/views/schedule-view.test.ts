/** What a page shows of a schedule: rows, headings, totals that tie to accounts, and what is changed and not saved. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changeRows, type RowChange } from '../blocks/schedule/row-changes';
import { ScheduleDefinition, type ScheduleRow } from '../blocks/schedule/schema';
import { monthCalendar } from '../calendar/calendar';
import { buildStructure } from '../company/structure';
import type { Account } from '../company/schema';
import { ACCOUNTS_BLOCK } from '../engine/spec';
import type { Series } from '../inputs/series';
import { calculateScenario } from '../scenario/assemble';
import type { ScenarioData } from '../scenario/data';
import { packScenario } from '../scenario/package';
import { shownSaved, tryRows, type ScheduleEdits } from './schedule-changes';
import { SchedulePreview } from './schedule-preview';
import { scheduleFigures, type ScheduleQuery } from './schedule-view';

const calendar = monthCalendar(4);
const at = (key: string) => calendar.parse(key)!;
const structure = buildStructure(
	calendar,
	['pay', 'hours'].map((code): Account => ({
		code,
		name: code,
		parent: null,
		type: code === 'pay' ? 'expense' : 'statistical',
		rollup: 'sum',
		format: 'money'
	})),
	['all', 'works', 'office', 'helsinki'].map((code) => ({
		code,
		name: code.toUpperCase(),
		parent: code === 'all' ? null : 'all',
		entity: code === 'helsinki' ? 'oy' : 'ltd'
	})),
	[],
	'GBP',
	[
		{ code: 'ltd', name: 'Ltd', currency: 'GBP' },
		{ code: 'oy', name: 'Oy', currency: 'EUR' }
	]
);
const STAFF = ScheduleDefinition.parse({
	code: 'staff',
	name: 'Staff',
	one: 'person',
	named: 'name',
	divided: true,
	columns: [
		{ code: 'name', label: 'Name', kind: 'text' },
		{ code: 'home', label: 'Department', kind: 'department', required: true },
		{ code: 'grade', label: 'Grade', kind: 'pick', choices: ['A', 'B'] },
		{ code: 'annual', label: 'A year', kind: 'money' },
		{ code: 'start', label: 'Start', kind: 'date' },
		{ code: 'end', label: 'End', kind: 'date' },
		{ code: 'monthly', label: 'A month', kind: 'money', formula: 'annual / 12' }
	],
	lines: [
		{ code: 'fte', label: 'FTE', format: 'number', time: 'average', formula: 'active(start, end)' },
		{ code: 'pay', label: 'Pay', formula: 'monthly * fte' },
		{ code: 'index', label: 'Index', format: 'number', adds: false, time: 'last' }
	],
	postings: [{ line: 'pay', account: { code: 'pay' } }]
});
const person = (id: string, values: ScheduleRow['values'], shares?: string[]): ScheduleRow => ({
	id,
	values: { name: id.toUpperCase(), home: 'works', annual: 12_000, start: '2027-04-01', ...values },
	...(shares ? { shares } : {})
});
const ROWS = [
	person('ann', { grade: 'B' }),
	person('bob', { grade: 'A', annual: 24_000, start: '2027-06-16' }, ['office']),
	person('cas', { home: 'office', end: '2027-06-30' }),
	person('dee', { grade: 'B', home: 'helsinki', annual: 36_000 })
];
const share = (row: string, department: string, values: number[]): Series => ({
	block: 'staff_shares',
	line: 'share',
	row: `${row}|${department}`,
	first: at('2027-04'),
	values: Float64Array.from(values)
});
const TWELVE = Array.from({ length: 12 });
const SERIES = [
	share(
		'bob',
		'works',
		TWELVE.map(() => 0.6)
	),
	share(
		'bob',
		'office',
		TWELVE.map(() => 0.4)
	)
];
const data = (rows: readonly ScheduleRow[] = ROWS, series: readonly Series[] = SERIES): ScenarioData => ({
	scenario: {
		code: 's',
		name: 'S',
		kind: 'budget',
		first: at('2027-04'),
		last: at('2028-03'),
		actualsThrough: null,
		follows: null,
		origin: null,
		locked: false
	} as ScenarioData['scenario'],
	models: [],
	schedules: [{ definition: STAFF, rows }],
	series,
	bases: [],
	history: { first: at('2026-04'), accounts: new Map() }
});
const plan = calculateScenario(structure, data());
const YEAR = { from: at('2027-04'), to: at('2028-03') };
const SPANS = [
	...TWELVE.map((_, i) => ({ from: YEAR.from + i, to: YEAR.from + i })),
	{ from: YEAR.from, to: YEAR.from + 2 },
	YEAR
];
const figures = (query: Partial<ScheduleQuery> = {}) =>
	scheduleFigures(plan, { schedule: 'staff', spans: SPANS, ...query });
const rowsOf = (query: Partial<ScheduleQuery>) => figures(query).rows.map((r) => r.key);
const UK = { department: null, where: { home: 'o' } };

describe('a schedule on a page', () => {
	it('shows the line that is posted, by month, quarter and year, with what is computed in columns', () => {
		const { rows, line, shown, count } = figures();
		expect([line, shown, count]).toEqual(['pay', 4, 4]);
		const bob = rows.find((r) => r.id === 'bob')!;
		expect(bob.cells.map((c) => Number((c as number).toFixed(2)))).toEqual([
			0,
			0,
			1000,
			...TWELVE.slice(3).map(() => 2000),
			1000,
			19_000
		]);
		expect(bob.computed).toEqual({ monthly: 2000 });
		expect([bob.label, bob.open, bob.target]).toEqual([
			'BOB',
			false,
			{ block: 'staff', line: 'pay', row: 'bob' }
		]);
		// Of one department alone the figure is that of the department, which is posted.
		expect(rows[0].target).toEqual({ block: 'staff_shares', line: 'pay', row: 'ann|works' });
		const fte = figures({ line: 'fte' }).rows.find((r) => r.id === 'bob')!;
		expect(fte.cells.at(-1)).toBeCloseTo(9.5 / 12, 12);
	});
	it('has totals that tie to the account of the department that is selected', () => {
		for (const department of ['works', 'office', 'helsinki']) {
			const { totals, rows } = figures({ department });
			const account = plan.accounts.rowAt(department);
			SPANS.slice(0, 12).forEach(({ from }, s) => {
				const booked = plan.calculation.cell(ACCOUNTS_BLOCK, 'pay', account, from) as number;
				expect(totals[s]).toBeCloseTo(booked, 9);
				expect(rows.reduce((sum, r) => sum + Number(r.cells[s]), 0)).toBeCloseTo(booked, 9);
			});
		}
		expect(rowsOf({ department: 'office' })).toEqual(['bob', 'cas']);
		// Pounds and euros are brought together in the reporting currency, at the rates of each month.
		expect([figures().totals[0], figures().totalsIn]).toEqual(['#RATE!', 'GBP']);
		const rates = TWELVE.map((_, t) => 0.8 + t / 100);
		const run = { first: YEAR.from, values: Float64Array.from(rates) };
		const translated = scheduleFigures(
			calculateScenario(structure, {
				...data(),
				rates: [{ currency: 'EUR', average: run, closing: run }]
			}),
			{ schedule: 'staff', spans: SPANS }
		);
		expect(translated.totals[0]).toBeCloseTo(1000 + 1000 + 3000 * 0.8, 9);
		expect(translated.totals.at(-1)).toBeCloseTo(
			12_000 + 19_000 + 3_000 + rates.reduce((sum, rate) => sum + 3000 * rate, 0),
			9
		);
		expect(figures(UK).totalsIn).toBeNull();
		expect(figures(UK).totals.at(-1)).toBeCloseTo(12_000 + 19_000 + 3_000, 9);
		expect(figures({ line: 'index' }).totals.every((c) => c === null)).toBe(true);
	});
	it('opens a row into its shares and all its lines', () => {
		const { rows } = figures({ open: ['bob'], line: 'fte' });
		const own = rows.filter((r) => r.id === 'bob');
		expect(own.map((r) => [r.kind, r.label])).toEqual([
			['row', 'BOB'],
			['share', 'WORKS'],
			['share', 'OFFICE'],
			['line', 'FTE'],
			['line', 'Pay'],
			['line', 'Index']
		]);
		expect(own[1].cells[0]).toBe(0.6);
		expect(own[1].target).toEqual({ block: 'staff_shares', line: 'share', row: 'bob|works' });
		expect(own[5].target).toEqual({ block: 'staff', line: 'index', row: 'bob' });
		expect(own[4].cells.at(-1)).toBeCloseTo(19_000, 9);
	});
	it('sorts, searches, filters and groups', () => {
		expect(rowsOf({ sort: 'annual' })).toEqual(['ann', 'cas', 'bob', 'dee']);
		expect(rowsOf({ sort: '-monthly' })).toEqual(['dee', 'bob', 'ann', 'cas']);
		// Blanks stand last either way.
		expect(rowsOf({ sort: 'end' })[0]).toBe('cas');
		expect(rowsOf({ sort: '-end' })[0]).toBe('cas');
		expect(rowsOf({ words: 'hels' })).toEqual(['dee']);
		expect(rowsOf({ where: { grade: 'b', home: 'WORKS' } })).toEqual(['ann']);
		expect(rowsOf({ where: { end: '' } })).toEqual(['ann', 'bob', 'dee']);
		const { rows } = figures({ group: 'grade', where: { home: 'o' }, open: ['group:B'] });
		expect(rows.map((r) => [r.key, r.count, Number(r.cells.at(-1))])).toEqual([
			['group:A', 1, 19_000],
			['bob', 1, 19_000],
			['group:B', 1, 12_000],
			['group:', 1, 3_000],
			['cas', 1, 3_000]
		]);
	});
	it('shows only rows that have figures in the line and the periods in sight', () => {
		const may = { from: at('2027-05'), to: at('2027-05') };
		const july = { from: at('2027-07'), to: at('2027-07') };
		const shown = (span: typeof may) => {
			const { rows, totals, shown: count } = figures({ filled: true, spans: [span] });
			expect(totals).toEqual(figures({ spans: [span] }).totals);
			return [count, ...rows.map((r) => r.key)];
		};
		expect(shown(may)).toEqual([3, 'ann', 'cas', 'dee']);
		expect(shown(july)).toEqual([3, 'ann', 'bob', 'dee']);
		expect(rowsOf({ filled: true, spans: [may], group: 'grade' })).toEqual([
			'group:B',
			'ann',
			'dee',
			'group:',
			'cas'
		]);
	});
	it('flags shares that are not 100 % in a month in which there is something to share', () => {
		expect(figures().unshared).toEqual([]);
		const short = calculateScenario(
			structure,
			data(ROWS, [
				share('bob', 'works', [0.5, 0.5, 0.5, 0.6, 0.6, 0.7]),
				share(
					'bob',
					'office',
					TWELVE.map((_, i) => (i < 6 ? 0.4 : 0))
				)
			])
		);
		const { rows, unshared } = scheduleFigures(short, { schedule: 'staff', spans: SPANS });
		// April and May are before the start, July and August are whole, from October on one share is blank: all of it.
		expect(unshared).toEqual([{ id: 'bob', name: 'BOB', first: at('2027-06'), count: 2, sum: 0.9 }]);
		expect(rows.find((r) => r.id === 'bob')!.unshared?.count).toBe(2);
	});
});

describe('a schedule that is changed and not saved', () => {
	const set = (id: string, column: string, before: string | number | null, value: string | number | null) =>
		({ kind: 'set', id, column, before, value }) satisfies RowChange;
	const parcel = () => packScenario(structure, data());

	it('shows what differs, and moves no row away', () => {
		const preview = new SchedulePreview(parcel(), 'staff');
		const query = { schedule: 'staff', spans: SPANS, sort: 'annual', where: UK.where };
		const saved = preview.figures({ rows: [], months: [] }, query);
		const edits = { rows: [set('ann', 'annual', 12_000, 48_000)], months: [] };
		const changes = preview.changes(edits, query, saved);
		expect(changes.rows.map((r) => [r.key, r.cells.at(-1), r.computed])).toEqual([
			['ann', 48_000, { monthly: 4000 }]
		]);
		expect(changes.totals.at(-1)).toBeCloseTo(48_000 + 19_000 + 3_000, 9);
		expect(preview.changes({ rows: [], months: [] }, query, saved).rows).toEqual([]);
		// Nor one that has no figures any more where only such are shown.
		const filled = { ...query, filled: true };
		const gone = { rows: [set('ann', 'annual', 12_000, 0)], months: [] };
		const before = preview.figures({ rows: [], months: [] }, filled);
		expect(preview.changes(gone, filled, before).rows.map((r) => [r.key, r.cells.at(-1)])).toEqual([
			['ann', 0]
		]);
	});
	it('takes rows that are put in, out, or elsewhere', () => {
		const preview = new SchedulePreview(parcel(), 'staff');
		const query = { schedule: 'staff', spans: SPANS, department: 'works' };
		const edits = {
			rows: [
				{ kind: 'add', row: { id: 'eve', values: person('eve', { annual: 6_000 }).values }, after: 'ann' },
				{ kind: 'remove', id: 'ann' },
				set('cas', 'home', 'office', 'works')
			] satisfies RowChange[],
			months: []
		};
		const { rows, totals } = preview.figures(edits, query);
		// One that comes from elsewhere is not in sight until it is saved.
		expect(rows.map((r) => r.key)).toEqual(['eve', 'bob']);
		expect(totals.at(-1)).toBeCloseTo(6_000 + 0.6 * 19_000, 9);
	});
	it('is not tried on a plan that is there for who has no department yet', () => {
		const { home, ...values } = ROWS[0].values;
		const rows = [...ROWS, { id: 'eve', values: { ...values, annual: 6_000 } }];
		const made = calculateScenario(structure, data(rows));
		const query = { schedule: 'staff', spans: SPANS };
		const tried = (id: string, annual: number) =>
			tryRows(
				made,
				{ rows: [set(id, 'annual', annual, 7_000)], months: [] },
				query,
				shownSaved(made, query),
				[],
				Infinity
			);
		expect(home).toBe('works');
		expect(tried('ann', 12_000)?.rows.map((r) => r.id)).toEqual(['ann']);
		expect(tried('eve', 6_000)).toBeNull();
	});
	it('leaves out who has no department yet', () => {
		const preview = new SchedulePreview(parcel(), 'staff');
		const { values } = person('eve', { annual: 6_000 });
		const { home, ...rest } = values;
		const begun = { kind: 'add', row: { id: 'eve', values: rest } } satisfies RowChange;
		const query = { schedule: 'staff', spans: SPANS, department: 'works' };
		const total = (...rows: RowChange[]) =>
			Number(preview.figures({ rows, months: [] }, query).totals.at(-1));
		const before = total();
		expect(total(begun)).toBe(before);
		expect(total(begun, set('eve', 'home', null, home as string))).toBeCloseTo(before + 6_000, 9);
	});
	it('comes to the same as once it is saved, whatever is changed one after the other', () => {
		const value = fc.record({
			id: fc.constantFrom('ann', 'bob', 'cas', 'dee'),
			column: fc.constantFrom('annual', 'start', 'end', 'home', 'shares', 'grade')
		});
		const worth = {
			annual: fc.constantFrom<(number | string | null)[]>(null, 9_000, 60_000),
			start: fc.constantFrom<(number | string | null)[]>('2027-01-01', '2027-09-10', null),
			end: fc.constantFrom<(number | string | null)[]>(null, '2027-10-31'),
			home: fc.constantFrom<(number | string | null)[]>('works', 'office'),
			shares: fc.constantFrom<(number | string | null)[]>(null),
			grade: fc.constantFrom<(number | string | null)[]>('A', 'B', null)
		};
		const changed = value.chain(({ id, column }) =>
			worth[column as keyof typeof worth].map((v) => ({ id, column, value: v }))
		);
		const month = fc.record({
			id: fc.constantFrom('ann', 'cas'),
			t: fc.integer({ min: 0, max: 11 }),
			value: fc.constantFrom(null, 7)
		});
		fc.assert(
			fc.property(
				fc.array(fc.record({ rows: fc.array(changed), months: fc.array(month) }), { maxLength: 4 }),
				(steps) => {
					const preview = new SchedulePreview(parcel(), 'staff');
					const query = { schedule: 'staff', spans: SPANS, line: 'index', open: ['ann', 'bob'] };
					for (const step of steps) {
						let rows: readonly ScheduleRow[] = ROWS;
						const changes: RowChange[] = [];
						for (const c of step.rows) {
							const own = rows.find((r) => r.id === c.id)!;
							const before =
								c.column === 'shares' ? (own.shares?.join(';') ?? null) : (own.values[c.column] ?? null);
							const change = set(c.id, c.column, before as string | number | null, c.value);
							changes.push(change);
							rows = changeRows(rows, [change]).rows;
						}
						const months = [...new Map(step.months.map((m) => [`${m.id}${m.t}`, m])).values()];
						const typed = months.map((m) => ({
							block: 'staff',
							line: 'index',
							row: m.id,
							period: YEAR.from + m.t,
							value: m.value
						}));
						const index = months.map(({ id, t, value: v }): Series => ({
							block: 'staff',
							line: 'index',
							row: id,
							first: YEAR.from + t,
							values: Float64Array.of(v ?? NaN)
						}));
						const got = preview.figures({ rows: changes, months: typed }, query);
						const saved = calculateScenario(structure, data(rows, [...SERIES, ...index]));
						const anew = scheduleFigures(saved, query);
						expect(got.rows).toEqual(anew.rows);
						expect(got.totals).toEqual(anew.totals);
						// What is told to differ, put over what is saved, is the same.
						for (const wanted of [query, { ...query, line: 'pay', open: [] }]) {
							const before = preview.figures({ rows: [], months: [] }, wanted);
							const told = preview.changes({ rows: changes, months: typed }, wanted, before);
							const shown = new Map([...before.rows, ...told.rows].map((r) => [r.key, r]));
							const after = scheduleFigures(saved, wanted);
							// The cell that it is stays where it is saved.
							for (const row of after.rows)
								expect({ ...shown.get(row.key), target: null }).toMatchObject({ ...row, target: null });
							expect([told.totals, told.unshared]).toEqual([after.totals, after.unshared]);
							// Tried on a plan that is there, it says the same, and leaves the plan as it was.
							const tried = tryRows(
								plan,
								{ rows: changes, months: typed },
								wanted,
								shownSaved(plan, wanted),
								[],
								Infinity
							);
							if (tried) expect(tried).toEqual(told);
							else expect(step.rows.some((c) => ['home', 'shares'].includes(c.column))).toBe(true);
							expect(scheduleFigures(plan, wanted)).toEqual(before);
						}
					}
				}
			),
			{ numRuns: 40 }
		);
	});
	it('tells of rows that nobody typed into, where they follow from what was typed in another', () => {
		const definition = ScheduleDefinition.parse({
			code: 'fees',
			name: 'Fees',
			named: 'what',
			columns: [
				{ code: 'what', label: 'What', kind: 'text' },
				{ code: 'home', label: 'Department', kind: 'department' },
				{ code: 'fee', label: 'Fee', kind: 'money' }
			],
			lines: [
				{ code: 'cost', label: 'Cost', formula: 'fee' },
				{ code: 'part', label: 'Part', format: 'number', adds: false, formula: 'cost / account("pay")' }
			],
			postings: [{ line: 'cost', account: { code: 'pay' } }]
		});
		const rows = ['x', 'y'].map((id) => ({ id, values: { what: id, home: 'works', fee: 50 } }));
		const own = { ...data(), series: [], models: [], schedules: [{ definition, rows }] };
		const preview = new SchedulePreview(packScenario(structure, own), 'fees');
		const query = { schedule: 'fees', spans: SPANS, line: 'part' };
		const saved = preview.figures({ rows: [], months: [] }, query);
		expect(saved.rows.map((r) => r.cells[0])).toEqual([0.5, 0.5]);
		const edits = { rows: [set('x', 'fee', 50, 150)], months: [] };
		const told = preview.changes(edits, query, saved).rows.map((r) => [r.key, r.cells[0]]);
		expect(told).toEqual([
			['x', 0.75],
			['y', 0.25]
		]);
		const made = calculateScenario(structure, own);
		const tried = (edits: ScheduleEdits, asked: string[] = [], most = Infinity) =>
			tryRows(made, edits, query, shownSaved(made, query), asked, most)?.rows.map((r) => [r.key, r.cells[0]]);
		expect(tried(edits)).toEqual(told);
		// The one before it follows too.
		expect(tried({ rows: [set('y', 'fee', 50, 150)], months: [] })).toEqual([
			['x', 0.25],
			['y', 0.75]
		]);
		// Not where adjustments tell rows apart by it, where it has become something else, or where it takes too long.
		expect(tried(edits, ['fee'])).toBeUndefined();
		expect(tried({ rows: [set('x', 'fee', 60, 150)], months: [] })).toBeUndefined();
		expect(tried({ rows: [{ kind: 'remove', id: 'x' }], months: [] })).toBeUndefined();
		expect(tried(edits, [], 0)).toBeUndefined();
	});
	it('counts the errors of rows that stay as they are, and finds shares that another row leaves undivided', () => {
		const definition = ScheduleDefinition.parse({
			code: 'fees',
			name: 'Fees',
			named: 'what',
			divided: true,
			columns: [
				{ code: 'what', label: 'What', kind: 'text' },
				{ code: 'home', label: 'Department', kind: 'department' },
				{ code: 'fee', label: 'Fee', kind: 'money' },
				{ code: 'by', label: 'By', kind: 'number' }
			],
			lines: [
				{ code: 'cost', label: 'Cost', formula: 'fee / by' },
				{ code: 'pool', label: 'Pool', formula: 'total(if(by = 1, fee, 0))' }
			],
			postings: []
		});
		const fee = (what: string, values: object, shares?: string[]) => ({
			id: what,
			values: { what, home: 'works', fee: 0, by: 1, ...values },
			...(shares ? { shares } : {})
		});
		const rows = [fee('x', {}), fee('y', {}, ['office']), fee('z', { by: 0, fee: 5 })];
		const own = { ...data(), series: [], models: [], schedules: [{ definition, rows }] };
		const preview = new SchedulePreview(packScenario(structure, own), 'fees');
		const query = { schedule: 'fees', spans: SPANS, line: 'cost' };
		const saved = preview.figures({ rows: [], months: [] }, query);
		expect([saved.errors, saved.unshared]).toEqual([SPANS.length, []]);
		const edits = { rows: [set('x', 'fee', 0, 100)], months: [] };
		const told = preview.changes(edits, query, saved);
		expect([told.errors, told.unshared.map((u) => u.id)]).toEqual([SPANS.length, ['y']]);
		// What is shown of it is the same but for the mark.
		expect(told.rows.map((r) => [r.id, r.unshared?.sum])).toEqual([
			['x', undefined],
			['y', 2]
		]);
	});
});
