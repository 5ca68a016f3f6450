/** Staff, contracts, assets and cohorts, month by month, with the figures of the rules of calculation. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../../calendar/calendar';
import { fromIsoDate, toIsoDate } from '../../calendar/dates';
import { buildStructure } from '../../company/structure';
import { axisOf } from '../../engine/axis';
import { Calculation } from '../../engine/calculation';
import { newMatrix, setCell, type Cell } from '../../engine/values';
import { checkFormula, type Names } from '../../formula/check';
import { plain, UNKNOWN, NO_MONEY } from '../../formula/units';
import type { Series } from '../../inputs/series';
import { calculateScenario } from '../../scenario/assemble';
import { scheduleFaults } from './check-definition';
import { ScheduleDefinition } from './schema';
import { SCHEDULE_TEMPLATES } from './templates';

const calendar = monthCalendar(4);
const structure = buildStructure(
	calendar,
	[{ code: 'cost', name: 'Cost', parent: null, type: 'expense', rollup: 'sum', format: 'money' }],
	[{ code: 'yard', name: 'Yard', parent: null, entity: 'ltd' }],
	[],
	'GBP',
	[{ code: 'ltd', name: 'Ltd', currency: 'GBP' }]
);
const formOf = (template: string): ScheduleDefinition =>
	ScheduleDefinition.parse({
		...SCHEDULE_TEMPLATES.find((t) => t.code === template)!.form,
		code: template,
		name: template
	});
const [STAFF, CONTRACTS, ASSETS] = ['people', 'contracts', 'assets'].map(formOf);

type Value = number | string | boolean | null;
interface Row {
	columns: Record<string, Value>;
	/** Typed months: line → period key → value. */
	typed?: Record<string, Record<string, number>>;
}

/** A schedule of one row per given row, from one month to another, as it is in a scenario. */
function schedule(definition: ScheduleDefinition, given: Row[], from: string, to: string) {
	const first = calendar.parse(from)!;
	const length = calendar.parse(to)! - first + 1;
	const usual = Object.fromEntries(
		definition.columns.flatMap(({ code, default: value, kind }) =>
			value !== undefined
				? [[code, value]]
				: kind === 'department'
					? [[code, 'yard']]
					: kind === 'account'
						? [[code, 'cost']]
						: code === definition.named
							? [[code, 'it']]
							: []
		)
	);
	const rows = given.map(({ columns }, i) => ({
		id: String(i),
		values: Object.fromEntries(
			Object.entries({ ...usual, ...columns }).filter((e): e is [string, string | number] => e[1] !== null)
		)
	}));
	const series = given.flatMap(({ typed }, i) =>
		Object.entries(typed ?? {}).map(([line, months]): Series => ({
			block: definition.code,
			line,
			row: String(i),
			first,
			values: Float64Array.from({ length }, (_, t) => months[calendar.key(first + t)] ?? NaN)
		}))
	);
	const { calculation } = calculateScenario(structure, {
		scenario: {
			code: 's',
			name: 'S',
			kind: 'budget',
			first,
			last: first + length - 1,
			actualsThrough: null,
			follows: null,
			origin: null,
			locked: false,
			description: ''
		},
		models: [],
		schedules: [{ definition, rows }],
		series,
		bases: [],
		history: { first, accounts: new Map() }
	});
	const at = (line: string, month: string, row = 0): Cell =>
		calculation.cell(definition.code, line, row, calendar.parse(month)!);
	const all = (line: string, row = 0) =>
		Array.from({ length }, (_, t) => calculation.cell(definition.code, line, row, first + t) as number);
	return { at, all };
}
const sum = (list: number[]) => list.reduce((a, b) => a + b, 0);

