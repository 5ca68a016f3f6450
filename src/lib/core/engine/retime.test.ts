/** Blocks with periods of their own: what another block reads of them, and posts. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar, type Calendar } from '../calendar/calendar';
import { fromIsoDate } from '../calendar/dates';
import { weekCalendar } from '../calendar/weeks';
import { parseFormula } from '../formula/parse';
import { axisOf, type Axis } from './axis';
import { Calculation } from './calculation';
import type { BlockSpec, LineSpec } from './spec';
import { newMatrix, setCell } from './values';

const months = monthCalendar(4);
/** Weeks that end on Sunday, as ISO 8601 counts them. */
const weeks = weekCalendar('weeks', { fiscalStart: 4, endsOn: 7, rule: 'nearest' });

/** Two years of months, plan from October 2026 on, and the weeks that hold them. */
const FIRST = months.parse('2026-04')!;
const OPEN = months.parse('2026-10')!;
const byMonth = axisOf(months, FIRST, 24, OPEN - FIRST);
function covering(calendar: Calendar, { firstDay, lastDay, open, length }: Axis): Axis {
	const [from, to] = [calendar.periodOfDay(firstDay[0]), calendar.periodOfDay(lastDay[length - 1])];
	return axisOf(calendar, from, to - from + 1, calendar.periodOfDay(firstDay[open]) - from);
}
const byWeek = covering(weeks, byMonth);

const expr = (text: string) => parseFormula(text).expr!;
const month = (key: string) => months.parse(key)!;
const week = (day: string) => weeks.periodOf(day)!;

type Typed = Record<string, number | null>;
/** A typed line; what is not named is blank. */
function typed(code: string, axis: Axis, values: Typed, rest: Partial<LineSpec> = {}): LineSpec {
	const seed = newMatrix(1, axis.length);
	const calendar = axis === byMonth ? months : weeks;
	for (let t = 0; t < axis.length; t++) setCell(seed, 0, t, values[calendar.key(axis.first + t)] ?? null);
	return { code, additive: true, seed, ...rest };
}
const formula = (code: string, text: string, rest: Partial<LineSpec> = {}): LineSpec => ({
	code,
	additive: true,
	rules: [{ from: 0, expr: expr(text) }],
	...rest
});
const block = (id: string, lines: LineSpec[], axis?: Axis): BlockSpec => ({
	id,
	dimensions: [],
	rows: [[]],
	lines,
	axis
});
const calculate = (...blocks: BlockSpec[]) => new Calculation(byMonth, blocks).calculate();
const w = (day: string) => weeks.key(week(day));

