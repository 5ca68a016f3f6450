/** Functions that spreadsheets have too, against a spreadsheet engine of another making, on generated arguments. */
import * as fc from 'fast-check';
import { HyperFormula } from 'hyperformula';
import { afterAll, describe, expect, it } from 'vitest';
import { fromSerial } from '../calendar/dates';
import { FUNCTIONS } from '../formula/functions';
import { parseFormula } from '../formula/parse';
import { bareAxis } from './axis';
import { Calculation } from './calculation';
import { newMatrix, setCell, type Cell } from './values';

const NAMES = ['a', 'b', 'c', 'd', 'e', 'f'] as const;
const sheet = HyperFormula.buildFromArray([[null]], {
	licenseKey: 'gpl-v3',
	precisionRounding: 14,
	// As in our files: 30 December 1899 is day 0.
	nullDate: { year: 1899, month: 12, day: 30 }
});
afterAll(() => sheet.destroy());

const axis = bareAxis(1);
function ours(formula: string, args: readonly (number | null)[]): Cell {
	const lines = NAMES.map((code, i) => {
		const seed = newMatrix(1, 1);
		setCell(seed, 0, 0, args[i] ?? null);
		return { code, additive: true, seed };
	});
	const rule = { code: 'x', additive: true, rules: [{ expr: parseFormula(formula).expr! }] };
	return new Calculation(axis, [{ id: 'm', dimensions: [], rows: [[]], lines: [...lines, rule] }])
		.calculate()
		.cell('m', 'x', 0, 0);
}
/** Amounts on days, each in a period of its own. */
function dated(amounts: readonly number[], days: readonly number[], rate: number) {
	const line = (code: string, values: readonly number[]) => {
		const seed = newMatrix(1, values.length);
		values.forEach((v, t) => setCell(seed, 0, t, v));
		return { code, additive: true, seed };
	};
	const rule = (code: string, formula: string) => ({
		code,
		additive: true,
		rules: [{ expr: parseFormula(formula).expr! }]
	});
	const c = new Calculation(bareAxis(amounts.length), [
		{
			id: 'm',
			dimensions: [],
			rows: [[]],
			lines: [
				line('a', amounts),
				line('d', days),
				rule('n', `xnpv(${rate}, series(a), series(d))`),
				rule('r', 'xirr(series(a), series(d))')
			]
		}
	]).calculate();
	return { xnpv: c.cell('m', 'n', 0, 0) as number, xirr: c.cell('m', 'r', 0, 0) };
}
function theirs(formula: string, args: readonly (number | null)[]): unknown {
	const cells = formula.replace(/\b([a-f])\b/g, (name) => `${name.toUpperCase()}1`);
	const row = NAMES.map((_, i) => args[i] ?? null);
	sheet.setCellContents({ sheet: 0, row: 0, col: 0 }, [[...row, `=${cells}`]]);
	const value = sheet.getCellValue({ sheet: 0, row: 0, col: NAMES.length });
	if (typeof value === 'object' && value !== null) return value.value;
	return typeof value === 'boolean' ? Number(value) : value;
}

const number = (min: number, max: number, digits = 2) =>
	fc.double({ min, max, noNaN: true }).map((v) => Math.round(v * 10 ** digits) / 10 ** digits + 0);
const whole = (min: number, max: number) => fc.integer({ min, max });
const amount = number(-1e6, 1e6);
const money = number(1, 1e5);
const small = whole(-6, 6);
const positive = fc.double({ min: 0.01, max: 1e4, noNaN: true });
const interest = number(0.001, 0.2, 4);
const years = whole(1, 40);
const due = whole(0, 1);
const day = whole(36526, 55000);
const notFebruarysEnd = day.filter((d) => fromSerial(d).month !== 2 || fromSerial(d + 1).month === 2);
const basis = whole(0, 4);
const orBlank = fc.option(amount, { freq: 4 });

