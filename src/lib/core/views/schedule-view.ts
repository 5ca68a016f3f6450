/** A schedule's figures as a page shows them: its rows with the periods of one line, opened rows in all their lines. */
import { SHARE, SHARE_IN_FORCE, sharesCode, departmentColumn } from '../blocks/schedule/schema';
import type { ColumnValue, ScenarioSchedule, ScheduleLine, ScheduleRow } from '../blocks/schedule/schema';
import { valueFrom } from '../blocks/schedule/adjust-column';
import { shareKey } from '../blocks/schedule/compile';
import { rowWords } from '../blocks/schedule/schedule';
import { sharesIn, type SharesIn } from './schedule-shares';
import type { Period } from '../calendar/calendar';
import type { Span } from '../calendar/spans';
import { rollUp } from '../engine/rollup';
import { cellAt, copyOf, isFault, marksOf, NUMBER, RATE, type Cell, type Matrix } from '../engine/values';
import { currenciesIn } from '../scenario/mixed';
import type { Plan } from '../scenario/plan';
import { passesOf } from './passes';
import { AS_THEY_STAND, listed, type ScheduleArrangement } from './schedule-list';

export interface ScheduleQuery extends Partial<ScheduleArrangement> {
	schedule: string;
	/** The line that is shown by period; by default the first amount that is posted. */
	line?: string;
	/** One column each; they may overlap. */
	spans: readonly Span[];
	/** Keys of rows that are opened. */
	open?: readonly string[];
	/** Only rows in which the line that is shown has a figure other than 0. */
	filled?: boolean;
}

/** Where figures of a row can be typed: a cell's address without its period. */
export interface ScheduleTarget {
	block: string;
	line: string;
	row: string;
}

/** Periods in which shares are not 100 %: the first, how many there are, and what they are in it. */
export interface Unshared {
	first: Period;
	count: number;
	sum: number;
}

export interface ScheduleViewRow {
	key: string;
	kind: 'group' | 'row' | 'share' | 'line';
	/** The row of the schedule that it is or stands under; empty for a group. */
	id: string;
	label: string;
	/** What its periods show. */
	line: string;
	/** Of a group in which rows are in several currencies: the reporting one, in which it is. */
	in?: string;
	/** How many rows of the schedule it takes together. */
	count: number;
	/** Null where there is nothing under it. */
	open: boolean | null;
	/** One a span. */
	cells: Cell[];
	/** What was typed there, where the cells show something made of it; in the same places. */
	typed?: Cell[];
	/** The cell whose month it shows; null for what is several together. */
	target: ScheduleTarget | null;
	/** Computed columns. */
	computed?: Record<string, Cell>;
	/** What adjustments make of columns, where it is other than what stands in them. */
	adjusted?: Record<string, ColumnValue>;
	unshared?: Unshared;
}

export interface ScheduleFigures {
	/** The line that is shown. */
	line: string;
	rows: ScheduleViewRow[];
	/** All rows that are shown together, one a span; blank for a line that does not add up. */
	totals: Cell[];
	/** In which currency these are, where rows are in several: the reporting one. */
	totalsIn: string | null;
	/** Rows of the schedule that are shown, and that there are. */
	shown: number;
	count: number;
	errors: number;
	/** Rows that count in the department, whether they are sought or not, whose shares are not 100 % in some period. */
	unshared: (Unshared & { id: string; name: string })[];
}

/** Shares may differ so little from 100 % and still be all of it. */
const CLOSE = 1e-9;

/** Rows of the same query that show what they showed before. */
export interface Steady {
	/** By key. */
	before: ReadonlyMap<string, ScheduleViewRow>;
	/** Those with errors in their cells: how many. */
	faulty: ReadonlyMap<ScheduleViewRow, number>;
	/** Whether a row, by its place, may show something else. */
	touched(row: number): boolean;
}

/**
 * The plan must have the schedule.
 * @param was rows as they are saved, where some are changed: what is typed moves no row away
 * @param kept rows that are shown whether they have figures or not
 * @param steady rows that need not be worked out
 */