describe('a line read in periods of another kind', () => {
	it('is divided by days where a week straddles two months', () => {
		const c = calculate(
			block('weekly', [typed('units', byWeek, { [w('2026-09-28')]: 700, [w('2026-10-05')]: 70 })], byWeek),
			block('m', [formula('units', 'weekly.units')])
		);
		const at = (key: string) => c.cell('m', 'units', 0, month(key));
		expect([at('2026-09'), at('2026-10'), at('2026-11')]).toEqual([300, 470, null]);
		expect(c.cellIn('m', 'weekly', 'units', 0, month('2026-10'))).toBe(470);
	});

	it('is what holds on the last day, or a mean over days, as the line says', () => {
		const values = { [w('2026-09-21')]: 5, [w('2026-09-28')]: 8, [w('2026-10-26')]: 9 };
		const c = calculate(
			block(
				'weekly',
				[
					typed('stock', byWeek, values, { overTime: 'last' }),
					typed('heads', byWeek, values, { overTime: 'average' })
				],
				byWeek
			),
			block('m', [formula('stock', 'weekly.stock'), formula('heads', 'weekly.heads')])
		);
		const at = (line: string, key: string) => c.cell('m', line, 0, month(key));
		expect([at('stock', '2026-09'), at('stock', '2026-10')]).toEqual([8, 9]);
		expect(at('heads', '2026-09')).toBeCloseTo((5 * 7 + 8 * 3) / 10, 12);
		expect(at('heads', '2026-10')).toBeCloseTo((8 * 4 + 9 * 6) / 10, 12);
		expect(at('heads', '2026-11')).toBe(9);
	});

	it('is weighed by another line, or computed anew from what its operands are there', () => {
		const [a, b] = [w('2026-09-28'), w('2026-10-05')];
		const c = calculate(
			block(
				'weekly',
				[
					typed('units', byWeek, { [a]: 70, [b]: 30 }),
					formula('revenue', 'units * price'),
					typed('price', byWeek, { [a]: 2, [b]: 4 }, { overTime: { weight: 'units' } }),
					formula('mean', 'revenue / units', { overTime: { expr: expr('revenue / units') } })
				],
				byWeek
			),
			block('m', [formula('price', 'weekly.price'), formula('mean', 'weekly.mean')])
		);
		// October has four sevenths of the first week: 40 units at 2, and 30 at 4.
		for (const line of ['price', 'mean'])
			expect(c.cell('m', line, 0, month('2026-10'))).toBeCloseTo((40 * 2 + 30 * 4) / 70, 12);
		expect(c.cell('m', 'price', 0, month('2026-09'))).toBe(2);
	});

	it('is divided where it is coarser: amounts by days, what holds as it is', () => {
		const typing = { '2026-09': 3000, '2026-10': 3100 };
		const c = calculate(
			block('m', [typed('rent', byMonth, typing), typed('rate', byMonth, typing, { overTime: 'last' })]),
			block('weekly', [formula('rent', 'm.rent'), formula('rate', 'm.rate')], byWeek)
		);
		const at = (line: string, day: string) => c.cell('weekly', line, 0, week(day));
		expect([at('rent', '2026-09-21'), at('rent', '2026-09-28')]).toEqual([700, 300 + 400]);
		expect([at('rate', '2026-09-21'), at('rate', '2026-09-28')]).toEqual([3000, 3100]);
	});

	it('takes errors over and looks back by periods of the reader', () => {
		const c = calculate(
			block(
				'weekly',
				[
					typed('x', byWeek, { [w('2026-10-05')]: 0 }),
					formula('bad', '1 / x'),
					formula('before', 'lag(x, 1)')
				],
				byWeek
			),
			block('m', [formula('bad', 'weekly.bad'), formula('x', 'lag(weekly.x, 1)')])
		);
		expect(c.cell('m', 'bad', 0, month('2026-10'))).toBe('#DIV/0!');
		expect(c.cell('weekly', 'before', 0, week('2026-10-12'))).toBe(0);
		expect([c.cell('m', 'x', 0, month('2026-10')), c.cell('m', 'x', 0, month('2026-11'))]).toEqual([null, 0]);
	});

	it('posts into months from the first open one on, with its part of a week that straddles', () => {
		const c = calculate(
			block('weekly', [typed('units', byWeek, { [w('2026-09-28')]: 700 })], byWeek),
			block('accounts', [
				{ code: 'a', additive: true, inflows: [{ block: 'weekly', line: 'units', index: Int32Array.of(0) }] }
			])
		);
		expect(c.cell('accounts', 'a', 0, month('2026-09'))).toBe(0);
		expect(c.cell('accounts', 'a', 0, month('2026-10'))).toBe(400);
	});

	it('closes no circle by closed months, and one by open ones is named', () => {
		const accounts = block('accounts', [
			{
				code: 'sales',
				additive: true,
				seed: typed('sales', byMonth, { '2026-08': 310 }).seed,
				inflows: [{ block: 'weekly', line: 'sales', index: Int32Array.of(0) }]
			}
		]);
		const weekly = (rules: LineSpec['rules']) =>
			block('weekly', [typed('sales', byWeek, { [w('2026-10-12')]: 7 }, { rules })], byWeek);
		const past = expr('account("sales")');
		const c = calculate(weekly([{ from: 0, to: byWeek.open, expr: past }]), accounts);
		expect(c.cell('weekly', 'sales', 0, week('2026-08-12'))).toBe(70);
		expect(c.cell('accounts', 'sales', 0, month('2026-10'))).toBe(7);
		expect(() => calculate(weekly([{ from: 0, expr: past }]), accounts)).toThrow(
			/weekly\.sales → account sales → weekly\.sales|account sales → weekly\.sales → account sales/
		);
	});

	it('has a whole life and years of its own periods', () => {
		const c = calculate(
			block(
				'weekly',
				[
					formula('n', 'days_in_period()'),
					formula('year', 'ytd(n)'),
					formula('on', 'active(date(2026, 10, 1), date(2026, 10, 4))')
				],
				byWeek
			),
			block('m', [formula('days', 'weekly.n')])
		);
		expect(c.cell('weekly', 'on', 0, week('2026-10-04'))).toBeCloseTo(4 / 7, 12);
		// ISO weeks: the year from April 2027 begins on Monday 29 March.
		expect(c.cell('weekly', 'year', 0, week('2027-04-05'))).toBe(14);
		for (let p = OPEN; p < FIRST + 24; p++) expect(c.cell('m', 'days', 0, p)).toBeCloseTo(months.days(p), 9);
	});

	it('counts the months of its periods, so that an amount a month is that of every period', () => {
		const c = calculate(
			block('weekly', [formula('rent', '3100 * months_in_period()')], byWeek),
			block('m', [formula('rent', '3100 * months_in_period()')])
		);
		expect(c.cell('m', 'rent', 0, month('2027-02'))).toBe(3100);
		// Three days of September, four of October.
		expect(c.cell('weekly', 'rent', 0, week('2026-09-28'))).toBeCloseTo(3100 * (3 / 30 + 4 / 31), 9);
		// Weeks reach two days beyond both ends of the two years.
		const all = c.matrix('weekly', 'rent').values.reduce((x, y) => x + y, 0);
		expect(all).toBeCloseTo(3100 * (24 + 2 / 31 + 2 / 30), 6);
	});

	it('loses nothing, and an edit gives the same bits as calculating everything', () => {
		const calendars = fc.record({
			grouping: fc.constantFrom('weeks' as const, '13x4' as const, '4-4-5' as const),
			fiscalStart: fc.integer({ min: 1, max: 12 }),
			endsOn: fc.integer({ min: 1, max: 7 }),
			rule: fc.constantFrom('last' as const, 'nearest' as const)
		});
		const how = fc.constantFrom('sum' as const, 'last' as const, 'average' as const);
		const value = fc.option(fc.integer({ min: -1000, max: 1000 }), { nil: null });
		const edits = fc.array(fc.tuple(fc.boolean(), fc.nat(22), value), { maxLength: 12 });
		fc.assert(
			fc.property(calendars, how, edits, (spec, overTime, list) => {
				const own = covering(weekCalendar(spec.grouping, spec), byMonth);
				const make = () =>
					calculate(
						block(
							'own',
							[
								{ ...typed('x', byMonth, {}), seed: newMatrix(1, own.length), overTime },
								formula('y', 'm.back + x', { overTime })
							],
							own
						),
						block('m', [
							typed('a', byMonth, {}, { overTime }),
							formula('x', 'own.x'),
							formula('back', 'a * 2', { overTime }),
							formula('y', 'own.y')
						])
					);
				const edited = make();
				for (const [there, t, v] of list) {
					edited.setInput(there ? 'own' : 'm', there ? 'x' : 'a', 0, t % own.length, v);
					edited.recalculate();
				}
				const anew = make();
				for (const [there, t, v] of list)
					anew.setInput(there ? 'own' : 'm', there ? 'x' : 'a', 0, t % own.length, v);
				anew.calculate();
				for (const [id, code] of [
					['m', 'x'],
					['m', 'y'],
					['own', 'y']
				] as const)
					expect([...edited.matrix(id, code).values]).toEqual([...anew.matrix(id, code).values]);
				if (overTime !== 'sum') return;
				const sum = (id: string, code: string) => edited.matrix(id, code).values.reduce((x, y) => x + y, 0);
				const outside = (t: number) => {
					const [from, to] = [own.firstDay[t], own.lastDay[t]];
					const [first, last] = [fromIsoDate('2026-04-01')!, fromIsoDate('2028-03-31')!];
					return (Math.max(0, first - from) + Math.max(0, to - last)) / (to - from + 1);
				};
				const cut = [...edited.matrix('own', 'x').values].reduce((n, v, t) => n + v * outside(t), 0);
				expect(sum('m', 'x')).toBeCloseTo(sum('own', 'x') - cut, 6);
			}),
			{ numRuns: 60 }
		);
	});
});