type Case = [formula: string, ...args: fc.Arbitrary<number | null>[]];
const CASES: Case[] = [
	['a + b * c - a / b', amount, amount, amount],
	['-a ^ 2', small],
	['a ^ b', positive.map((v) => v / 1e3), small],
	['a%', amount],
	// Of negatives int is the next lower whole number, as OpenFormula has it; the other engine cuts them off.
	['abs(a) + int(abs(b))', amount, amount],
	['sign(a)', small],
	['mod(a, b)', small, small],
	['power(a, b)', positive.map((v) => v / 1e3), small],
	['sqrt(a) + ln(b)', positive, positive],
	['ln(a)', small],
	['log(a, 2) + log(b)', positive, positive],
	['exp(a)', small],
	['round(a, b)', amount, whole(-3, 2)],
	['roundup(a, b)', amount, whole(-3, 1)],
	['rounddown(a, b)', amount, whole(-3, 1)],
	['trunc(a, b)', amount, whole(-2, 1)],
	['mround(a, b)', whole(0, 500), whole(1, 30)],
	['ceiling(a, b)', number(0, 1e4, 1), whole(1, 30)],
	['floor(a, b)', number(0, 1e4, 1), whole(1, 30)],
	['min(a, b, c) + max(a, b, c)', orBlank, orBlank, orBlank],
	['sum(a, b, c)', orBlank, orBlank, orBlank],
	['average(a, b, c)', orBlank, orBlank, orBlank],
	['if(a > b, a, c)', small, small, small],
	['if(and(a > 0, b > 0), 1, if(or(a < 0, not(c = 0)), 2, 3))', small, small, small],
	['(a <> b) + (a <= b) + (a >= b)', small, small],
	['a / (b - b)', amount, amount],
	['sqrt(a)', small],
	['date(a, b, c)', whole(1950, 2090), whole(-5, 20), whole(-40, 60)],
	['year(a) * 10000 + month(a) * 100 + day(a)', day],
	// Of days that a month may lack see below: from 29 May, the other engine misses 29 February.
	['edate(a, b)', day.filter((d) => fromSerial(d).day <= 28), whole(-60, 60)],
	['eomonth(a, b)', day, whole(-60, 60)],
	['days(a, b)', day, day],
	// From the end of February to a 31st in 30/360 see below: the other engine counts that 31st.
	['yearfrac(a, b, c)', notFebruarysEnd, notFebruarysEnd, basis.filter((b) => b !== 1)],
	['pmt(a, b, c, d, e)', interest, years, amount, amount, due],
	['pmt(a - a, b, c)', interest, years, amount],
	['fv(a, b, c, d, e)', interest, years, amount, amount, due],
	['pv(a, b, c, d, e)', interest, years, amount, amount, due],
	['nper(a, b, c, d, e)', interest, money.map((v) => -v), money.map((v) => v / 10), whole(0, 1), due],
	['ipmt(a, b, c, d, e, f)', interest, whole(1, 12), whole(12, 40), money, amount, due],
	['ppmt(a, b, c, d, e, f)', interest, whole(1, 12), whole(12, 40), money, amount, due],
	['npv(a, b, c, d)', interest, amount, amount, amount],
	['sln(a, b, c)', money, money, years],
	['syd(a, b, c, d)', money, money, whole(5, 20), whole(1, 5)],
	['ddb(a, b, c, d)', money, number(0, 1), whole(3, 20), whole(1, 3)],
	['ddb(a, b, c, d, e)', money, number(0, 1), whole(5, 20), whole(1, 5), number(1, 2.5)],
	['db(a, b, c, d)', money, number(1, 50), whole(3, 15), whole(1, 3)],
	['db(a, b, c, d, e)', money, number(1, 50), whole(3, 15), whole(1, 4), whole(1, 12)]
];

