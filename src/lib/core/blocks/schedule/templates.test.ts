/** Staff, contracts, assets and cohorts, month by month, with the figures of the rules of calculation. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../../calendar/calendar';
import { fromIsoDate } from '../../calendar/dates';
import { axisOf } from '../../engine/axis';
import { Calculation } from '../../engine/calculation';
import type { BlockSpec, LineSpec } from '../../engine/spec';
import { textCode } from '../../engine/texts';
import { newColumn, newMatrix, setCell, type Cell } from '../../engine/values';
import { checkFormula, type BlockNames, type Names } from '../../formula/check';
import { date, plain, text, UNKNOWN, unitOf, type Quantity, NO_MONEY } from '../../formula/units';
import type { ScheduleColumn as TemplateColumn } from './schema';
import { SCHEDULE_TEMPLATES } from './templates';

interface ScheduleColumn {
	code: string;
	kind: 'money' | 'share' | 'number' | 'date' | 'text' | 'truth';
	/** Of a number, or of money per something. */
	unit?: Quantity;
}
interface ScheduleLine {
	code: string;
	kind: 'money' | 'share' | 'number';
	formula?: string;
}
interface ScheduleForm {
	code: string;
	columns: readonly ScheduleColumn[];
	lines: readonly ScheduleLine[];
}
/** A template in this test's own terms, so that it is calculated by the engine alone. */
function formOf(template: string): ScheduleForm {
	const { code, form } = SCHEDULE_TEMPLATES.find((t) => t.code === template)!;
	const kindOf = (kind: TemplateColumn['kind']): ScheduleColumn['kind'] =>
		kind === 'percent'
			? 'share'
			: kind === 'yes-no'
				? 'truth'
				: kind === 'money' || kind === 'number' || kind === 'date'
					? kind
					: 'text';
	return {
		code,
		columns: form.columns.map(({ code: column, kind, unit }) => ({
			code: column,
			kind: kindOf(kind),
			...(unit ? { unit: unitOf(unit.startsWith('per') ? `GBP ${unit}` : unit, 'number', NO_MONEY) } : {})
		})),
		lines: form.lines.map(({ code: line, format, unit, formula }) => ({
			code: line,
			kind: format === 'money' ? 'money' : format === 'percent' ? 'share' : 'number',
			...(unit ? { unit: unitOf(unit, 'number', NO_MONEY) } : {}),
			...(formula ? { formula } : {})
		}))
	};
}
const [STAFF, CONTRACTS, ASSETS] = ['people', 'contracts', 'assets'].map(formOf);

const calendar = monthCalendar(4);
const money: Quantity = { kind: 'number', unit: { GBP: 1 } };
const quantity = ({
	kind,
	unit
}: {
	kind: ScheduleColumn['kind'];
	unit?: ScheduleColumn['unit'];
}): Quantity =>
	unit ??
	(kind === 'money'
		? money
		: kind === 'date'
			? date
			: kind === 'text'
				? text
				: kind === 'number'
					? UNKNOWN
					: plain);
const block = (form: ScheduleForm, dimensions: string[]): BlockNames => ({
	code: form.code,
	dimensions,
	lines: [...form.columns, ...form.lines].map((c) => ({ code: c.code, quantity: quantity(c) }))
});

type Value = number | string | boolean | null;
interface Row {
	columns: Record<string, Value>;
	/** Typed months: line → period key → value. */
	typed?: Record<string, Record<string, number>>;
}

function blockSpec(
	form: ScheduleForm,
	dimensions: string[],
	rows: string[][],
	given: Row[],
	first: number,
	length: number
): BlockSpec {
	const names: Names = {
		own: block(form, dimensions),
		blocks: [],
		accounts: [],
		money: NO_MONEY,
		dimensions: dimensions.map((code) => ({ code, members: [], retired: [], attributes: [] })),
		scenarios: []
	};
	const number = (v: Value): number | null =>
		typeof v === 'boolean' ? Number(v) : typeof v !== 'string' ? v : (fromIsoDate(v) ?? textCode(v));
	const lines: LineSpec[] = form.columns.map((c) => ({
		code: c.code,
		additive: false,
		seed: newColumn(given.map((r) => number(r.columns[c.code] ?? null)))
	}));
	for (const line of form.lines) {
		if (line.formula) {
			const { expr, errors } = checkFormula(line.formula, names, quantity(line));
			if (!expr) throw new Error(`${form.code}.${line.code}: ${errors[0].message}`);
			lines.push({ code: line.code, additive: true, rules: [{ expr }] });
			continue;
		}
		const seed = newMatrix(rows.length, length);
		given.forEach((row, r) => {
			for (let t = 0; t < length; t++)
				setCell(seed, r, t, row.typed?.[line.code]?.[calendar.key(first + t)] ?? null);
		});
		lines.push({ code: line.code, additive: true, seed });
	}
	return { id: form.code, dimensions, rows, lines };
}

/** A schedule of one row per given row, from one month to another. */
function schedule(form: ScheduleForm, given: Row[], from: string, to: string) {
	const first = calendar.parse(from)!;
	const length = calendar.parse(to)! - first + 1;
	const rows = given.map((_, i) => [String(i)]);
	const calculation = new Calculation(axisOf(calendar, first, length, 0), [
		blockSpec(form, ['row'], rows, given, first, length)
	]).calculate();
	const at = (line: string, month: string, row = 0): Cell =>
		calculation.cell(form.code, line, row, calendar.parse(month)!);
	const all = (line: string, row = 0) =>
		Array.from({ length }, (_, t) => calculation.cell(form.code, line, row, first + t) as number);
	return { at, all };
}
const sum = (list: number[]) => list.reduce((a, b) => a + b, 0);

describe('active share', () => {
	it('is the part of a month from start to end', () => {
		const contract = { columns: { amount: 1, start: '2027-03-16', end: '2027-05-31' } };
		const { all } = schedule(
			{ ...CONTRACTS, lines: [{ code: 'x', kind: 'share', formula: 'active(start, end)' }] },
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
			columns: { amount: 9_600, start: '2027-03-16', end: '2028-03-15' },
			typed: { paid: { '2027-03': 9_600 } }
		};
		const { at, all } = schedule(CONTRACTS, [contract], '2027-01', '2028-06');
		expect(at('term', '2027-03')).toBe(12);
		expect(at('cost', '2027-03')).toBeCloseTo(412.9, 2);
		expect(at('cost', '2028-03')).toBeCloseTo(387.1, 2);
		expect(sum(all('cost'))).toBeCloseTo(9_600, 9);
		expect(at('prepaid', '2027-03')).toBeCloseTo(9_187.1, 2);
		expect(at('prepaid', '2028-06')).toBeCloseTo(0, 9);
	});
	it('cost their amount whatever the dates and whatever months are shown', () => {
		const day = fc.integer({ min: 46_000, max: 47_500 });
		fc.assert(
			fc.property(day, fc.integer({ min: 0, max: 900 }), (start, length) => {
				const seed: Row = { columns: { amount: 1000, start, end: start + length } };
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