describe('active share', () => {
	it('is the part of a month from start to end', () => {
		const contract = { columns: { amount: 1, start: '2027-03-16', end: '2027-05-31' } };
		const { all } = schedule(
			ScheduleDefinition.parse({
				...CONTRACTS,
				lines: [{ code: 'x', label: 'X', format: 'percent', formula: 'active(start, end)' }]
			}),
			[
				contract,
				{ columns: { start: '2027-05-01', end: null } },
				{ columns: { start: '2027-06-10', end: '2027-06-10' } }
			],
			'2027-02',
			'2027-07'
		);
		expect(all('x').map((v) => Number(v.toFixed(6)))).toEqual([0, 0.516129, 1, 1, 0, 0]);
		expect(all('x', 1)).toEqual([0, 0, 0, 1, 1, 1]);
		expect(all('x', 2)[4]).toBeCloseTo(1 / 30, 12);
	});
});

describe('contracts', () => {
	it('cost their amount over the term, or go on when they renew', () => {
		const columns = { amount: 18_600, start: '2027-02-01', end: '2028-07-31' };
		const { at } = schedule(
			CONTRACTS,
			[
				{ columns },
				{ columns: { ...columns, renews: true } },
				{ columns: { ...columns, renews: true, uplift: 0.1 } }
			],
			'2027-01',
			// The term reaches beyond the months shown, which makes no difference to it.
			'2028-03'
		);
		expect(at('term', '2027-01')).toBe(18);
		expect(at('monthly', '2027-06')).toBeCloseTo(1033.3333, 4);
		expect(at('cost', '2027-01')).toBe(0);
		const later = schedule(
			CONTRACTS,
			[
				{ columns },
				{ columns: { ...columns, renews: true } },
				{ columns: { ...columns, renews: true, uplift: 0.1 } }
			],
			'2028-07',
			'2030-03'
		);
		expect(later.at('cost', '2028-07')).toBeCloseTo(1033.3333, 4);
		expect(later.at('cost', '2028-08')).toBe(0);
		expect(later.at('cost', '2028-08', 1)).toBeCloseTo(1033.3333, 4);
		expect(later.at('cost', '2028-08', 2)).toBeCloseTo(1136.6667, 4);
		expect(later.at('cost', '2030-01', 2)).toBeCloseTo(1136.6667, 4);
		expect(later.at('cost', '2030-02', 2)).toBeCloseTo(1250.3333, 4);
	});
	it('are divided by days in broken months and cost their amount exactly over their life', () => {
		const contract: Row = {
			columns: { amount: 9_600, start: '2027-03-16', end: '2028-03-15' }
		};
		const { at, all } = schedule(CONTRACTS, [contract], '2027-01', '2028-06');
		expect(at('term', '2027-03')).toBe(12);
		expect(at('cost', '2027-03')).toBeCloseTo(412.9, 2);
		expect(at('cost', '2028-03')).toBeCloseTo(387.1, 2);
		expect(sum(all('cost'))).toBeCloseTo(9_600, 9);
		expect(at('prepaid', '2027-03')).toBeCloseTo(9_187.1, 2);
		expect(at('prepaid', '2028-06')).toBeCloseTo(0, 9);
	});
	it('carry an uplift from each renewal on', () => {
		const renewing = {
			columns: { amount: 18_600, start: '2027-02-01', end: '2028-07-31', renews: true, uplift: 0.03 }
		};
		const { at } = schedule(CONTRACTS, [renewing], '2027-01', '2030-03');
		const cents = ['2028-07', '2028-08', '2030-01', '2030-02'].map((m) => Number(at('cost', m)).toFixed(2));
		expect(cents).toEqual(['1033.33', '1064.33', '1064.33', '1096.26']);
		const renewals = ['2027-02', '2028-07', '2028-08', '2030-02'].map((m) =>
			Number(at('renewal', m)).toFixed(2)
		);
		expect(renewals).toEqual(['0.00', '0.00', '19158.00', '19732.74']);
	});
	it('are paid ahead of their cost or behind it, quarter by quarter: prepaid or accrued, never both', () => {
		const columns = { amount: 12_000, start: '2027-04-01', end: '2028-03-31', paid_how: 'quarterly' };
		const { all } = schedule(
			CONTRACTS,
			[{ columns }, { columns: { ...columns, due: 'in arrears' } }],
			'2027-03',
			'2028-05'
		);
		const round = (list: number[]) => list.map((v) => Math.round(v * 100) / 100 + 0);
		const quarters = (list: number[]) => [0, ...list, ...list, ...list, ...list, 0, 0];
		expect(round(all('paid'))).toEqual(quarters([3000, 0, 0]));
		expect(round(all('prepaid'))).toEqual(quarters([2000, 1000, 0]));
		expect(round(all('accrued'))).toEqual(quarters([0, 0, 0]));
		expect(round(all('paid', 1))).toEqual(quarters([0, 0, 3000]));
		expect(round(all('accrued', 1))).toEqual(quarters([1000, 2000, 0]));
		expect(round(all('prepaid', 1))).toEqual(quarters([0, 0, 0]));
	});
	it('that end early cost and are paid up to that day; one that renews ends where it is ended', () => {
		const columns = { amount: 12_000, start: '2027-01-01', end: '2027-12-31', paid_how: 'yearly' };
		const { all, at } = schedule(
			CONTRACTS,
			[
				{ columns: { ...columns, ended: '2027-06-30' } },
				{ columns: { ...columns, renews: true, ended: '2028-06-30', uplift: 0.1 } }
			],
			'2027-01',
			'2028-12'
		);
		expect([sum(all('cost')), sum(all('paid')), at('paid', '2027-01')]).toEqual([6000, 6000, 6000]);
		expect(sum(all('cost', 1))).toBeCloseTo(12_000 + 6 * 1100, 8);
		expect([at('paid', '2027-01', 1), at('cost', '2028-07', 1)]).toEqual([12_000, 0]);
		expect(at('prepaid', '2028-12', 1)).toBeCloseTo(0, 9);
		expect(at('paid', '2028-01', 1)).toBeCloseTo(6600, 9);
	});
	it('say in which month notice has to be given, before each renewal', () => {
		const columns = { amount: 1200, start: '2027-02-01', end: '2028-01-31', renews: true, notice: 3 };
		const { all } = schedule(
			CONTRACTS,
			[
				{ columns },
				{ columns: { ...columns, renews: false } },
				{ columns: { ...columns, ended: '2028-01-31' } }
			],
			'2027-01',
			'2029-01'
		);
		const months = (row: number) =>
			all('notice_due', row).flatMap((v, t) => (v ? calendar.key(calendar.parse('2027-01')! + t) : []));
		expect([months(0), months(1), months(2)]).toEqual([['2027-10', '2028-10'], [], []]);
	});
	it('are paid what they cost over their life, however often they are paid and whatever months are shown', () => {
		const day = fc.integer({ min: 46_000, max: 47_000 });
		fc.assert(
			fc.property(
				day,
				fc.integer({ min: 0, max: 800 }),
				fc.constantFrom('once', 'monthly', 'quarterly', 'yearly'),
				fc.constantFrom('in advance', 'in arrears'),
				fc.option(fc.integer({ min: 0, max: 1200 }), { nil: null }),
				fc.boolean(),
				(start, length, paid_how, due, ended, renews) => {
					// One that is renewed for ever has no life to be summed over.
					const stop = renews && ended === null ? 500 : ended;
					const seed: Row = {
						columns: {
							amount: 1000,
							start: toIsoDate(start),
							end: toIsoDate(start + length),
							ended: stop === null ? null : toIsoDate(start + stop),
							renews,
							uplift: 0.05,
							paid_how,
							due
						}
					};
					const { all } = schedule(CONTRACTS, [seed], '2025-01', '2033-12');
					const [cost, paid] = [sum(all('cost')), sum(all('paid'))];
					const near = 1e-7 * Math.max(1, cost);
					expect(Math.abs(cost - paid)).toBeLessThan(near);
					if (stop === null) expect(cost).toBeCloseTo(1000, 7);
					const [prepaid, accrued] = [all('prepaid'), all('accrued')];
					prepaid.forEach((p, t) => {
						expect(Math.min(p, accrued[t]) + 0).toBe(0);
						expect(due === 'in advance' ? accrued[t] : p).toBeLessThan(near);
					});
					// Months that begin later know what came before them.
					const later = schedule(CONTRACTS, [seed], '2027-01', '2027-06').all('prepaid');
					const from = calendar.parse('2027-01')! - calendar.parse('2025-01')!;
					later.forEach((p, t) => expect(Math.abs(p - prepaid[from + t])).toBeLessThan(near));
				}
			),
			{ numRuns: 80 }
		);
	});
	it('cost their amount whatever the dates and whatever months are shown', () => {
		const day = fc.integer({ min: 46_000, max: 47_500 });
		fc.assert(
			fc.property(day, fc.integer({ min: 0, max: 900 }), (start, length) => {
				const seed: Row = {
					columns: { amount: 1000, start: toIsoDate(start), end: toIsoDate(start + length) }
				};
				const { all } = schedule(CONTRACTS, [seed], '2025-01', '2033-12');
				expect(sum(all('cost'))).toBeCloseTo(1000, 7);
			}),
			{ numRuns: 60 }
		);
	});
});

