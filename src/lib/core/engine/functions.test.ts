/** Functions that spreadsheets have too, against a spreadsheet engine of another making, on generated arguments. */
import * as fc from 'fast-check';
import { HyperFormula } from 'hyperformula';
import { afterAll, describe, expect, it } from 'vitest';
import { parseFormula } from '../formula/parse';
import { bareAxis } from './axis';
import { Calculation } from './calculation';
import { newMatrix, setCell, type Cell } from './values';

const sheet = HyperFormula.buildFromArray([[null, null, null, null]], {
	licenseKey: 'gpl-v3',
	precisionRounding: 14
});
afterAll(() => sheet.destroy());

const axis = bareAxis(1);
const input = (value: number) => {
	const m = newMatrix(1, 1);
	setCell(m, 0, 0, value);
	return m;
};
function ours(formula: string, a: number, b: number, c: number): Cell {
	const lines = Object.entries({ a, b, c }).map(([code, v]) => ({ code, additive: true, seed: input(v) }));
	const rule = { code: 'x', additive: true, rules: [{ from: 0, expr: parseFormula(formula).expr! }] };
	return new Calculation(axis, [{ id: 'm', dimensions: [], rows: [[]], lines: [...lines, rule] }])
		.calculate()
		.cell('m', 'x', 0, 0);
}
function theirs(formula: string, a: number, b: number, c: number): unknown {
	const cells = formula.replace(/\b([abc])\b/g, (name) => ({ a: 'A1', b: 'B1', c: 'C1' })[name as 'a']);
	sheet.setCellContents({ sheet: 0, row: 0, col: 0 }, [[a, b, c, `=${cells}`]]);
	const value = sheet.getCellValue({ sheet: 0, row: 0, col: 3 });
	return typeof value === 'object' && value !== null
		? value.value
		: typeof value === 'boolean'
			? Number(value)
			: value;
}

const amount = fc.double({ min: -1e6, max: 1e6, noNaN: true }).map((v) => Math.round(v * 100) / 100 + 0);
const small = fc.integer({ min: -6, max: 6 });
const positive = fc.double({ min: 0.01, max: 1e4, noNaN: true });

describe.each([
	['a + b * c - a / b', amount, amount, amount],
	['-a ^ 2', small, small, small],
	['a ^ b', positive.map((v) => v / 1e3), small, small],
	['a%', amount, amount, amount],
	// Of negatives int is the next lower whole number, as OpenFormula has it; the other engine cuts them off.
	['abs(a) + int(abs(b))', amount, amount, amount],
	['mod(a, b)', small, small, small],
	['power(a, b)', positive.map((v) => v / 1e3), small, small],
	['sqrt(a) + ln(b)', positive, positive, small],
	['exp(a)', small, small, small],
	['round(a, b)', amount, fc.integer({ min: -3, max: 2 }), small],
	['roundup(a, b)', amount, fc.integer({ min: -3, max: 1 }), small],
	['rounddown(a, b)', amount, fc.integer({ min: -3, max: 1 }), small],
	['min(a, b, c) + max(a, b, c)', amount, amount, amount],
	['sum(a, b, c)', amount, amount, amount],
	['if(a > b, a, c)', small, small, small],
	['if(and(a > 0, b > 0), 1, if(or(a < 0, not(c = 0)), 2, 3))', small, small, small],
	['(a <> b) + (a <= b) + (a >= b)', small, small, small],
	['a / (b - b)', amount, amount, amount],
	['sqrt(a)', small, small, small]
] as const)('%s', (formula, a, b, c) => {
	it('is the same for 200 sets of arguments', () => {
		fc.assert(
			fc.property(a, b, c, (x, y, z) => {
				const [mine, other] = [ours(formula, x, y, z), theirs(formula, x, y, z)];
				if (typeof mine === 'number' && typeof other === 'number')
					expect(Math.abs(mine - other)).toBeLessThanOrEqual(1e-9 * Math.max(1, Math.abs(other)));
				else expect(mine).toBe(other);
			}),
			{ numRuns: 200 }
		);
	});
});
