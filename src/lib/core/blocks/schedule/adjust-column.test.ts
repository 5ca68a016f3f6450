/** What-ifs over columns of a schedule: pay raised, dates moved, choices set, for some rows, and what comes of it. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../../calendar/calendar';
import { buildStructure } from '../../company/structure';
import { bridgeOf } from '../../analysis/effects';
import { WhatIf } from '../../analysis/what-if';
import { whyItChanged } from '../../explain/why';
import { adjustmentsFrom } from '../../inputs/adjust';
import { AdjustmentDefinition } from '../../inputs/schema';
import { calculateScenario } from '../../scenario/assemble';
import { adjustmentFaults } from '../../scenario/check-adjustment';
import type { ScenarioData } from '../../scenario/data';
import { packScenario } from '../../scenario/package';
import type { Plan } from '../../scenario/plan';
import { account, yearFrom } from '../../../../../tests/support/budget';
import { changeRows, type RowChange } from './row-changes';
import { ScheduleDefinition, type ScheduleRow } from './schema';

const calendar = monthCalendar(1);
const first = calendar.parse('2027-01')!;
const structure = buildStructure(
	calendar,
	[
		account('profit', 'revenue', null),
		account('wages', 'expense', 'profit'),
		account('fees', 'expense', 'profit')
	],
	[
		{ code: 'all', name: 'All', parent: null, entity: 'e' },
		{ code: 'works', name: 'Works', parent: 'all', entity: 'e' },
		{ code: 'a', name: 'A', parent: 'works', entity: 'e' },
		{ code: 'b', name: 'B', parent: 'works', entity: 'e' },
		{ code: 'c', name: 'C', parent: 'all', entity: 'e' }
	],
	[],
	'GBP'
);
const staff = ScheduleDefinition.parse({
	code: 'staff',
	name: 'Staff',
	named: 'name',
	columns: [
		{ code: 'name', label: 'Name', kind: 'text', required: true },
		{ code: 'department', label: 'Department', kind: 'department', required: true },
		{ code: 'grade', label: 'Grade', kind: 'pick', choices: ['junior', 'senior'] },
		{ code: 'open_post', label: 'Open post', kind: 'yes-no' },
		{ code: 'start', label: 'Start', kind: 'date' },
		{ code: 'end', label: 'End', kind: 'date', least: 'start' },
		{ code: 'annual', label: 'Annual pay', kind: 'money' },
		{ code: 'monthly', label: 'Monthly', kind: 'money', formula: 'annual / 12' }
	],
	lines: [
		{ code: 'extra', label: 'Extra' },
		{
			code: 'pay',
			label: 'Pay',
			formula: 'monthly * active(start, end) + extra + if(grade = "senior", 10, 0)'
		}
	],
	postings: [{ line: 'pay', account: { code: 'wages' } }]
});
const ROWS: ScheduleRow[] = [
	{ id: 'p1', values: { name: 'Ann', department: 'a', grade: 'senior', start: '2026-05-01', annual: 1200 } },
	{ id: 'p2', values: { name: 'Bea', department: 'b', grade: 'junior', start: '2026-05-01', annual: 2400 } },
	{ id: 'p3', values: { name: 'Open', department: 'c', open_post: true, start: '2027-04-01', annual: 3600 } },
	{ id: 'p4', values: { name: 'Hourly', department: 'c', start: '2027-08-31' } }
];
const data = (steps: unknown[] = [], rows = ROWS, more: Partial<ScenarioData> = {}): ScenarioData =>
	yearFrom(first, {
		schedules: [{ definition: staff, rows }],
		adjustments: adjustmentsFrom(steps.length ? [definition(steps)] : [], calendar),
		...more
	});
const definition = (steps: unknown[]) =>
	AdjustmentDefinition.parse({
		code: 'x',
		name: 'X',
		on: true,
		steps: steps.map((s) => ({ lines: [{ block: 'staff', line: 'annual' }], ...(s as object) }))
	});
const of = (line: string) => ({ lines: [{ block: 'staff', line }] });
/** The account by department over the year. */
function wages(steps: unknown[], rows = ROWS): number[] {
	const plan = calculateScenario(structure, data(steps, rows));
	return structure.departmentRows.map((_, row) =>
		Array.from({ length: 12 }, (_, m) => plan.calculation.cell('accounts', 'wages', row, first + m)).reduce(
			(sum: number, v) => sum + (typeof v === 'number' ? v : NaN),
			0
		)
	);
}