describe('staff', () => {
	const person: Row = {
		columns: {
			annual: 84_000,
			start: '2027-02-15',
			tax_rate: 0.08,
			tax_cap: 50_000,
			benefit: 300,
			bonus: 0.1
		},
		typed: { raise: { '2027-07': 0.04 } }
	};
	it('are paid by their active share, with raises from their month on and taxes up to the cap', () => {
		const { all } = schedule(STAFF, [person], '2027-01', '2028-02');
		const rounded = (line: string) => all(line).map((v) => Math.round(v * 100) / 100);
		const pay = [0, 3500, 7000, 7000, 7000, 7000, 7280, 7280, 7280, 7280, 7280, 7280, 7280, 7280];
		expect(rounded('pay')).toEqual(pay);
		// The cap is on the calendar year: in January it begins anew.
		expect(rounded('tax')).toEqual([0, 280, 560, 560, 560, 560, 582.4, 582.4, 315.2, 0, 0, 0, 582.4, 582.4]);
		expect(rounded('benefits').slice(0, 3)).toEqual([0, 150, 300]);
		expect(rounded('bonus_pay').slice(1, 3)).toEqual([350, 700]);
	});
	it('get a bonus on the pay of the twelve months to it, paid at once or accrued until it is paid', () => {
		const paidIn = { ...person, columns: { ...person.columns, bonus_month: 12 } };
		const accrued = { ...paidIn, columns: { ...paidIn.columns, bonus_accrues: true } };
		const { at, all } = schedule(STAFF, [paidIn, accrued], '2027-01', '2027-12');
		expect(sum(all('pay'))).toBe(75_180);
		expect([at('bonus_pay', '2027-11'), at('bonus_owed', '2027-11')]).toEqual([0, 0]);
		expect(at('bonus_pay', '2027-12')).toBeCloseTo(7518, 9);
		expect(all('bonus_pay', 1)).toEqual(all('pay').map((p) => 0.1 * p));
		expect(at('bonus_owed', '2027-11', 1)).toBeCloseTo(7518 - 728, 9);
		expect(at('bonus_paid', '2027-12', 1)).toBeCloseTo(7518, 9);
		expect(at('bonus_owed', '2027-12', 1)).toBeCloseTo(0, 9);
	});
	it('by the hour who start within a month are paid for their part of its hours', () => {
		const hourly: Row = {
			columns: { hourly: 18.5, start: '2027-05-12' },
			typed: { paid_hours: { '2027-05': 160 } }
		};
		const { at } = schedule(STAFF, [hourly], '2027-04', '2027-06');
		expect(Number(at('pay', '2027-05')).toFixed(2)).toBe('1909.68');
	});
	it('by the hour are paid for the month’s hours; a bonus month pays at once; leave adds up', () => {
		const hourly: Row = {
			columns: { hourly: 20, start: '2027-01-01', bonus: 0.05, bonus_month: 3, leave_hours: 240 },
			typed: {
				paid_hours: { '2027-01': 160, '2027-02': 152, '2027-03': 168 },
				leave_taken: { '2027-02': 8 }
			}
		};
		const { at } = schedule(STAFF, [hourly], '2027-01', '2027-03');
		expect(at('pay', '2027-02')).toBe(3040);
		expect(at('bonus_pay', '2027-02')).toBe(0);
		expect(at('bonus_pay', '2027-03')).toBeCloseTo(0.05 * 9600, 9);
		expect(at('leave', '2027-03')).toBe(52);
		expect(at('tax', '2027-03')).toBe(0);
	});
});

