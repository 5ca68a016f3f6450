/** Types and units, completion at the caret, names that are written out. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkFormula, type Names } from './check';
import { completionsAt } from './complete';
import { date, plain, text, unitName, unitOf, UNKNOWN, type Quantity } from './units';

const money: Quantity = { kind: 'number', unit: { GBP: 1 } };
const months: Quantity = { kind: 'number', unit: { month: 1 } };
const quantities = (list: Record<string, Quantity>) =>
	Object.entries(list).map(([code, quantity]) => ({ code, quantity, label: code.toUpperCase() }));
const names: Names = {
	money: { reporting: 'GBP', local: 'GBP' },
	own: {
		code: 'm',
		dimensions: ['product', 'channel'],
		lines: quantities({
			revenue: money,
			cost: money,
			units: plain,
			share_sold: plain,
			life: months,
			start: date,
			method: text,
			anything: UNKNOWN,
			wage: { kind: 'number', unit: { GBP: 1, hour: -1 } },
			hours: { kind: 'number', unit: { hour: 1 } },
			monthly: { kind: 'number', unit: { GBP: 1, month: -1 } },
			dollars: { kind: 'number', unit: { USD: 1 } }
		})
	},
	blocks: [
		{ code: 'rates', dimensions: [], lines: quantities({ rise: plain, fee: money }) },
		{ code: 'curves', dimensions: ['product', 'age'], lines: quantities({ kept: plain }) }
	],
	accounts: quantities({ '4000': money }),
	dimensions: [
		{
			code: 'product',
			members: ['kayak', 'canoe'],
			retired: [],
			attributes: quantities({ family: text, launch: date, weight: plain })
		},
		{ code: 'channel', members: ['direct'], retired: [], attributes: [] },
		{ code: 'region', members: ['north'], retired: [], attributes: [] }
	],
	scenarios: ['budget']
};
const wrong = (formula: string, result?: Quantity) => {
	const [e] = checkFormula(formula, names, result).errors;
	return e ? `${formula.slice(e.span.from, e.span.to)} | ${e.message}` : '';
};

describe('units', () => {
	it.each([
		['revenue * share_sold', money],
		['revenue - cost * 1.05 + 100', money],
		['revenue / life', { kind: 'number', unit: { GBP: 1, month: -1 } }],
		['wage * hours', money],
		['monthly + revenue', money],
		// A number written out may be so much money a piece.
		['revenue - units * 12', money],
		['ratio(revenue, cost)', plain],
		['ratio(revenue, units)', money],
		['max(revenue, 0) + lag(cost, 12)', money],
		['if(units > 5, revenue, cost)', money],
		['start + 30', date],
		['start - product.launch', { kind: 'number', unit: { day: 1 } }],
		['active(start, none)', plain],
		['if(product.family = "boats", 1, 0)', plain],
		['share(revenue, channel) * at(revenue, product, "kayak")', money],
		['scenario("budget", account("4000")) - account("4000")', money],
		['cohort(units, curves.kept, "decay")', plain],
		['npv(10%, series(revenue))', money],
		['depreciation(method, cost, 0, life, start)', money],
		['revenue ^ 2', { kind: 'number', unit: { GBP: 2 } }]
	] as [string, Quantity][])('%s fits', (formula, result) => {
		expect(wrong(formula, result)).toBe('');
	});
	it.each([
		['revenue + life', 'revenue + life | This adds GBP and months. Bring both to one unit first.'],
		['revenue - units', 'revenue - units | This subtracts a plain number from GBP.'],
		['revenue + dollars', 'revenue + dollars | This adds GBP and USD.'],
		['revenue > life', 'revenue > life | This compares GBP with months.'],
		['if(units, revenue, life)', 'life | if puts GBP and months together.'],
		['sum(revenue, 1, life)', 'life | sum puts GBP and months together.'],
		['start * 2', 'start | A date cannot be multiplied.'],
		['start + product.launch', 'start + product.launch | Two dates cannot be added.'],
		['start + life', 'start + life | This adds months and a date; only days fit.'],
		['5 - start', '5 - start | A date cannot be subtracted from a number.'],
		['method + 1', 'method | Text cannot be calculated with.'],
		['method < "x"', 'method < "x" | Text is compared with = or <> alone.'],
		['active(revenue, none)', 'revenue | active wants a date here, not GBP: active(start, end)'],
		['year("x")', '"x" | year wants a date here, not text'],
		['round(revenue, start)', 'start | round wants a number here, not a date'],
		['-start', 'start | A date has no sign.'],
		['depreciation(1, 2, 3, 4, start)', '1 | depreciation wants text here']
	])('%s is refused', (formula, expected) => {
		expect(wrong(formula)).toContain(expected);
	});
	it('are those that the line is declared in', () => {
		expect(wrong('revenue * life', money)).toContain(
			'The line holds GBP, but the formula gives GBP × months.'
		);
		expect(wrong('anything * life', money)).toBe('');
		expect(wrong('12', money)).toBe('');
	});
	it.each([
		['GBP each, April 2026', 'price', 'GBP'],
		['GBP per hour', 'price', 'GBP per hour'],
		['USD/month', 'money', 'USD per month'],
		['money', 'money', 'GBP'],
		['', 'money', 'GBP'],
		['', 'number', 'a number'],
		['pieces', 'number', 'a plain number'],
		['of revenue', 'percent', 'a plain number'],
		['months', 'number', 'months'],
		['April 2026 = 1', 'price', 'a plain number']
	])('“%s” (%s) is %s', (typed, format, expected) => {
		expect(unitName(unitOf(typed, format, { reporting: 'GBP', local: 'GBP' }))).toBe(expected);
	});
});

describe('names written out', () => {
	it.each([
		['product.famly', 'famly | Members of “product” have no attribute “famly”. Did you mean “family”?'],
		['region.north', 'region | This model has no dimension “region”.'],
		['total(units, region)', 'region | A dimension is wanted here, one of product, channel.'],
		['at(units, product, "kayk")', '"kayk" | “product” has no member “kayk”. Did you mean “kayak”?'],
		['at(units, product, kayak)', 'kayak | The member stands in quotation marks'],
		['at(1, product, "kayak")', '1 | at takes a line'],
		[
			'scenario("budgit", units)',
			'"budgit" | There is no scenario “budgit” that can be read here. Did you mean “budget”?'
		],
		['scenario("budget", units + 1)', 'units + 1 | scenario takes a line or an account'],
		['scenario(units, units)', 'units | scenario takes a code in quotation marks'],
		['series(units)', 'series(units) | series() stands only in npv'],
		['cohort(units, curves.kept, "forever")', '"forever" | After the end of a curve comes'],
		['cohort(units, rates.rise)', 'rates.rise | A retention curve is a line of another model'],
		['cohort(units, "hold")', 'cohort(units, "hold") | cohort needs a curve'],
		['lead(units, 0)', '0 | The number of periods in lead'],
		['whole_life(whole_life(units))', 'whole_life(units) | whole_life() cannot stand inside another.'],
		['nothing', 'nothing | There is no line “nothing”']
	])('%s', (formula, expected) => {
		expect(wrong(formula)).toContain(expected);
	});
});

describe('completion', () => {
	/** Labels offered where the bar stands. */
	const at = (marked: string) => {
		const position = marked.indexOf('|');
		const found = completionsAt(marked.replace('|', ''), position, names);
		const options = found?.options ?? [];
		const unfit = options.filter((o) => !o.fits).map((o) => o.label);
		return { from: found?.from, labels: options.map((o) => o.label), unfit };
	};
	it('offers lines, attributes, lines of other models and functions', () => {
		const { from, labels } = at('2 * re|');
		expect(from).toBe(4);
		for (const label of ['revenue', 'product.weight', 'rates.rise', 'round']) expect(labels).toContain(label);
		expect(labels).not.toContain('region.north');
	});
	it('knows what fits: dates for a date, the same unit after a sum', () => {
		const dates = at('active(|').labels;
		expect(dates).toContain('start');
		expect(dates).toContain('product.launch');
		expect(dates).toContain('edate');
		expect(dates).not.toContain('revenue');
		// What does not fit comes last: it may begin a product that does.
		const sums = at('revenue + |');
		for (const label of ['cost', 'anything']) expect(sums.labels).toContain(label);
		for (const label of ['life', 'units']) expect(sums.unfit).toContain(label);
		expect(sums.unfit).not.toContain('cost');
		expect(sums.labels.indexOf('life')).toBeGreaterThan(sums.labels.indexOf('cost'));
		expect(sums.labels).not.toContain('start');
		expect(at('revenue * |').labels).toContain('life');
	});
	it('offers what is written out where it is', () => {
		expect(at('account("4|').labels).toEqual(['4000']);
		expect(at('scenario(|').labels).toEqual(['budget']);
		expect(at('at(units, |').labels).toEqual(['product', 'channel']);
		expect(at('at(units, product, "|').labels).toEqual(['kayak', 'canoe']);
		expect(at('total(units, product, |').labels).toEqual(['channel']);
		expect(at('depreciation("s|').labels).toContain('straight-line');
		expect(at('lag(units, |').labels).toEqual([]);
		expect(at('if(method = "a|').from).toBeUndefined();
	});
	it('never fails, whatever stands there', () => {
		fc.assert(
			fc.property(
				fc.oneof(
					fc.string({ maxLength: 60 }),
					fc
						.array(
							fc.constantFrom('if(', 'revenue', ',', ' + ', '(', ')', '"', 'at(', 'start', '.', '1', '*'),
							{
								maxLength: 30
							}
						)
						.map((parts) => parts.join(''))
				),
				fc.nat(60),
				(formula, place) => {
					expect(() => completionsAt(formula, Math.min(place, formula.length), names)).not.toThrow();
					expect(() => checkFormula(formula, names)).not.toThrow();
				}
			),
			{ numRuns: 2000 }
		);
	});
	it('types deeply nested formulas without repeating itself', () => {
		let formula = 'revenue';
		for (let i = 0; i < 90; i++) formula = `min(${formula}, cost)`;
		expect(wrong(formula, money)).toBe('');
	});
});