export function scheduleFigures(
	plan: Plan,
	query: ScheduleQuery,
	was?: ReadonlyMap<string, ScheduleRow>,
	kept?: ReadonlySet<string>,
	steady?: Steady
): ScheduleFigures {
	const schedule = plan.schedules.get(query.schedule)!;
	const { definition, rows } = schedule;
	const { code } = definition;
	const shares = sharesIn(plan, schedule, query.department ?? null);
	const read = reader(plan, schedule, query, shares);
	const line = definition.lines.find((l) => l.code === query.line) ?? usualLine(schedule);
	const spans = query.spans;
	const open = new Set(query.open ?? []);
	const computed = (row: number, column: { code: string }): Cell =>
		cellAt(plan.calculation.matrix(code, column.code), row, 0);
	const worked = definition.columns.filter((c) => c.formula !== undefined);
	const changed = definition.columns.flatMap((column) => {
		const original = column.formula === undefined ? plan.inputs.original(code, column.code) : null;
		return original ? [{ column, original }] : [];
	});
	const adjustedIn = (i: number): Record<string, ColumnValue> =>
		Object.fromEntries(
			changed.flatMap(({ column, original }) => {
				const value = computed(i, column);
				return typeof value !== 'number' || value === cellAt(original, i, 0)
					? []
					: [[column.code, valueFrom(column, value)]];
			})
		);
	const fitting = listed(schedule, plan.structure, { ...AS_THEY_STAND, ...query }, computed, was);
	const sought = fitting.flatMap((g) => g.rows);
	/** The row as it was shown, where it shows the same but for its shares. */
	const former: (ScheduleViewRow | undefined)[] = [];
	if (steady && !query.filled)
		for (const i of sought)
			if (!open.has(rows[i].id) && !steady.touched(i)) former[i] = steady.before.get(rows[i].id);
	const ofRows = line ? read.each(line, former.length ? sought.filter((i) => !former[i]) : sought) : null;
	const isShown = (i: number) =>
		!query.filled || ofRows === null || kept?.has(rows[i].id) || ofRows(i).some((v) => v !== null && v !== 0);
	const groups = query.filled
		? fitting.map((g) => ({ ...g, rows: g.rows.filter(isShown) })).filter((g) => g.rows.length)
		: fitting;
	const places = groups.flatMap((g) => g.rows);
	let errors = 0;
	const unshared = unsharedRows(plan, schedule, shares);
	const blank = spans.map((): Cell => null);
	const found: ScheduleViewRow[] = [];
	const put = (row: ScheduleViewRow) => {
		errors += faultsIn(row);
		found.push(row);
	};
	const lineRow = (i: number, own: ScheduleLine): ScheduleViewRow => {
		const typed = own.formula === undefined;
		return {
			key: `${rows[i].id}|${own.code}`,
			kind: 'line',
			id: rows[i].id,
			label: own.label,
			line: own.code,
			count: 1,
			open: null,
			cells: read.each(own, [i])(i),
			target: typed ? { block: code, line: own.code, row: rows[i].id } : read.targetOf(own, i)
		};
	};
	const shareRows = (i: number): ScheduleViewRow[] =>
		read.sharesOf(i).map(({ place, department }) => ({
			key: `${rows[i].id}|${SHARE}|${department}`,
			kind: 'share',
			id: rows[i].id,
			label: plan.structure.departments.get(department)?.name ?? department,
			line: SHARE,
			count: 1,
			open: null,
			cells: read.share(SHARE_IN_FORCE, place),
			typed: read.share(SHARE, place),
			target: { block: sharesCode(code), line: SHARE, row: shareKey(rows[i].id, department) }
		}));
	for (const group of groups) {
		const isOpen = group.key === '' || !open.has(group.key);
		if (group.key !== '')
			put({
				key: group.key,
				kind: 'group',
				id: '',
				label: group.heading,
				line: line?.code ?? '',
				count: group.rows.length,
				open: isOpen,
				cells: line?.adds ? read.together(line, group.rows) : blank,
				...(line && read.mixed(line, group.rows) ? { in: plan.structure.currency } : {}),
				target: null
			});
		if (!isOpen) continue;
		for (const i of group.rows) {
			const { id } = rows[i];
			const have = former[i];
			if (have) {
				const at = unshared.get(i);
				found.push(sameShares(have.unshared, at) ? have : { ...have, unshared: at });
				errors += steady!.faulty.get(have) ?? 0;
				continue;
			}
			const under = definition.lines.length > 0;
			put({
				key: id,
				kind: 'row',
				id,
				label: rowWords(definition, rows[i]),
				line: line?.code ?? '',
				count: 1,
				open: under ? open.has(id) : null,
				cells: ofRows ? ofRows(i) : blank,
				target: line
					? line.formula === undefined
						? { block: code, line: line.code, row: id }
						: read.targetOf(line, i)
					: null,
				...(worked.length
					? { computed: Object.fromEntries(worked.map((c) => [c.code, computed(i, c)])) }
					: {}),
				...(changed.length ? { adjusted: adjustedIn(i) } : {}),
				...(unshared.has(i) ? { unshared: unshared.get(i)! } : {})
			});
			if (!under || !open.has(id)) continue;
			if (definition.divided) shareRows(i).forEach(put);
			definition.lines.forEach((own) => put(lineRow(i, own)));
		}
	}
	return {
		line: line?.code ?? '',
		rows: found,
		totals: line?.adds ? read.together(line, places) : blank,
		totalsIn: line && read.mixed(line, places) ? plan.structure.currency : null,
		shown: places.length,
		count: rows.length,
		errors,
		unshared: [...unshared]
			.filter(([i]) => read.counts(i))
			.map(([i, at]) => ({ id: rows[i].id, name: rowWords(definition, rows[i]), ...at }))
	};
}