describe('assets', () => {
	const asset = (columns: Record<string, Value>): Row => ({
		columns: { method: 'straight-line', ...columns }
	});
	it('are charged evenly over their life, which may be changed', () => {
		const columns = { cost: 9_000, salvage: 0, in_service: '2026-05-10' };
		const { all, at } = schedule(
			ASSETS,
			[asset({ ...columns, life: 24 }), asset({ ...columns, life: 25 })],
			'2026-04',
			'2028-07'
		);
		expect(all('depreciation').filter((v) => v === 375)).toHaveLength(24);
		expect([at('depreciation', '2026-04'), at('depreciation', '2026-05')]).toEqual([0, 375]);
		expect([at('depreciation', '2028-04'), at('depreciation', '2028-05')]).toEqual([375, 0]);
		expect([at('depreciation', '2028-05', 1), at('depreciation', '2028-06', 1)]).toEqual([360, 0]);
		expect(at('book_value', '2026-04')).toBe(0);
		expect(at('book_value', '2026-05')).toBe(8625);
		expect(at('book_value', '2028-07')).toBe(0);
	});
	it.each([
		['sum-of-years', { cost: 33_000, salvage: 3_000 }, [10_000, 8_000, 6_000, 4_000, 2_000]],
		['declining', { cost: 10_000, salvage: 1_000 }, [4_000, 2_400, 1_440, 864, 296]],
		['declining-switch', { cost: 10_000, salvage: 1_000 }, [4_000, 2_400, 1_440, 864, 296]],
		['declining-switch', { cost: 10_000, salvage: 0 }, [4_000, 2_400, 1_440, 1_080, 1_080]]
	])('by %s are charged year by year ÷ 12', (method, amounts, years) => {
		const { all } = schedule(
			ASSETS,
			[asset({ ...amounts, method, life: 60, in_service: '2026-07-01' })],
			'2026-07',
			'2031-12'
		);
		const charged = all('depreciation');
		years.forEach((year, y) =>
			charged.slice(y * 12, y * 12 + 12).forEach((m) => expect(m).toBeCloseTo(year / 12, 9))
		);
		expect(sum(charged)).toBeCloseTo(amounts.cost - amounts.salvage, 9);
	});
	it('begin in the same month, the next, or by halves', () => {
		const columns = { cost: 1200, salvage: 0, life: 12, in_service: '2026-05-10' };
		const { all } = schedule(
			ASSETS,
			['same-month', 'next-month', 'half-month'].map((begins) => asset({ ...columns, begins })),
			'2026-04',
			'2027-06'
		);
		expect([0, 1, 2].map((r) => all('depreciation', r).slice(0, 4))).toEqual([
			[0, 100, 100, 100],
			[0, 0, 100, 100],
			[0, 50, 100, 100]
		]);
		expect([0, 1, 2].map((r) => sum(all('depreciation', r)))).toEqual([1200, 1200, 1200]);
	});
	it('bought before the months shown carry what has been charged', () => {
		const { at } = schedule(
			ASSETS,
			[asset({ cost: 2400, salvage: 0, life: 24, in_service: '2025-01-01' })],
			'2026-04',
			'2027-03'
		);
		expect(at('accumulated', '2026-04')).toBe(1600);
		expect(at('book_value', '2026-04')).toBe(800);
		expect(at('depreciation', '2027-01')).toBe(0);
	});
	it('by half-months charge half of the first month, and the other half after the last', () => {
		const { at } = schedule(
			ASSETS,
			[asset({ cost: 9000, life: 24, in_service: '2026-05-10', begins: 'half-month' })],
			'2026-04',
			'2028-07'
		);
		const months = ['2026-05', '2026-06', '2028-04', '2028-05', '2028-06'];
		expect(months.map((m) => at('depreciation', m))).toEqual([187.5, 375, 375, 187.5, 0]);
	});
	it('whose books differ are charged what is left over the months that are left', () => {
		const books = {
			cost: 20_000,
			salvage: 2000,
			life: 60,
			in_service: '2025-01-01',
			books_at: '2026-10-31',
			books: 9000
		};
		const { at } = schedule(ASSETS, [asset(books)], '2026-10', '2030-03');
		expect(at('accumulated', '2026-10')).toBeCloseTo(9000, 9);
		expect(Number(at('depreciation', '2026-11')).toFixed(2)).toBe('236.84');
		expect(Number(at('depreciation', '2029-12')).toFixed(2)).toBe('236.84');
		expect(at('depreciation', '2030-01')).toBe(0);
		expect(at('accumulated', '2029-12')).toBeCloseTo(18_000, 8);
	});
	it('whose life is over while the books still hold some are charged the rest at once; fully worn ones nothing', () => {
		const old = { cost: 1000, life: 12, in_service: '2020-01-01', books_at: '2026-10-31' };
		const { all } = schedule(
			ASSETS,
			[
				asset({ ...old, books: 900 }),
				asset({ ...old, books: 1000 }),
				asset({ cost: 1000, life: 12, in_service: '2020-01-01' })
			],
			'2026-11',
			'2027-02'
		);
		expect([0, 1, 2].map((r) => all('depreciation', r))).toEqual([
			[100, 0, 0, 0],
			[0, 0, 0, 0],
			[0, 0, 0, 0]
		]);
	});
	it('that are sold leave with their book value, and the difference to what was received is a gain', () => {
		const sold = { cost: 12_000, life: 48, in_service: '2026-01-01', sold: '2027-06-30', proceeds: 8000 };
		const { at, all } = schedule(
			ASSETS,
			[asset(sold), asset({ ...sold, last_month: 'not charged' })],
			'2026-01',
			'2027-12'
		);
		const june = (line: string, row = 0) => at(line, '2027-06', row);
		expect(['depreciation', 'released', 'gain', 'received'].map((l) => june(l))).toEqual([
			250, 4500, 500, 8000
		]);
		expect(['cost_held', 'accumulated', 'book_value', 'disposals'].map((l) => june(l))).toEqual([
			0, 0, 0, 12_000
		]);
		expect(at('book_value', '2027-05')).toBe(12_000 - 17 * 250);
		expect(['depreciation', 'released', 'gain'].map((l) => june(l, 1))).toEqual([0, 4250, 250]);
		expect(sum(all('depreciation'))).toBe(4500);
	});
	it('roll forward in every month: what was there, what came, what went, and what is there', () => {
		const on = (from: number) => fc.integer({ min: from, max: from + 1500 }).map((d) => toIsoDate(d));
		const some = <T>(a: fc.Arbitrary<T>) => fc.option(a, { nil: null });
		fc.assert(
			fc.property(
				fc.record({
					cost: fc.integer({ min: 0, max: 100_000 }),
					life: fc.integer({ min: 1, max: 60 }),
					in_service: on(45_600),
					method: fc.constantFrom('straight-line', 'sum-of-years', 'declining', 'declining-switch'),
					begins: fc.constantFrom('same-month', 'next-month', 'half-month'),
					sold: some(fc.integer({ min: 0, max: 1200 })),
					proceeds: some(fc.integer({ min: 0, max: 50_000 })),
					last_month: fc.constantFrom('charged', 'not charged'),
					books_at: some(fc.integer({ min: 0, max: 1500 })),
					share: fc.integer({ min: 0, max: 100 })
				}),
				({ share, sold, cost, in_service, books_at, ...given }) => {
					const after = (days: number | null) =>
						days === null ? null : toIsoDate(fromIsoDate(in_service)! + days);
					const row = asset({
						...given,
						in_service,
						cost,
						books_at: after(books_at),
						books: books_at === null ? null : (cost * share) / 100,
						sold: after(sold)
					});
					const { all } = schedule(ASSETS, [row], '2024-01', '2031-12');
					const [held, additions, disposals] = ['cost_held', 'additions', 'disposals'].map((l) => all(l));
					const [worn, charged, released] = ['accumulated', 'depreciation', 'released'].map((l) => all(l));
					const [gain, received] = ['gain', 'received'].map((l) => all(l));
					const near = (a: number, b: number) => expect(Math.abs(a - b)).toBeLessThan(1e-6);
					for (let t = 0; t < held.length; t++) {
						near((t ? held[t - 1] : 0) + additions[t] - disposals[t], held[t]);
						near((t ? worn[t - 1] : 0) + charged[t] - released[t], worn[t]);
						near(received[t] - (disposals[t] - released[t]), gain[t]);
					}
					if (sold === null) expect(sum(charged)).toBeLessThanOrEqual(cost + 1e-6);
				}
			),
			{ numRuns: 120 }
		);
	});
	it('of an unknown method are an error, not nothing', () => {
		const { at } = schedule(
			ASSETS,
			[asset({ cost: 1, life: 12, in_service: '2026-05-01', method: 'by feel' })],
			'2026-04',
			'2026-06'
		);
		expect(at('depreciation', '2026-05')).toBe('#VALUE!');
	});
});

