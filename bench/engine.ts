/** The engine on a plan of rows × months × 5 formula lines, against hand-written loops and against a spreadsheet engine. */
import { HyperFormula, type RawCellContent } from 'hyperformula';
import { bareAxis } from '../src/lib/core/engine/axis';
import { Calculation } from '../src/lib/core/engine/calculation';
import { newMatrix, type Matrix } from '../src/lib/core/engine/values';
import { parseFormula } from '../src/lib/core/formula/parse';
import { median, report } from './measure';

const FORMULAS: Record<string, string> = {
	price: 'if_first',
	revenue: 'units * price',
	cost: 'units * unit_cost',
	profit: 'revenue - cost',
	margin: 'ratio(profit, revenue)'
};

interface Inputs {
	rows: number;
	months: number;
	units: Float64Array;
	unitCost: Float64Array;
	basePrice: Float64Array;
	rise: Float64Array;
}

/** Deterministic made-up inputs, laid out one month after another. */
export function inputs(rows: number, months: number): Inputs {
	let seed = 12345;
	const random = () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648;
	const fill = (n: number, low: number, high: number) =>
		Float64Array.from({ length: n }, () => low + random() * (high - low));
	const basePrice = new Float64Array(rows * months);
	basePrice.set(fill(rows, 50, 500));
	return {
		rows,
		months,
		units: fill(rows * months, 1, 100),
		unitCost: fill(rows * months, 20, 200),
		basePrice,
		rise: fill(months, 0, 0.01)
	};
}

const matrix = (rows: number, periods: number, values: Float64Array): Matrix => ({
	...newMatrix(0, 0),
	rows,
	periods,
	values
});

export function model(given: Inputs): Calculation {
	const { rows, months } = given;
	const axis = bareAxis(months);
	const expr = (text: string) => parseFormula(text).expr!;
	const formula = (code: string, text: string) => ({
		code,
		additive: true,
		rules: [{ from: 0, expr: expr(text) }]
	});
	return new Calculation(axis, [
		{
			id: 'rates',
			dimensions: [],
			rows: [[]],
			lines: [{ code: 'rise', additive: true, seed: matrix(1, months, given.rise) }]
		},
		{
			id: 'm',
			dimensions: ['product'],
			rows: Array.from({ length: rows }, (_, i) => [`p${i}`]),
			lines: [
				{ code: 'units', additive: true, seed: matrix(rows, months, given.units) },
				{ code: 'unit_cost', additive: true, seed: matrix(rows, months, given.unitCost) },
				{ code: 'base', additive: true, seed: matrix(rows, months, given.basePrice) },
				formula('price', 'base + lag(price, 1) * (1 + rates.rise)'),
				formula('revenue', FORMULAS.revenue),
				formula('cost', FORMULAS.cost),
				formula('profit', FORMULAS.profit),
				formula('margin', FORMULAS.margin)
			]
		}
	]);
}

/** The same arithmetic in plain loops. */
export function byHand(g: Inputs) {
	const n = g.rows * g.months;
	const price = new Float64Array(n);
	const revenue = new Float64Array(n);
	const cost = new Float64Array(n);
	const profit = new Float64Array(n);
	const margin = new Float64Array(n);
	const { rows, months, units, unitCost, basePrice, rise } = g;
	return {
		price,
		margin,
		run() {
			for (let r = 0; r < rows; r++) price[r] = basePrice[r];
			for (let t = 1; t < months; t++) {
				const f = 1 + rise[t];
				for (let r = 0, i = t * rows; r < rows; r++, i++) price[i] = basePrice[i] + price[i - rows] * f;
			}
			for (let i = 0; i < n; i++) revenue[i] = units[i] * price[i];
			for (let i = 0; i < n; i++) cost[i] = units[i] * unitCost[i];
			for (let i = 0; i < n; i++) profit[i] = revenue[i] - cost[i];
			for (let i = 0; i < n; i++) margin[i] = revenue[i] === 0 ? 0 : profit[i] / revenue[i];
		}
	};
}

function spreadsheet(g: Inputs) {
	// One sheet row per product and month: units, unit cost, base, price, revenue, cost, profit, margin; rises on a sheet of their own.
	const sheet: RawCellContent[][] = [];
	for (let r = 0; r < g.rows; r++)
		for (let t = 0; t < g.months; t++) {
			const line = sheet.length + 1;
			const i = t * g.rows + r;
			const price = t === 0 ? `=C${line}` : `=C${line}+D${line - 1}*(1+Rates!A${t + 1})`;
			sheet.push([
				g.units[i],
				g.unitCost[i],
				g.basePrice[i],
				price,
				`=A${line}*D${line}`,
				`=A${line}*B${line}`,
				`=E${line}-F${line}`,
				`=G${line}/E${line}`
			]);
		}
	const hf = HyperFormula.buildFromSheets(
		{ Rates: Array.from(g.rise, (v) => [v]), Plan: sheet },
		{ licenseKey: 'gpl-v3', maxRows: sheet.length + 10 }
	);
	const rates = hf.getSheetId('Rates')!;
	let step = 0;
	return {
		price: (r: number, t: number) =>
			hf.getCellValue({ sheet: hf.getSheetId('Plan')!, row: r * g.months + t, col: 3 }),
		run() {
			step++;
			hf.setCellContents(
				{ sheet: rates, row: 0, col: 0 },
				Array.from(g.rise, (v) => [v + step * 1e-6])
			);
		}
	};
}

export function benchEngine(): void {
	const given = inputs(2000, 36);
	const ours = model(given).calculate();
	const hand = byHand(given);
	hand.run();
	const price = ours.matrix('m', 'price').values;
	for (let i = 0; i < price.length; i++)
		if (price[i] !== hand.price[i]) throw new Error(`Price ${i} differs.`);
	const full = median(() => void ours.calculate());
	const limit = median(() => hand.run());
	report('engine.full.vs_limit', full, limit, 'ms');

	const sheet = spreadsheet(given);
	const last = price[35 * 2000 + 1999];
	if (Math.abs((sheet.price(1999, 35) as number) - last) > 1e-9 * Math.abs(last))
		throw new Error('The spreadsheet differs.');
	let step = 0;
	const drivers = median(() => {
		step++;
		for (let t = 0; t < 36; t++) ours.setInput('rates', 'rise', 0, t, given.rise[t] + step * 1e-6);
		ours.recalculate();
	});
	report(
		'engine.full.vs_spreadsheet',
		drivers,
		median(() => sheet.run(), 3, 1),
		'ms'
	);

	const edit = median(() => {
		step++;
		ours.setInput('m', 'units', 7, 20, step);
		ours.recalculate();
	});
	report('engine.edit.vs_full', edit, full, 'ms');
}