describe('adjustments over columns of a schedule', () => {
	it('raise, set, add, and move dates, for rows that are told apart by any column', () => {
		expect(wages([])).toEqual([1200 + 120, 2400, 2700]);
		expect(wages([{ operation: 'multiply', value: 1.1 }])).toEqual([1320 + 120, 2640, 2970]);
		const raise = (where: Record<string, string>) => wages([{ operation: 'multiply', value: 2, where }]);
		expect(raise({ department: 'works' })).toEqual([2520, 4800, 2700]);
		expect(raise({ department: 'a' })).toEqual([2520, 2400, 2700]);
		expect(raise({ grade: 'junior' })).toEqual([1320, 4800, 2700]);
		expect(raise({ open_post: 'yes' })).toEqual([1320, 2400, 5400]);
		expect(raise({ open_post: 'no', department: 'c' })).toEqual([1320, 2400, 2700]);
		expect(raise({ name: 'Bea' })).toEqual([1320, 4800, 2700]);
		expect(raise({ staff: 'p3' })).toEqual([1320, 2400, 5400]);
		expect(wages([{ operation: 'shift', periods: 2, ...of('start') }])).toEqual([1320, 2400, 2100]);
		expect(wages([{ operation: 'shift', periods: -1, ...of('start'), where: { open_post: 'yes' } }])[2]).toBe(
			3000
		);
		// April has 30 days: from the 16th on half of them.
		expect(wages([{ operation: 'add', value: 15, ...of('start') }])[2]).toBe(2550);
		expect(wages([{ operation: 'set', value: '2027-06-30', ...of('end') }])).toEqual([720, 1200, 900]);
		expect(wages([{ operation: 'set', value: 'senior', ...of('grade') }])).toEqual([1320, 2520, 2700 + 240]);
		expect(wages([{ operation: 'set', value: true, ...of('open_post') }])).toEqual(wages([]));
		// Typed months are adjusted for the same rows.
		expect(
			wages([{ operation: 'add', value: 5, from: '2027-11', ...of('extra'), where: { grade: 'senior' } }])
		).toEqual([1330, 2400, 2700]);
	});

	it('leave blanks alone, but where they are set, and do one after the other', () => {
		const added = calculateScenario(structure, data([{ operation: 'add', value: 100 }]));
		expect(added.calculation.cell('staff', 'annual', 3, first)).toBeNull();
		expect(added.calculation.cell('staff', 'annual', 2, first)).toBe(3700);
		// Nor does anything come of a blank: the other three are paid 100 a year more, as long as they are there.
		expect(wages([{ operation: 'add', value: 100 }])).toEqual(
			[1420, 2500, 2775].map((v) => expect.closeTo(v, 9) as number)
		);
		const twice = [
			{ operation: 'set', value: 1200 },
			{ operation: 'multiply', value: 1.5, where: { department: 'c' } }
		];
		const plan = calculateScenario(structure, data(twice));
		expect([0, 1, 2, 3].map((r) => plan.calculation.cell('staff', 'annual', r, first))).toEqual([
			1200, 1200, 1800, 1800
		]);
		// 31 Aug by six months is the last of February.
		const moved = calculateScenario(structure, data([{ operation: 'shift', periods: 6, ...of('start') }]));
		const edits = moved.blocks
			.get('staff')!
			.adopting(calculateScenario(structure, data()), moved, 'start').values;
		expect(edits.find((e) => e.row === 'p4')).toEqual({
			block: 'staff',
			row: 'p4',
			column: 'start',
			before: '2027-08-31',
			value: '2028-02-29'
		});
	});

	it.each([
		['annual', { operation: 'multiply', value: 1.1 / 3, where: { department: 'works' } }],
		['annual', { operation: 'set', value: 0 }],
		['start', { operation: 'shift', periods: -3 }],
		['end', { operation: 'set', value: '2027-10-15' }],
		['grade', { operation: 'set', value: 'junior' }],
		['open_post', { operation: 'set', value: true }]
	])('adopting writes “%s” into rows, and the figures are the same: %j', (line, step) => {
		const with_ = calculateScenario(structure, data([{ ...step, ...of(line) }]));
		const without = calculateScenario(structure, data());
		const { cells, values } = with_.blocks.get('staff')!.adopting(without, with_, line);
		expect(cells).toEqual([]);
		const { rows, conflicts } = changeRows(
			ROWS,
			values.map(({ row, column, before, value }): RowChange => ({
				kind: 'set',
				id: row,
				column,
				before,
				value
			}))
		);
		expect(conflicts).toEqual([]);
		const adopted = calculateScenario(structure, data([], rows));
		for (let r = 0; r < 4; r++)
			for (let m = 0; m < 12; m++)
				expect(adopted.calculation.cell('staff', 'pay', r, first + m)).toBe(
					with_.calculation.cell('staff', 'pay', r, first + m)
				);
		expect(values.length).toBeGreaterThan(0);
	});

	it('say what cannot be, at its place', () => {
		const { blocks } = calculateScenario(structure, data());
		const faults = (step: object) =>
			adjustmentFaults(definition([step]), structure, blocks).map((f) => `${f.column}: ${f.message}`);
		expect(faults({ operation: 'multiply', value: 2 })).toEqual([]);
		expect(faults({ operation: 'multiply', value: 2, from: '2027-03' })).toEqual([
			'steps.1.lines: “Annual pay” is the same in all months, so it cannot be changed from or to one'
		]);
		expect(faults({ operation: 'shift', periods: 1 })[0]).toMatch(/holds no dates to be moved/);
		expect(faults({ operation: 'multiply', value: 2, ...of('start') })[0]).toMatch(/no numbers/);
		expect(faults({ operation: 'add', value: 0.5, ...of('start') })[0]).toMatch(/whole days/);
		expect(faults({ operation: 'set', value: 3, ...of('start') })[0]).toMatch(/“3” is no date/);
		expect(faults({ operation: 'set', value: '2027-02-31', ...of('start') })[0]).toMatch(/no date/);
		expect(faults({ operation: 'set', value: 'much' })[0]).toMatch(/“much” is no number/);
		expect(faults({ operation: 'set', value: 'chief', ...of('grade') })[0]).toMatch(/none of junior, senior/);
		expect(faults({ operation: 'set', value: 1, ...of('open_post') })[0]).toMatch(/neither yes nor no/);
		expect(faults({ operation: 'set', value: 'a', ...of('department') })[0]).toMatch(/where a row stands/);
		expect(faults({ operation: 'multiply', value: 2, ...of('monthly') })[0]).toMatch(/is worked out/);
		expect(faults({ operation: 'set', value: 'x', ...of('extra') })[0]).toMatch(/“x” is no number/);
		expect(faults({ operation: 'multiply', value: 2, where: { grade: 'chief' } })).toEqual([
			'steps.1.where: Grade: “chief” is none of junior, senior'
		]);
		expect(faults({ operation: 'multiply', value: 2, where: { department: 'x' } })).toEqual([
			'steps.1.where: Department: there is no department “x”'
		]);
		expect(faults({ operation: 'multiply', value: 2, where: { open_post: 'perhaps' } })[0]).toMatch(
			/neither/
		);
		expect(faults({ operation: 'multiply', value: 2, where: { region: 'x' } })).toEqual([
			'steps.1.where: the schedule “Staff” has no column or dimension “region”, so the step would change nothing there'
		]);
		expect(() =>
			calculateScenario(structure, data([{ operation: 'set', value: 1, ...of('monthly') }]))
		).toThrow(/worked out/);
	});

	it('are switched live, each with what it does, and a goal is sought by one', () => {
		const list = adjustmentsFrom(
			[
				{ ...definition([{ operation: 'multiply', value: 1.1 }]), code: 'r', name: 'Raise' },
				{ ...definition([{ operation: 'shift', periods: 2, ...of('start') }]), code: 'd', name: 'Later' }
			],
			calendar
		);
		const live = new WhatIf(packScenario(structure, data([], ROWS, { adjustments: list })));
		const measure = { kind: 'account', account: 'profit', department: 'all' } as const;
		const span = { from: first, to: first + 11 };
		const [effect] = live.effects([measure], span);
		expect(effect.without).toBe(-6420);
		expect(effect.effects[0]).toBeCloseTo(-630, 9);
		expect(effect.effects[1]).toBeCloseTo(660, 9);
		const { steps } = bridgeOf(effect, list);
		expect(steps.map((s) => s.name)).toEqual(['Raise', 'Later']);
		live.adjust(list.map((a) => ({ ...a, on: false })));
		expect(live.effects([measure], span)[0].with).toBe(-6420);
		live.adjust(list);
		const sought = live.seek('r', 0, measure, span, -7020);
		expect(sought.found).toBe(true);
		// 5,700 a year without the open post's two months; 120 are the extra for seniors.
		expect(sought.input).toBeCloseTo(6900 / 5700, 4);
		const drivers = live.drivers();
		expect(drivers).toEqual([{ block: 'staff', line: 'annual', name: 'Staff: Annual pay' }]);
		live.adjust([]);
		const scopes = drivers.map((d) => ({ ...d, where: {}, ...span }));
		const { base, drivers: moved } = live.tornado(scopes, 0.1, measure, span);
		expect(base).toBe(-6420);
		expect([moved[0].low, moved[0].high].map(Math.round)).toEqual([-5790, -7050]);
		expect(live.effects([measure], span)[0].with).toBe(-6420);
	});
});

