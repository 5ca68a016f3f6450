/** The engine on a plan of rows × months × 5 formula lines, against hand-written loops and against a spreadsheet engine. */
import { HyperFormula, type RawCellContent } from 'hyperformula';
import { bareAxis } from '../src/lib/core/engine/axis';
import { Calculation } from '../src/lib/core/engine/calculation';
import { newMatrix, type Matrix } from '../src/lib/core/engine/values';
import { parseFormula } from '../src/lib/core/formula/parse';
import { attribute } from '../src/lib/core/analysis/attribution';
import { median, medians, report } from './measure';

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

export function model(given: Inputs, memory?: 'plain' | 'native', totals = false): Calculation {
	const { rows, months } = given;
	const axis = bareAxis(months);
	const expr = (text: string) => parseFormula(text).expr!;
	const formula = (code: string, text: string) => ({
		code,
		additive: true,
		rules: [{ from: 0, expr: expr(text) }]
	});
	return new Calculation({ axis, memory }, [
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
		},
		{
			id: 'totals',
			dimensions: [],
			rows: [[]],
			lines: totals ? ['revenue', 'cost', 'profit'].map((code) => formula(code, `m.${code}`)) : []
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

/** Time and memory at 10,000,000 computed values, against 360,000. */
function benchScale(fullSmall: number, valuesSmall: number): void {
	const rows = 55_556;
	const values = rows * 36 * 5;
	globalThis.gc?.();
	const before = process.memoryUsage().rss;
	const large = model(inputs(rows, 36)).calculate();
	globalThis.gc?.();
	const resident = process.memoryUsage().rss - before;
	const full = median(() => void large.calculate(), 5, 1);
	const perValue = (ms: number, n: number) => (ms / n) * 1e6;
	report(
		'engine.scale',
		perValue(full, values),
		perValue(fullSmall, valuesSmall),
		'ns per value',
		`${values} values`
	);
	report('memory', resident / values, 8, 'bytes per value', `${Math.round(resident / 1e6)} MB resident`);
}

/** Attribution of six groups of inputs, as multiples of one full calculation. */
function benchAttribution(given: Inputs, full: number): void {
	const calculation = model(given).calculate();
	const { rows, months } = given;
	const half = rows / 2;
	const change =
		(line: string, lo: number, hi: number, original: Float64Array, up: number) => (on: boolean) =>
			calculation.changeInputs('m', line, { from: 0, lo, hi }, ({ values }) => {
				for (let t = 0; t < months; t++)
					for (let i = t * rows + lo; i < t * rows + hi; i++) values[i] = on ? original[i] * up : original[i];
			});
	const groups = [
		change('units', 0, half, given.units, 1.1),
		change('units', half, rows, given.units, 0.95),
		change('unit_cost', 0, half, given.unitCost, 1.02),
		change('unit_cost', half, rows, given.unitCost, 0.99),
		change('base', 0, rows, given.basePrice, 1.03),
		(on: boolean) =>
			calculation.changeInputs('rates', 'rise', { from: 0, lo: 0, hi: 1 }, ({ values }) => {
				for (let t = 0; t < months; t++) values[t] = on ? given.rise[t] * 1.2 : given.rise[t];
			})
	];
	const now = groups.map(() => false);
	const profit = calculation.matrix('m', 'profit').values;
	const result = () => {
		let sum = 0;
		for (let i = 0; i < profit.length; i++) sum += profit[i];
		return sum;
	};
	const run = () =>
		attribute(groups.length, (switched) => {
			switched.forEach((on, g) => {
				if (now[g] !== on) groups[g](on);
				now[g] = on;
			});
			calculation.recalculate();
			return result();
		});
	const { effects, difference } = run();
	if (effects.reduce((a, b) => a + b, 0) !== difference)
		throw new Error('The effects do not sum to the difference.');
	report(
		'engine.attribution',
		median(() => void run(), 5, 1),
		full,
		'ms',
		'6 groups, 64 evaluations, in full calculations'
	);
}

export function benchEngine(): void {
	const given = inputs(2000, 36);
	const ours = model(given).calculate();
	const hand = byHand(given);
	hand.run();
	const price = ours.matrix('m', 'price').values;
	for (let i = 0; i < price.length; i++)
		if (price[i] !== hand.price[i]) throw new Error(`Price ${i} differs.`);
	const [full, limit] = medians(
		() => void ours.calculate(),
		() => hand.run()
	);
	report('engine.full.vs_limit', full, limit, 'ms');
	benchScale(full, 2000 * 36 * 5);
	benchAttribution(given, full);
	const plain = model(given, 'plain').calculate();
	const [plainFull, again] = medians(
		() => void plain.calculate(),
		() => hand.run()
	);
	report('engine.full.plain_memory.vs_limit', plainFull, again, 'ms');

	const sheet = spreadsheet(given);
	const last = price[35 * 2000 + 1999];
	if (Math.abs((sheet.price(1999, 35) as number) - last) > 1e-9 * Math.abs(last))
		throw new Error('The spreadsheet differs.');
	let step = 0;
	const drivers = median(() => {
		step++;
		for (let t = 0; t < 36; t++) ours.setInput('rates', 'rise', 0, t, given.rise[t] + step * 1e-6);
		ours.recalculate();
	}, 31);
	report(
		'engine.full.vs_spreadsheet',
		drivers,
		median(() => sheet.run(), 3, 1),
		'ms'
	);

	// Totals over all products for each line belong to what an edit brings with it.
	const summed = model(given, undefined, true).calculate();
	const edited = (change: () => void, note: string, metric: string) => {
		const [part, all] = medians(
			() => {
				step++;
				change();
				summed.recalculate();
			},
			() => void summed.calculate()
		);
		report(metric, part, all, 'ms', note);
	};
	edited(
		() => summed.setInput('m', 'units', 7, 20, step),
		'one month of one row, totals included',
		'engine.edit_cell.vs_full'
	);
	edited(
		() => summed.setInput('rates', 'rise', 0, 20, step * 1e-6),
		'one month of a driver of all rows, totals included',
		'engine.edit.vs_full'
	);
}