describe('cohorts', () => {
	const first = calendar.parse('2027-01')!;
	const run = (formula: string, additions: number[], curve: number[] = [], length = additions.length) => {
		const seed = newMatrix(1, length);
		for (let t = 0; t < length; t++) setCell(seed, 0, t, additions[t] ?? 0);
		const ages = newMatrix(curve.length, length);
		curve.forEach((v, k) => {
			for (let t = 0; t < length; t++) setCell(ages, k, t, v);
		});
		const names: Names = {
			own: { code: 'm', dimensions: [], lines: [{ code: 'added', quantity: UNKNOWN }] },
			blocks: [{ code: 'curves', dimensions: ['age'], lines: [{ code: 'kept', quantity: plain }] }],
			accounts: [],
			money: NO_MONEY,
			dimensions: [],
			scenarios: []
		};
		const { expr, errors } = checkFormula(formula, names);
		if (!expr) throw new Error(errors[0].message);
		const c = new Calculation(axisOf(calendar, first, length, 0), [
			{
				id: 'curves',
				dimensions: ['age'],
				rows: curve.map((_, k) => [String(k)]),
				lines: [{ code: 'kept', additive: false, seed: ages }]
			},
			{
				id: 'm',
				dimensions: [],
				rows: [[]],
				lines: [
					{ code: 'added', additive: true, seed },
					{ code: 'base', additive: true, rules: [{ expr }] }
				]
			}
		]).calculate();
		return Array.from({ length }, (_, t) => c.cell('m', 'base', 0, first + t) as number);
	};
	const additions = [1000, 1200, 900, 1100];
	it('build up a base by their curve, written out or as a line by age', () => {
		const base = [1000, 2040, 2618, 3368];
		const round = (list: number[]) => list.map((v) => Math.round(v * 1e6) / 1e6);
		expect(round(run('cohort(added, 100%, 84%, 71%, 66%)', additions))).toEqual(base);
		expect(round(run('cohort(added, curves.kept)', additions, [1, 0.84, 0.71, 0.66]))).toEqual(base);
	});
	it('go on after the end of the curve as it says', () => {
		const of = (after: string) => run(`cohort(added, curves.kept, "${after}")`, [1000], [1, 0.8, 0.4], 6);
		expect(of('hold')).toEqual([1000, 800, 400, 400, 400, 400]);
		expect(of('decay')).toEqual([1000, 800, 400, 200, 100, 50]);
		expect(of('zero')).toEqual([1000, 800, 400, 0, 0, 0]);
	});
});

describe('templates', () => {
	it.each([STAFF, CONTRACTS, ASSETS])('hold nothing wrong: $code', (definition) => {
		const sources = { ...structure, dimensions: [], scenarios: new Set<string>() } as never;
		expect(scheduleFaults(definition, [], sources)).toEqual([]);
	});
});