const usualLine = ({ definition: { lines, postings } }: ScenarioSchedule): ScheduleLine | undefined =>
	lines.find((l) => l.format === 'money' && postings.some((p) => p.line === l.code)) ??
	lines.find((l) => postings.some((p) => p.line === l.code)) ??
	lines.find((l) => l.adds) ??
	lines[0];

/** Reads lines of a schedule over spans. Where rows have departments, what counts there is read. */
function reader(
	plan: Plan,
	schedule: ScenarioSchedule,
	{ spans, department = null }: ScheduleQuery,
	shares: SharesIn
) {
	const { calculation } = plan;
	const { definition, rows } = schedule;
	const { code } = definition;
	const axis = calculation.axisOf(code);
	const passes = passesOf(axis, spans);
	const placed = departmentColumn(definition) !== undefined;
	const several = currenciesIn(plan, sharesCode(code));
	const inShares = ({ adds }: ScheduleLine) => placed && adds;
	/** What is typed in a row is shown as it is typed, whatever of it counts where. */
	const byRow = (own: ScheduleLine) => !inShares(own) || own.formula === undefined;
	/** @param groupOf of a row of the block its group, −1 for none */
	const rolled = (
		matrix: Matrix,
		line: string,
		time: 'sum' | 'last' | 'average',
		groupOf: Int32Array,
		groups: number
	) => {
		const by = passes.map(({ list, periods }) =>
			rollUp(() => matrix, [{ code: line, time, members: 'sum', expr: null }], {
				rows: groupOf,
				groups,
				periods,
				buckets: list.length
			}).get(line)!
		);
		const at = spans.map((_, s) => {
			const pass = passes.findIndex(({ list }) => list.includes(s));
			return { matrix: by[pass], bucket: passes[pass].list.indexOf(s) };
		});
		return (group: number): Cell[] => at.map(({ matrix: m, bucket }) => cellAt(m, group, bucket));
	};
	/** @param whole rows as they are, rather than what they come to in departments */
	const groupsOf = (
		whole: boolean,
		places: readonly number[],
		group: (nth: number) => number
	): Int32Array => {
		const groupOf = new Int32Array(whole ? rows.length : shares.of.length).fill(-1);
		const groupOfRow = whole ? groupOf : new Int32Array(rows.length);
		places.forEach((i, nth) => (groupOfRow[i] = group(nth)));
		if (!whole) for (const place of shares.ofRows(places)) groupOf[place] = groupOfRow[shares.of[place]];
		return groupOf;
	};
	const blockOf = (whole: boolean) => (whole ? code : sharesCode(code));
	/** Whether amounts of these rows are in several currencies. */
	const mixed = (own: ScheduleLine, places: readonly number[]): boolean =>
		inShares(own) && several(own.code, shares.ofRows(places));
	return {
		mixed,
		/** Each of these rows by itself. */
		each(own: ScheduleLine, places: readonly number[]): (row: number) => Cell[] {
			const nth = new Map(places.map((i, n) => [i, n]));
			const whole = byRow(own);
			const groupOf = groupsOf(whole, places, (n) => n);
			const matrix = calculation.matrix(blockOf(whole), own.code);
			const of = rolled(matrix, own.code, own.time, groupOf, places.length);
			return (row) => of(nth.get(row)!);
		},
		together(own: ScheduleLine, places: readonly number[]): Cell[] {
			const whole = !inShares(own);
			const groupOf = groupsOf(whole, places, () => 0);
			const matrix = mixed(own, places)
				? translated(plan, own, shares.departments, sharesCode(code))
				: calculation.matrix(blockOf(whole), own.code);
			return rolled(matrix, own.code, own.time, groupOf, 1)(0);
		},
		share(line: string, place: number): Cell[] {
			const groupOf = new Int32Array(shares.of.length).fill(-1);
			groupOf[place] = 0;
			return rolled(calculation.matrix(sharesCode(code), line), line, 'average', groupOf, 1)(0);
		},
		/** Whether anything of a row is looked at. */
		counts: (row: number) => department === null || shares.ofRow(row).length > 0,
		sharesOf: (row: number) =>
			shares.ofRow(row).map((place) => ({ place, department: shares.departments[place] })),
		/** The cell that a calculated figure of a row is: of its department, where it has one alone. */
		targetOf(own: ScheduleLine, row: number): ScheduleTarget | null {
			if (!inShares(own)) return { block: code, line: own.code, row: rows[row].id };
			const [only, more] = shares.ofRow(row);
			return only === undefined || more !== undefined
				? { block: code, line: own.code, row: rows[row].id }
				: { block: sharesCode(code), line: own.code, row: shareKey(rows[row].id, shares.departments[only]) };
		}
	};
}

