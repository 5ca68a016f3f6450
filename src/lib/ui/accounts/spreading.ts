/** Gathers the cells that totals of a plan are made of, for what is typed into the totals to be spread into them. */
import type { Calendar } from '../../core/calendar/calendar';
import { spanBefore } from '../../core/calendar/last-year';
import { spanOnto } from '../../core/calendar/onto';
import type { Span } from '../../core/calendar/spans';
import type { Cell } from '../../core/engine/values';
import type { NumberFormat } from '../../core/company/schema';
import { get } from '../kit/api';
import type { Edit } from '../grid/editing/edits.svelte';
import { CannotSpread, LAST_YEAR, type Spread, type SpreadRow } from '../entry/spread';
import { partKey } from './rows';

interface Place {
	account: string;
	department: string;
}
/** A leaf account in a leaf department, as the API tells what a total is made of. */
interface UnderRow extends Place {
	format: NumberFormat;
	currency: string;
	cells: Cell[];
	typed: (number | null)[];
	open: boolean;
	/** Worth of a unit in the reporting currency, where it was asked for and is another. */
	rates?: (number | null)[];
}

export interface PlanSpread extends Spread {
	/** Whose figures they are, row by row. */
	places: Place[];
	/** What was typed into, for its shape elsewhere; and the months (ordinals). */
	totals: Place[];
	from: number;
	to: number;
	/** The total is in the reporting currency. */
	reporting: boolean;
}

/** In whose periods the plan stands, and in whose windows are asked for. */
export interface Periods {
	calendar: Calendar;
	company: Calendar;
}
interface Page extends Periods {
	scenario: string;
	/** Whether a month can be planned. */
	isOpen: (period: number) => boolean;
	/** What is typed in a cell and not saved. */
	edit: (place: Place, period: number) => Edit | undefined;
	/** The name of a row among typed cells. */
	key: (place: Place) => string;
	account: (code: string) => string;
	/** A department's name; nothing where it goes without saying. */
	department: (code: string) => string;
	typed: number | null;
	/** Another scenario: what has a figure there takes part, too. */
	besides?: string;
	/** The total is typed in the reporting currency, whatever departments count in. */
	reporting?: boolean;
}

/** @param like in whose periods it is answered, where these are not the scenario's own */
const readUnder = async (
	scenario: string,
	{ account, department }: Place,
	{ from, to }: Span,
	{ calendar, company }: Periods,
	{ like, reporting = false }: { like?: string; reporting?: boolean } = {}
): Promise<UnderRow[]> => {
	const window = spanOnto(company, calendar, { from, to });
	const query = {
		scenario,
		account,
		department,
		from: company.key(window.from),
		to: company.key(window.to),
		...(like === undefined ? {} : { like }),
		...(reporting ? { money: 'reporting' } : {})
	};
	return (await get<{ rows: UnderRow[] }>(`plan/under?${new URLSearchParams(query)}`)).rows;
};

const holds = ({ cells }: UnderRow) => cells.some((c) => c !== null && c !== 0);

/**
 * @param wanted totals with the months they stand for
 * @throws CannotSpread when nothing under them can be typed, or they are of several measures; ApiError
 */