describe('why a result differs between two scenarios with other rows', () => {
	const year = (data: ScenarioData) => profit(calculateScenario(structure, data));
	const profit = ({ calculation, structure: { departmentRows } }: Plan) =>
		-departmentRows.reduce(
			(sum, _, r) =>
				sum +
				Array.from({ length: 12 }, (_, m) => calculation.cell('accounts', 'wages', r, first + m)).reduce(
					(x: number, v) => x + (typeof v === 'number' ? v : 0),
					0
				),
			0
		);
	const changed = (...changes: [string, Record<string, unknown>][]) =>
		ROWS.map((row) => {
			const own = changes.find(([id]) => id === row.id);
			return own ? { ...row, values: { ...row.values, ...own[1] } as ScheduleRow['values'] } : row;
		});
	const why = (a: ScenarioData, b: ScenarioData) => {
		const found = whyItChanged(structure, a, b, profit);
		expect(found.difference).toBeCloseTo(year(a) - year(b), 6);
		expect(found.effects.reduce((x, y) => x + y, 0)).toBeCloseTo(found.difference, 6);
		return Object.fromEntries(found.names.map((name, i) => [name, Math.round(found.effects[i] * 100) / 100]));
	};
	it('names dates, pay and choices by their columns, and who is new, gone or elsewhere', () => {
		const b = data();
		expect(why(data([], changed(['p3', { start: '2027-03-01' }])), b)).toEqual({ 'Staff: Start': -300 });
		expect(
			why(data([], changed(['p1', { annual: 1320, grade: 'junior' }], ['p3', { start: '2027-03-01' }])), b)
		).toEqual({ 'Staff: Grade': 120, 'Staff: Start': -300, 'Staff: Annual pay': -120 });
		const hired: ScheduleRow = {
			id: 'p9',
			values: { name: 'New', department: 'a', start: '2027-07-01', annual: 2400 }
		};
		expect(why(data([], [hired, ...ROWS]), b)).toEqual({ 'Staff: new, gone or elsewhere': -1200 });
		// Bea goes, which is 200 a month; the other two are paid a tenth more.
		const fewer = changed(['p1', { annual: 1320 }], ['p3', { annual: 3960 }]).filter((r) => r.id !== 'p2');
		expect(why(data([], fewer), b)).toEqual({
			'Staff: new, gone or elsewhere': 2400,
			'Staff: Annual pay': -390
		});
		// Who only moves costs the company the same.
		expect(why(data([], changed(['p2', { department: 'c', annual: 3600 }])), b)).toEqual({
			'Staff: new, gone or elsewhere': 0,
			'Staff: Annual pay': -1200
		});
	});
	it('names what adjustments change, and nothing else for them', () => {
		const steps = [
			{ operation: 'multiply', value: 1.1 },
			{ operation: 'shift', periods: -1, ...of('start'), where: { open_post: 'yes' } }
		];
		expect(why(data(steps), data())).toEqual({ 'Staff: Start': -315, 'Staff: Annual pay': -645 });
		// Under an adjustment of both, a row that one has alone holds what it holds there.
		const hired: ScheduleRow = {
			id: 'p9',
			values: { name: 'New', department: 'a', start: '2027-07-01', annual: 2400 }
		};
		const double = [{ operation: 'multiply', value: 2 }];
		expect(why(data(double, [...ROWS, hired]), data())).toEqual({
			'Staff: new, gone or elsewhere': -2400,
			'Staff: Annual pay': -6300
		});
	});
	it('does nothing to a column that both hold alike, where the one adjusts what the other is', () => {
		// A senior who is paid the same as somebody without a grade, under a raise for seniors that reaches nobody there.
		const senior = [{ id: 'p3', values: { department: 'a', grade: 'senior', annual: 9991 } }];
		const graded: ScheduleRow[] = [
			{ id: 'p1', values: { department: 'a' } },
			{ id: 'p3', values: { department: 'a', annual: 9991 } }
		];
		const raise = [{ operation: 'multiply', value: 1.1, where: { grade: 'senior' } }];
		expect(why(data([], senior), data(raise, graded))).toEqual({
			'Staff: new, gone or elsewhere': 0,
			'Staff: Grade': -120
		});
	});
	it('sums to the difference whatever rows, columns, months and adjustments differ', () => {
		const row = (id: string) =>
			fc.record({
				id: fc.constant(id),
				values: fc.record(
					{
						department: fc.constantFrom('a', 'b', 'c'),
						grade: fc.constantFrom('junior', 'senior'),
						start: fc.constantFrom('2026-11-16', '2027-02-01', '2027-05-20'),
						end: fc.constantFrom('2027-06-30', '2027-11-11'),
						annual: fc.integer({ min: 0, max: 9999 })
					},
					{ requiredKeys: ['department'] }
				)
			});
		const side = fc.record({
			rows: fc
				.tuple(row('p1'), row('p2'), row('p3'))
				.chain((all) => fc.shuffledSubarray(all, { minLength: 1 })),
			extra: fc.option(fc.array(fc.integer({ min: -50, max: 50 }), { minLength: 12, maxLength: 12 })),
			of: fc.constantFrom('p1', 'p2', 'p3'),
			steps: fc.subarray([
				{ operation: 'multiply', value: 1.1, where: { grade: 'senior' } },
				{ operation: 'add', value: 7, ...of('extra'), where: { department: 'works' } },
				{ operation: 'set', value: '2027-09-30', ...of('end'), where: { grade: 'junior' } }
			])
		});
		fc.assert(
			fc.property(side, side, (x, y) => {
				const [a, b] = [x, y].map((s) =>
					data(s.steps, s.rows as ScheduleRow[], {
						series: s.extra
							? [{ block: 'staff', line: 'extra', row: s.of, first, values: Float64Array.from(s.extra) }]
							: []
					})
				);
				why(a, b);
			}),
			{ numRuns: 100 }
		);
	});
});
