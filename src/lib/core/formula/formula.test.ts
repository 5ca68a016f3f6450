import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FORMULA_LIMITS, print, type Expr } from './ast';
import { checkFormula, type Names } from './check';
import { parseFormula } from './parse';
import { NO_MONEY, UNKNOWN } from './units';

const lines = (...codes: string[]) => codes.map((code) => ({ code, quantity: UNKNOWN }));
const names: Names = {
	own: { code: 'sales', dimensions: ['product', 'channel'], lines: lines('units', 'price', 'discount') },
	blocks: [{ code: 'assumptions', dimensions: [], lines: lines('price_rise', 'index') }],
	accounts: lines('4000', '5000'),
	dimensions: [],
	money: NO_MONEY,
	scenarios: ['budget']
};
/** The first mistake: its words and the text it points at. */
function mistake(text: string) {
	const { errors } = checkFormula(text, names);
	const [e] = errors;
	return e ? `${text.slice(e.span.from, e.span.to)} | ${e.message}` : 'none';
}

describe('mistakes are named at their place', () => {
	it.each([
		['', ' | The formula is empty.'],
		['units *', '* | The formula ends too early: something is missing after “*”.'],
		['(units + 1', '1 | A closing bracket “)” is missing.'],
		['units + )', ') | There is no opening bracket'],
		['units price', 'price | An operator such as + or * is missing before “price”.'],
		['units * * price', '* | A value is missing before “*”.'],
		['unitz * price', 'unitz | There is no line “unitz” here. Did you mean “units”?'],
		[
			'price_rise * 2',
			'price_rise | There is no line “price_rise” here. Did you mean assumptions.price_rise?'
		],
		['assumption.index', 'assumption | There is no model “assumption”. Did you mean “assumptions”?'],
		['assumptions.indx', 'indx | The model “assumptions” has no line “indx”. Did you mean “index”?'],
		['rund(units)', 'rund | There is no function “rund”. Did you mean “round”?'],
		['ratio(units)', 'ratio(units) | ratio takes 2 to 3 arguments, here are 1: ratio(a, b, else)'],
		['lag(units, price)', 'price | The number of periods in lag is a whole number'],
		['lag(units, 0)', '0 | The number of periods in lag is a whole number'],
		[
			'account("4001")',
			'"4001" | There is no planning account “4001” that takes figures. Did you mean “4000”?'
		],
		['account(4000)', '4000 | account takes a code in quotation marks'],
		['units + "a"', '"a" | Text cannot be calculated with.']
	])('%s', (text, expected) => {
		expect(mistake(text)).toContain(expected);
	});
	it('finds several at once', () => {
		expect(checkFormula('unitz + pryce', names).errors).toHaveLength(2);
	});
	it('accepts what is right', () => {
		for (const text of [
			'=units * price * (1 - discount)',
			'IF(units > 0, price, 0)',
			'account("4000") / 12',
			'50%',
			'-units^2',
			'.5e3',
			'lag(units, 12)'
		])
			expect(mistake(text)).toBe('none');
	});
	it('bounds length and nesting with a clear word instead of failing', () => {
		expect(mistake('1+'.repeat(FORMULA_LIMITS.length) + '1')).toContain('at most 4000 are allowed');
		expect(mistake('('.repeat(500) + '1' + ')'.repeat(500))).toContain('nested');
		expect(mistake('-'.repeat(500) + '1')).toContain('nested');
		expect(mistake('1' + '+1'.repeat(1900))).toContain('at most 250 are allowed');
		expect(mistake('1' + '+1'.repeat(250))).toBe('none');
	});
});

describe('parsing and printing', () => {
	const leaf: fc.Arbitrary<string> = fc.oneof(
		fc.constantFrom('units', 'price', 'assumptions.index', 'account("4000")'),
		fc.nat(1000).map(String),
		fc.double({ min: 0.001, max: 1000, noNaN: true }).map((v) => String(v))
	);
	const formula = fc.letrec<{ e: string }>((tie) => ({
		e: fc.oneof(
			{ depthSize: 'small', withCrossShrink: true },
			leaf,
			fc
				.tuple(tie('e'), fc.constantFrom('+', '-', '*', '/', '^', '=', '<>', '<', '<=', '>', '>='), tie('e'))
				.map(([a, op, b]) => `${a} ${op} ${b}`),
			tie('e').map((a) => `(${a})`),
			tie('e').map((a) => `-(${a})`),
			tie('e').map((a) => `(${a})%`),
			fc.tuple(tie('e'), tie('e'), tie('e')).map(([a, b, c]) => `if(${a}, ${b}, ${c})`)
		)
	})).e;
	const bare = (e: Expr): unknown =>
		JSON.parse(JSON.stringify(e, (key, value) => (key === 'span' ? undefined : value)));

	it('is stable: what is printed parses to the same', () => {
		fc.assert(
			fc.property(formula, (text) => {
				const once = parseFormula(text);
				expect(once.errors).toEqual([]);
				const again = parseFormula(print(once.expr!));
				expect(bare(again.expr!)).toEqual(bare(once.expr!));
			}),
			{ numRuns: 300 }
		);
	});
	it('never throws, whatever is typed', () => {
		const scraps = fc.array(
			fc.constantFrom('(', ')', '+', '*', ',', '"', '.', '%', '=', 'units', '1', ' ', '<', 'if', '¤', '\n'),
			{ maxLength: 40 }
		);
		fc.assert(
			fc.property(
				fc.oneof(
					fc.string(),
					scraps.map((s) => s.join(''))
				),
				(text) => checkFormula(text, names) !== null
			),
			{ numRuns: 500 }
		);
	});
	it('follows the standard: signs bind before powers, powers from the left', () => {
		const p = (t: string) => print(parseFormula(t).expr!);
		expect(p('1+2*3')).toBe('1 + 2 * 3');
		expect(p('(1+2)*3')).toBe('(1 + 2) * 3');
		expect(p('a-(b-c)')).toBe('a - (b - c)');
		expect(p('2^3^2')).toBe('2 ^ 3 ^ 2');
	});
});