/** A line by department in the reporting currency: at the average rates of its periods, or those of their ends. */
function translated(
	{ calculation, exchange, structure }: Plan,
	{ code, time }: ScheduleLine,
	departments: readonly string[],
	block: string
): Matrix {
	const axis = calculation.axisOf(block);
	const matrix = copyOf(calculation.matrix(block, code));
	const kind = time === 'last' ? 'closing' : 'average';
	departments.forEach((department, place) => {
		const currency = structure.rowCurrency[structure.departmentRow.get(department) ?? -1];
		if (currency === undefined || currency === structure.currency) return;
		const rates = exchange.between(currency, structure.currency, kind, axis);
		for (let t = 0; t < matrix.periods; t++) {
			const i = t * matrix.rows + place;
			if (!Number.isNaN(rates[t])) matrix.values[i] *= rates[t];
			else if (matrix.values[i] !== 0) marksOf(matrix)[i] = RATE;
		}
	});
	return matrix;
}

/** How many of a row's cells hold an error. */
export const faultsIn = ({ cells }: ScheduleViewRow): number => cells.filter(isFault).length;

const sameShares = (a: Unshared | undefined, b: Unshared | undefined): boolean =>
	a === b || (a?.first === b?.first && a?.count === b?.count && a?.sum === b?.sum);

/** Rows by place whose shares do not come to 100 % in some open period in which there is something to be shared. */
function unsharedRows(
	{ calculation, open, scenario }: Plan,
	{ definition, rows }: ScenarioSchedule,
	{ of }: SharesIn
): Map<number, Unshared> {
	const found = new Map<number, Unshared>();
	if (!definition.divided) return found;
	const { code } = definition;
	const { first, length } = calculation.axisOf(code);
	const force = calculation.matrix(sharesCode(code), SHARE_IN_FORCE);
	const [from, to] = [Math.max(0, open - first), Math.min(length, scenario.last - first + 1)];
	const sums = new Float64Array(rows.length);
	const lines = definition.lines.filter((l) => l.adds).map((l) => calculation.matrix(code, l.code));
	const shared = (row: number, t: number) => lines.some((m) => amount(m, row, t) !== 0);
	for (let t = from; t < to; t++) {
		sums.fill(0);
		for (let place = 0, i = t * of.length; place < of.length; place++, i++)
			sums[of[place]] += force.values[i];
		for (let r = 0; r < rows.length; r++) {
			const sum = sums[r];
			if (Math.abs(sum - 1) <= CLOSE || !shared(r, t)) continue;
			const own = found.get(r);
			if (own) own.count++;
			else found.set(r, { first: first + t, count: 1, sum });
		}
	}
	return found;
}

function amount({ values, marks, rows, timeless }: Matrix, row: number, t: number): number {
	const i = (timeless ? 0 : t * rows) + row;
	return marks && marks[i] !== NUMBER ? 0 : values[i];
}