/** Two orders of the same arithmetic differ by what cancels out: little beside the arguments. */
function expectSame(formula: string, args: readonly (number | null)[]) {
	const [mine, other] = [ours(formula, args), theirs(formula, args)];
	if (typeof mine === 'number' && typeof other === 'number') {
		const size = Math.max(1, ...args.map((a) => Math.abs(a ?? 0)));
		expect(Math.abs(mine - other), `${formula} of ${args}: ${mine}, ${other}`).toBeLessThanOrEqual(
			1e-9 * Math.max(1, Math.abs(other)) + 1e-11 * size
		);
	} else expect(mine, `${formula} of ${args}`).toBe(other);
}

describe.each(CASES)('%s', (formula, ...args) => {
	it('is the same for 200 sets of arguments', () => {
		fc.assert(
			fc.property(fc.tuple(...args), (given) => expectSame(formula, given)),
			// The message names the arguments; making them smaller takes longer than it helps.
			{ numRuns: 200, endOnFailure: true }
		);
	});
});

describe('rates of return', () => {
	/** Money out first, then enough of it back that a rate exists. */
	const flows = fc.tuple(
		number(-1000, -100),
		number(60, 400),
		number(60, 400),
		number(60, 400),
		number(60, 400)
	);
	it('are those of the other engine for amounts a period apart', () => {
		fc.assert(
			fc.property(flows, ([a, ...back]) => {
				const rate = ours('irr(a, b, c, d, e)', [a, ...back]) as number;
				sheet.setCellContents({ sheet: 0, row: 0, col: 0 }, [[a, ...back, '=IRR(A1:E1)']]);
				const other = sheet.getCellValue({ sheet: 0, row: 0, col: 5 });
				expect(other).toEqual(expect.any(Number));
				expect(rate).toBeCloseTo(other as number, 6);
			}),
			{ numRuns: 200 }
		);
	});
	it('and present values are those of the other engine for dated amounts', () => {
		const gaps = fc.tuple(whole(60, 500), whole(60, 500), whole(60, 500));
		// More comes back than went out; a loss of nearly all within days has no rate here.
		const gains = flows.filter(([a, b, c, d]) => a + b + c + d > 0);
		fc.assert(
			fc.property(gains, gaps, interest, day, ([a, b, c, d], [x, y, z], r, start) => {
				const amounts = [a, b, c, d];
				const days = [start, start + x, start + x + y, start + x + y + z];
				const { xnpv: mine, xirr: rate } = dated(amounts, days, r);
				sheet.setCellContents({ sheet: 0, row: 0, col: 0 }, [
					[...amounts, `=XNPV(${r},A1:D1,A2:D2)`, '=XIRR(A1:D1,A2:D2)'],
					days
				]);
				const other = (col: number) => sheet.getCellValue({ sheet: 0, row: 0, col });
				expect(mine).toBeCloseTo(other(4) as number, 6);
				// Where the other engine gives up, the rate must make the present value 0.
				const theirRate = other(5);
				if (typeof theirRate === 'number')
					expect(Math.abs((rate as number) / theirRate - 1)).toBeLessThan(1e-6);
				else if (typeof rate === 'number') expect(dated(amounts, days, rate).xnpv).toBeCloseTo(0, 4);
			}),
			{ numRuns: 200 }
		);
	});
	it.each([
		['irr(1, 2)', '#NUM!'],
		['irr(-100, 110)', 0.1],
		['npv(-1, 5)', '#DIV/0!'],
		// A project's value now: the first amount is not discounted.
		['round(-50000 + npv(10%, 15000, 15000, 15000, 15000, 15000), 2)', 6861.8]
	])('%s is %s', (formula, expected) => {
		const got = ours(formula, []);
		if (typeof expected === 'number') expect(got).toBeCloseTo(expected, 9);
		else expect(got).toBe(expected);
	});
});

it('finds the rate of any annuity, where the other engine gives up on some', () => {
	fc.assert(
		fc.property(whole(3, 60), number(-0.05, 0.4, 4), due, (n, r, when) => {
			const payment = ours('pmt(a, b, 1000, 0, c)', [r, n, when]) as number;
			expect(ours('rate(a, b, 1000, 0, c)', [n, payment, when])).toBeCloseTo(r, 7);
		}),
		{ numRuns: 200 }
	);
});

