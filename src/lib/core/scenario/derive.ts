/** What lines of driver models were in closed months: read off the ledger, along the lines' own postings. */
import type { Calendar, Period } from '../calendar/calendar';
import { beginOnto } from '../calendar/onto';
import { axisOf, type Axis } from '../engine/axis';
import type { Exchange } from '../currency/exchange';
import { ROW_SEPARATOR, rowKey } from '../engine/row-key';
import { modelCalendar } from '../blocks/driver-model/periods';
import type { ModelDefinition, ScenarioModel } from '../blocks/driver-model/schema';
import { trimBlanks, withValues, type Run, type Series } from '../inputs/series';
import { ownValue } from '../text';
import { coordinatesOf } from '../blocks/driver-model/compile';
import { modelPostings } from '../blocks/driver-model/postings';
import type { Plan } from './plan';
import type { Structure } from '../company/structure';

/** Actual values of an account for some members (dimension → member, departments too), natural amounts. */
export interface TaggedSeries extends Run {
	account: string;
	members: Readonly<Record<string, string>>;
}

export const derivesActuals = (definition: ModelDefinition) =>
	definition.lines.some((l) => l.closed === 'actuals');

/**
 * Values of lines that show actuals in closed months: for each row the ledger's value on the account that the row
 * posts to, of the row's members. What is tagged with other members, or less finely than the row, is left out.
 * @param through last period that is taken
 * @param exchange by which what is booked in the department's currency comes to the line's, at average rates
 */
export function derivedSeries(
	models: readonly ScenarioModel[],
	structure: Structure,
	actuals: readonly TaggedSeries[],
	through: Period,
	exchange: Exchange
): Series[] {
	const begin = actuals.reduce((least, a) => Math.min(least, a.first), Infinity);
	const end = actuals.reduce((most, a) => Math.max(most, a.first + a.values.length), -Infinity);
	const byAccount = new Map<string, TaggedSeries[]>();
	for (const a of actuals) {
		const list = byAccount.get(a.account);
		if (list) list.push(a);
		else byAccount.set(a.account, [a]);
	}
	return models
		.filter((m) => derivesActuals(m.definition))
		.flatMap((model) => {
			const { code, dimensions, lines } = model.definition;
			const calendar = modelCalendar(model.definition, structure.calendar);
			const inCurrency = exchanging({ begin, end }, structure, exchange, calendar);
			const rowOf = new Map(coordinatesOf(model).map((row, r) => [rowKey(row), r]));
			const keyOf = (members: TaggedSeries['members']) =>
				dimensions.map((d) => ownValue(members, d) ?? '').join(ROW_SEPARATOR);
			const found: Series[] = [];
			const periods = Math.max(0, Math.min(through + 1, end) - begin);
			for (const [account, inflows] of modelPostings(model, structure)) {
				const booked = byAccount.get(account) ?? [];
				const keys = booked.map((a) => keyOf(a.members));
				for (const { line, index, currencies } of inflows) {
					if (lines.find((l) => l.code === line)?.closed !== 'actuals') continue;
					const sums = new Map<string, Float64Array>();
					booked.forEach(({ first, values: amounts, members }, b) => {
						const row = rowOf.get(keys[b]);
						if (row === undefined || index[row] < 0) return;
						const values = inCurrency(currencies?.[row] ?? null, members.department, first, amounts);
						let own = sums.get(keys[b]);
						if (!own) sums.set(keys[b], (own = new Float64Array(periods).fill(NaN)));
						for (let i = 0, at = first - begin; i < values.length && at < periods; i++, at++)
							if (!Number.isNaN(values[i])) own[at] = (Number.isNaN(own[at]) ? 0 : own[at]) + values[i];
					});
					for (const [row, own] of sums)
						if (!own.every(Number.isNaN)) found.push({ block: code, line, row, ...trimBlanks(begin, own) });
				}
			}
			return found;
		});
}

/**
 * What brings amounts of a department, from a period on, to another currency; infinite where a rate is missing, which is
 * no amount. @param span the periods of all amounts that may be asked for, the last left out
 */
function exchanging(
	{ begin, end }: { begin: Period; end: Period },
	{ departmentRow, rowCurrency }: Structure,
	exchange: Exchange,
	calendar: Calendar
): (currency: string | null, department: string, first: Period, amounts: Float64Array) => Float64Array {
	/** One for all, on which rates are worked out once. */
	let axis: Axis | null = null;
	return (currency, department, first, amounts) => {
		const own = rowCurrency[departmentRow.get(department) ?? -1];
		if (currency === null || own === undefined || own === currency) return amounts;
		axis ??= axisOf(calendar, begin, end - begin, 0);
		const rates = exchange.between(own, currency, 'average', axis).subarray(first - begin);
		return amounts.map((amount, t) =>
			Number.isNaN(rates[t]) && !Number.isNaN(amount) && amount !== 0 ? Infinity : amount * rates[t]
		);
	};
}

/** The same lines in months that a followed scenario stands in for; `from` and `to` are the company’s. */
export function followedSeries(
	models: readonly ScenarioModel[],
	before: Plan,
	from: Period,
	to: Period
): Series[] {
	return models.flatMap((model) => {
		const { code, lines } = model.definition;
		const company = before.structure.calendar;
		const own = modelCalendar(model.definition, company);
		// A model that is kept in other periods there says nothing of ours.
		if (before.blocks.get(code)?.calendar !== own) return [];
		const [first, end] = [beginOnto(own, company, from), beginOnto(own, company, to + 1)];
		return lines
			.filter((l) => l.closed === 'actuals' && before.calculation.has(code, l.code))
			.flatMap((line) =>
				before.calculation.block(code).rows.flatMap((coordinate, r) => {
					const own = new Map<Period, number>();
					for (let p = first; p < end; p++) {
						const cell = before.calculation.cell(code, line.code, r, p);
						if (typeof cell === 'number') own.set(p, cell);
					}
					return own.size ? [seriesFrom(code, line.code, rowKey(coordinate), own)] : [];
				})
			);
	});
}

function seriesFrom(block: string, line: string, row: string, months: ReadonlyMap<Period, number>): Series {
	return { block, line, row, ...withValues(null, months)! };
}