export async function gatherTotals(
	wanted: readonly (Place & { span: Span })[],
	page: Page
): Promise<PlanSpread> {
	const { calendar } = page;
	const totals = [...new Map(wanted.map((w) => [partKey(w.account, w.department), w])).values()];
	const from = Math.min(...wanted.map((w) => w.span.from));
	const to = Math.max(...wanted.map((w) => w.span.to));
	const found = new Map<string, { row: UnderRow; months: Set<number> }>();
	const held = new Set<string>();
	for (const total of totals) {
		const besides = page.besides
			? await readUnder(page.besides, total, { from, to }, page, {
					like: page.scenario,
					reporting: page.reporting
				})
			: [];
		for (const row of besides) if (holds(row)) held.add(partKey(row.account, row.department));
		const spans = wanted.filter((w) => w.account === total.account && w.department === total.department);
		for (const row of await readUnder(page.scenario, total, { from, to }, page, {
			reporting: page.reporting
		})) {
			const key = partKey(row.account, row.department);
			const { months } = found.get(key) ?? { months: new Set<number>() };
			found.set(key, { row, months });
			for (const { span } of spans) for (let p = span.from; p <= span.to; p++) months.add(p);
		}
	}
	// Where nothing is and nothing is typed, nothing is to be spread, unless it is so everywhere.
	const filled = [...found.values()].filter(
		({ row, months }) =>
			holds(row) ||
			held.has(partKey(row.account, row.department)) ||
			[...months].some((p) => page.edit(row, p) !== undefined)
	);
	const taking = filled.length ? filled : [...found.values()].filter(({ row }) => row.open);
	if (!taking.some(({ row }) => row.open))
		throw new CannotSpread(
			'Nothing under it can be typed: driver models give it, or its departments cannot be planned now.'
		);
	const { format } = taking[0].row;
	if (taking.some(({ row }) => row.format !== format))
		throw new CannotSpread('Amounts and other measures cannot be changed together. Choose rows of one kind.');
	if (
		!page.reporting &&
		format === 'money' &&
		taking.some(({ row }) => row.currency !== taking[0].row.currency)
	)
		throw new CannotSpread(
			'Amounts in different currencies cannot be changed together. Choose rows of one currency.'
		);
	// Every row has the same months, so that they stand under one another.
	const all = [...new Set(taking.flatMap(({ months }) => [...months]))].sort((a, b) => a - b);
	const severalOf = (of: (row: UnderRow) => string) => new Set(taking.map(({ row }) => of(row))).size > 1;
	const accounts = severalOf((r) => r.account);
	const departments = severalOf((r) => r.department);
	const nameOf = (row: UnderRow) => {
		const inside = departments || totals.every((t) => t.department !== row.department);
		return [
			...(accounts || !inside ? [page.account(row.account)] : []),
			...(inside ? [page.department(row.department)] : [])
		].join(', ');
	};
	const rateAt = ({ rates, currency }: UnderRow, period: number): number => {
		const rate = rates![period - from];
		if (rate === null)
			throw new CannotSpread(
				`The exchange rate of ${currency} is missing for ${calendar.longLabel(period)}; set it under Set up, Currencies.`
			);
		return rate;
	};
	const rows = taking.map(({ row, months }): SpreadRow => ({
		key: page.key(row),
		name: nameOf(row),
		cells: all.map((period) => {
			const edit = page.edit(row, period);
			const value = row.cells[period - from];
			return {
				column: calendar.key(period),
				label: calendar.shortLabel(period),
				value: edit ? edit.value : typeof value === 'number' ? value : null,
				before: row.typed[period - from],
				open: page.isOpen(period) && row.open && months.has(period),
				...(row.rates ? { factor: rateAt(row, period) } : {})
			};
		})
	}));
	const name = totals.length > 1 ? `${totals.length} totals` : page.account(totals[0].account);
	const where = totals.length > 1 ? '' : page.department(totals[0].department);
	const [first, last] = [calendar.label(all[0]), calendar.label(all.at(-1)!)];
	return {
		title: `${name}${where && `, ${where}`}, ${first}${first === last ? '' : ` – ${last}`}`,
		typed: page.typed,
		rows,
		places: taking.map(({ row }) => row),
		format,
		totals,
		from: all[0],
		to: all.at(-1)!,
		reporting: page.reporting ?? false,
		...(taking.some(({ row }) => row.rates)
			? { hint: 'Departments in other currencies get their part at the average rate of each month.' }
			: {})
	};
}

/** The same accounts, departments and months in another scenario, or a year ago in this one. @throws ApiError */
export async function shapeOf(
	{ totals, from, to, rows, places, reporting }: PlanSpread,
	scenario: string,
	own: string,
	periods: Periods
): Promise<(number | null)[][]> {
	const { calendar } = periods;
	const ago = scenario === LAST_YEAR;
	const spanAt = (span: Span) => (ago ? spanBefore(calendar, span) : span);
	const window = spanAt({ from, to });
	const there = new Map<string, UnderRow>();
	for (const total of totals)
		for (const row of await readUnder(ago ? own : scenario, total, window, periods, {
			like: own,
			reporting
		}))
			there.set(partKey(row.account, row.department), row);
	return rows.map(({ cells }, r) => {
		const row = there.get(partKey(places[r].account, places[r].department));
		return cells.map(({ column }) => {
			const period = calendar.parse(column)!;
			const there = spanAt({ from: period, to: period });
			const values = (row?.cells ?? [])
				.slice(there.from - window.from, there.to - window.from + 1)
				.filter((c) => typeof c === 'number');
			return values.length ? values.reduce((sum, v) => sum + v, 0) : null;
		});
	});
}
