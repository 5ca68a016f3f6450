/** Rates of a set on the periods of a calculation, and what they make of amounts. */
import { periodRange, type Calendar, type Period } from '../calendar/calendar';
import { yearBefore } from '../calendar/last-year';
import type { Structure } from '../company/structure';
import { axisCovering, type Axis } from '../engine/axis';
import { meeting, retime } from '../engine/retime';
import type { Factors } from '../engine/spec';
import { BLANK, marksOf, newMatrix, NUMBER } from '../engine/values';
import { valueAt, withValues, type Run } from '../inputs/series';
import type { CurrencyRates, RateKind } from './rates';

/** Rates on any axis, each worked out once. */
export class Exchange {
	private readonly known = new Map<Axis, Map<string, Float64Array>>();

	/** @param calendar the company's, in whose periods rates are kept */
	constructor(
		readonly reporting: string,
		private readonly rates: readonly CurrencyRates[],
		private readonly calendar: Calendar
	) {}

	/**
	 * Units of `to` for one of `from`, one a period of the axis; NaN where a rate is missing.
	 * In periods of other kinds an average is the mean by days, and a closing rate that of the last day.
	 */
	between(from: string, to: string, kind: RateKind, axis: Axis): Float64Array {
		const [a, b] = [this.toReporting(from, kind, axis), this.toReporting(to, kind, axis)];
		return b === this.one(axis) ? a : a.map((rate, t) => rate / b[t]);
	}

	/** The closing rate of one of the company's periods; null where it is missing. */
	closingAt(currency: string, period: Period): number | null {
		if (currency === this.reporting) return 1;
		return valueAt(this.rates.find((r) => r.currency === currency)?.closing ?? null, period);
	}

	/** These rates as they stood in the year before: what last year is translated by, on this year's periods. */
	get yearBefore(): Exchange {
		return (this.former ??= new Exchange(
			this.reporting,
			this.rates.map((r) => ({
				currency: r.currency,
				average: ayearLater(r.average, this.calendar),
				closing: ayearLater(r.closing, this.calendar)
			})),
			this.calendar
		));
	}
	private former: Exchange | null = null;

	private one(axis: Axis): Float64Array {
		return this.kept(axis, '', () => new Float64Array(axis.length).fill(1));
	}

	private kept(axis: Axis, key: string, make: () => Float64Array): Float64Array {
		const own = this.known.get(axis) ?? new Map<string, Float64Array>();
		this.known.set(axis, own);
		const have = own.get(key) ?? make();
		own.set(key, have);
		return have;
	}

	private toReporting(currency: string, kind: RateKind, axis: Axis): Float64Array {
		if (currency === this.reporting) return this.one(axis);
		return this.kept(axis, `${currency} ${kind}`, () => {
			const run = this.rates.find((r) => r.currency === currency)?.[kind] ?? null;
			return onAxis(run, kind, this.calendar, axis);
		});
	}
}

function ayearLater(run: Run | null, calendar: Calendar): Run | null {
	if (!run) return null;
	const { periodsPerYear } = calendar;
	const last = run.first + run.values.length + periodsPerYear;
	const later = new Map(
		periodRange(run.first, last + 1).map((p) => [p, valueAt(run, yearBefore(calendar, p))] as const)
	);
	return withValues(null, later);
}

function onAxis(run: Run | null, kind: RateKind, calendar: Calendar, axis: Axis): Float64Array {
	const own = axisCovering(calendar, axis);
	const source = newMatrix(1, own.length);
	const marks = marksOf(source);
	let missing = 0;
	for (let t = 0; t < own.length; t++) {
		const rate = valueAt(run, own.first + t);
		source.values[t] = rate ?? 0;
		marks[t] = rate === null ? BLANK : NUMBER;
		if (rate === null) missing++;
	}
	const target = newMatrix(1, axis.length);
	marksOf(target);
	const how = kind === 'closing' ? 'last' : 'average';
	const met = meeting(own, axis);
	retime(target, source, null, how, met, 0, 1, 0, axis.length);
	// A mean of the rates that happen to be known would pass for the period's.
	if (missing && kind === 'average')
		for (let t = 0; t < axis.length; t++)
			for (let k = met.starts[t]; k < met.starts[t + 1]; k++)
				if (marks[met.source[k]] === BLANK) target.marks![t] = BLANK;
	return target.values.map((rate, t) => (target.marks![t] === NUMBER ? rate : NaN));
}

/**
 * What brings so many rows of amounts from one currency each to another; null where none is needed.
 * @param from of a row, null where it is taken as it is
 */
export function exchangeFactors(
	exchange: Exchange,
	rows: number,
	from: (row: number) => string | null,
	to: (row: number) => string,
	kind: RateKind
): Factors | null {
	const lists = new Map<string, number>();
	const wanted: [string, string][] = [];
	const of = new Int32Array(rows).fill(-1);
	for (let row = 0; row < rows; row++) {
		const [own, other] = [from(row), to(row)];
		if (own === null || own === other) continue;
		const key = `${own}>${other}`;
		let list = lists.get(key);
		if (list === undefined) {
			lists.set(key, (list = wanted.length));
			wanted.push([own, other]);
		}
		of[row] = list;
	}
	if (!wanted.length) return null;
	return { of, on: (axis) => wanted.map(([own, other]) => exchange.between(own, other, kind, axis)) };
}

/**
 * What brings rows in the currencies of their departments to the reporting one, where departments are summed.
 * @param departments of the rows, in their order
 */
export function departmentUnits(
	structure: Structure,
	exchange: Exchange,
	departments: readonly string[],
	kind: RateKind
): { dimension: string; factors: Factors } | null {
	const { rowCurrency, departmentRow, currency } = structure;
	const own = (row: number) => rowCurrency[departmentRow.get(departments[row]) ?? -1] ?? currency;
	const factors = exchangeFactors(exchange, departments.length, own, () => currency, kind);
	return factors && { dimension: 'department', factors };
}