describe('values known from elsewhere', () => {
	it.each([
		// Declining balance with and without the switch to straight-line, in parts of periods.
		['vdb(2400, 300, 3650, 0, 1)', 1.32],
		['vdb(2400, 300, 120, 0, 1)', 40],
		['vdb(2400, 300, 10, 0, 1)', 480],
		['vdb(2400, 300, 120, 6, 18)', 396.31],
		['vdb(2400, 300, 120, 6, 18, 1.5)', 311.81],
		['vdb(2400, 300, 10, 0, 0.875, 1.5)', 315],
		['vdb(10000, 1000, 5, 3, 4, 2, 1)', 864],
		// Absurd arguments are refused, not gone through one by one.
		['vdb(100000, 0, 1e15, 0, 1e15)', '#NUM!'],
		['db(100000, 1, 1e15, 1e15)', 0],
		['depreciation("declining-switch", 100000, 0, 1e15, -1e12)', '#VALUE!'],
		['renewing(-1e12, -1e12, 0.1)', '#VALUE!'],
		['yearfrac(1e12, 2e12)', '#VALUE!'],
		['edate(1, 1e300)', '#NUM!'],
		['syd(33000, 3000, 5, 1)', 10000],
		['syd(33000, 3000, 5, 5)', 2000],
		['ddb(10000, 1000, 5, 5)', 296],
		['yearfrac(date(2026, 1, 1), date(2027, 1, 1), 1)', 1],
		['yearfrac(date(2024, 1, 1), date(2024, 7, 1), 1)', 182 / 366],
		['yearfrac(date(2023, 3, 1), date(2026, 3, 1), 1)', 1096 / 365.25],
		// The last day of February counts as a 30th, and a 31st after a 30th as one too.
		['yearfrac(date(2030, 2, 28), date(2050, 7, 31), 0) * 360', 20 * 360 + 5 * 30],
		['yearfrac(date(2028, 2, 29), date(2029, 2, 28), 0)', 1],
		['edate(date(2022, 5, 29), 21) - date(2024, 2, 29)', 0],
		['edate(date(2026, 1, 31), 1) - date(2026, 2, 28)', 0],
		['rate(5, -100, 500)', 0],
		['xnpv(10%, a, b)', 100],
		['int(-1.5)', -2],
		['ceiling(-2.5)', -2],
		['floor(-2.5)', -3],
		['mround(-7, 3)', '#NUM!'],
		['mround(7, 3)', 6],
		['trunc(-2.79, 1)', -2.7],
		['log(-1)', '#NUM!'],
		['year(-1)', '#VALUE!'],
		['average(c, d)', '#DIV/0!'],
		['syd(1, 0, 5, 6)', '#NUM!'],
		['sln(1, 0, 0)', '#DIV/0!']
	])('%s is %s', (formula, expected) => {
		const got = ours(formula, [100, 46000]);
		if (typeof expected === 'number') expect(got).toBeCloseTo(expected, 2);
		else expect(got).toBe(expected);
	});
});

it('runs every function of the catalogue, or names it where it is refused', () => {
	const written: Record<string, string> = {
		account: '',
		scenario: '',
		series: '',
		total: 'total(a)',
		share: 'share(a)',
		at: '',
		depreciation: 'depreciation("straight-line", 120, 0, 12, 1)',
		cohort: 'cohort(a, 1, 0.5)',
		lag: 'lag(a, 1)',
		lead: 'lead(a, 1)',
		trailing: 'trailing(a, 2)',
		run_rate: 'run_rate(a, 2)',
		xnpv: 'xnpv(0.1, a, b)',
		xirr: 'xirr(a, b)'
	};
	for (const [name, { min }] of FUNCTIONS) {
		const formula = written[name] ?? `${name}(${NAMES.slice(0, min).join(', ')})`;
		if (formula) expect(() => ours(formula, [3, 2, 5, 1, 1, 1]), name).not.toThrow();
	}
});
