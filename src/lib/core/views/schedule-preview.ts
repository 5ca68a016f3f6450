/** A schedule with rows and months that are changed and not saved yet: what it would come to, worked out on the spot. */
import { columnNumber } from '../blocks/schedule/columns';
import { PLACING } from '../blocks/schedule/personal';
import { changeRows, DIVIDED, rowValue, type RowChange } from '../blocks/schedule/row-changes';
import {
	departmentColumn,
	SHARE_IN_FORCE,
	sharesCode,
	type ScenarioSchedule,
	type ScheduleDefinition,
	type ScheduleRow
} from '../blocks/schedule/schema';
import { sameSides, targetOf, targetsOf } from '../blocks/schedule/postings';
import { codeIn } from '../blocks/schedule/shape';
import type { Structure } from '../company/structure';
import { ModelError } from '../engine/spec';
import type { Cell } from '../engine/values';
import type { TypedCell } from '../inputs/cell';
import { buildScenario } from '../scenario/assemble';
import type { ScenarioData } from '../scenario/data';
import { unpackScenario, type ScenarioPackage } from '../scenario/package';
import type { Plan } from '../scenario/plan';
import {
	faultsIn,
	scheduleFigures,
	type ScheduleFigures,
	type ScheduleQuery,
	type ScheduleViewRow,
	type Steady
} from './schedule-view';
import { sharesIn } from './schedule-shares';

/** What is changed and not saved. */
export interface ScheduleEdits {
	rows: readonly RowChange[];
	months: readonly TypedCell[];
}

/** What differs from the saved figures. Rows that cannot be placed yet, without a department, are not among them. */
export interface ScheduleChanges extends Omit<ScheduleFigures, 'rows'> {
	/** Rows that are new, or show something else. */
	rows: ScheduleViewRow[];
}

/** What would take longer than this (nanoseconds, at the worst) is not tried while somebody types. */
const MOST_COST = 2_000_000_000;

/** Rows stand so that more of the scenario has to be calculated than there is. */
export class PartTooSmall extends Error {}

interface Made {
	rows: readonly ScheduleRow[];
	/** Whether these are the rows as they are saved. */
	asSaved: boolean;
	plan: Plan;
	put: Map<string, Input>;
}

/** Rows of saved figures, by key, and what they are known by. */
interface Shown {
	of: ScheduleFigures;
	before: ReadonlyMap<string, ScheduleViewRow>;
	/** Those with errors in their cells: how many. */
	faulty: ReadonlyMap<ScheduleViewRow, number>;
	ids: ReadonlySet<string>;
}
const shownAs = (of: ScheduleFigures): Shown => ({
	of,
	before: new Map(of.rows.map((r) => [r.key, r])),
	faulty: new Map(of.rows.map((r) => [r, faultsIn(r)] as const).filter(([, count]) => count)),
	ids: new Set(of.rows.map((r) => r.id))
});

/** One cell of the calculation; `t` is an index on its axis. */
interface Input {
	block: string;
	line: string;
	row: number;
	t: number;
	value: number | null;
}

export class SchedulePreview {
	readonly #structure: Structure;
	readonly #data: ScenarioData;
	readonly #code: string;
	/** As it is saved. */
	readonly #saved: ScenarioSchedule;
	readonly #was: ReadonlyMap<string, ScheduleRow>;
	/** Columns by which adjustments tell rows apart. */
	readonly #asked: readonly string[];
	/** What was shown the last time with nothing changed. */
	#shown: Shown | null = null;
	/** With which rows the plan is made, and what of it differs from them. */
	#made: Made | null = null;

	/** @throws ModelError for what cannot be calculated */
	constructor(parcel: ScenarioPackage, schedule: string) {
		const { structure, data } = unpackScenario(parcel);
		this.#structure = structure;
		this.#data = data;
		this.#code = schedule;
		this.#saved = data.schedules!.find((s) => s.definition.code === schedule)!;
		this.#was = new Map(this.#saved.rows.map((r) => [r.id, r]));
		const steps = data.adjustments?.flatMap((a) => a.steps) ?? [];
		this.#asked = steps.flatMap((s) => Object.keys(s.where));
	}

	/** @throws ModelError for rows that cannot be calculated; PartTooSmall; Error for what would take too long */
	figures(
		{ rows: changes, months }: ScheduleEdits,
		query: ScheduleQuery,
		kept?: ReadonlySet<string>,
		saved?: Pick<Steady, 'before' | 'faulty'>
	): ScheduleFigures {
		const { definition } = this.#saved;
		const rows = changeRows(this.#saved.rows, changes).rows.filter(
			(row) => row === this.#was.get(row.id) || isPlaced(definition, row, this.#structure)
		);
		const placed = this.#placedAs(rows);
		const { plan } = placed;
		this.#put(placed, [...this.#columns(placed, rows), ...this.#months(plan, months)]);
		const next = { definition, rows };
		// Names and texts are those that are typed.
		const shown = { ...plan, schedules: new Map([...plan.schedules, [this.#code, next] as const]) };
		const steady =
			saved && placed.asSaved
				? { ...saved, touched: this.#touched(plan, rows, months, query.line ?? null) }
				: undefined;
		return scheduleFigures(shown, query, this.#was, kept, steady);
	}

	/** Which rows may show something else than they are saved with, standing where they are saved. */
	#touched(
		plan: Plan,
		rows: readonly ScheduleRow[],
		months: readonly TypedCell[],
		line: string | null
	): (row: number) => boolean {
		const { calculation } = plan;
		const { definition } = this.#saved;
		const { code, columns, lines, divided } = definition;
		const typed = new Set(months.map((m) => m.row.split('|')[0]));
		let [lo, hi] = [Infinity, -Infinity];
		const reach = (block: string, own: string, rowAt: (place: number) => number) => {
			const at = calculation.has(block, own) ? calculation.reachOf(block, own) : null;
			if (!at || at.hi <= at.lo) return;
			lo = Math.min(lo, rowAt(at.lo));
			hi = Math.max(hi, rowAt(at.hi - 1) + 1);
		};
		// Which line is shown where none is asked for is not known here: all of them then.
		const shown = line === null ? lines.map((l) => l.code) : [line];
		for (const own of [...columns.map((c) => c.code), ...shown]) reach(code, own, (place) => place);
		if (divided) {
			const { of } = sharesIn(plan, { definition, rows });
			reach(sharesCode(code), SHARE_IN_FORCE, (place) => of[Math.min(place, of.length - 1)]);
		}
		return (row) => (row >= lo && row < hi) || rows[row] !== this.#saved.rows[row] || typed.has(rows[row].id);
	}

	/** @param saved the same query's figures with nothing changed */
	changes(edits: ScheduleEdits, query: ScheduleQuery, saved: ScheduleFigures): ScheduleChanges {
		if (this.#shown?.of !== saved) this.#shown = shownAs(saved);
		const { before } = this.#shown;
		// A row stays in sight while it is typed into, and one that is put in comes there.
		const added = edits.rows.flatMap((c) => (c.kind === 'add' ? c.row.id : []));
		const { ids } = this.#shown;
		const kept = added.length ? new Set([...ids, ...added]) : ids;
		const { rows, ...all } = this.figures(edits, query, kept, this.#shown);
		return {
			...all,
			rows: rows.filter((r) => {
				const was = before.get(r.key);
				return r !== was && !sameRow(r, was);
			})
		};
	}

	/** The plan with rows that stand where these do: it is made anew only where they stand elsewhere. */
	#placedAs(rows: readonly ScheduleRow[]) {
		const made = this.#made;
		if (made && samePlaces(this.#saved, made.rows, rows, this.#asked)) return made;
		const schedules = this.#data.schedules!.map((s) =>
			s.definition.code === this.#code ? { definition: s.definition, rows } : s
		);
		const plan = this.#planWith(rows, { ...this.#data, schedules });
		if (plan.calculation.cost > MOST_COST)
			throw new Error('This takes long to calculate; its figures are shown once it is saved.');
		plan.calculation.calculate();
		const asSaved =
			rows.length === this.#saved.rows.length && rows.every((row, i) => row === this.#saved.rows[i]);
		this.#made = { rows, asSaved, plan, put: new Map() };
		return this.#made;
	}

	/** @throws PartTooSmall where these rows post to accounts, or read lines, that are not calculated here */
	#planWith(rows: readonly ScheduleRow[], data: ScenarioData): Plan {
		if (!data.given) return buildScenario(this.#structure, data);
		const { definition } = this.#saved;
		const read = new Set(data.given.accounts);
		const posted = (row: ScheduleRow) =>
			targetsOf(definition).map((target) => targetOf(definition, target, row, this.#structure));
		if (rows.some((row) => posted(row).some((account) => read.has(account)))) throw new PartTooSmall();
		try {
			return buildScenario(this.#structure, data);
		} catch (e) {
			throw e instanceof ModelError ? new PartTooSmall() : e;
		}
	}

	/** What stands in columns otherwise than the plan was made with. */
	#columns({ rows: made }: { rows: readonly ScheduleRow[] }, rows: readonly ScheduleRow[]): Input[] {
		const found: Input[] = [];
		const columns = this.#saved.definition.columns.filter((c) => c.formula === undefined);
		rows.forEach((row, i) => {
			if (row === made[i]) return;
			for (const { code, kind } of columns)
				if (row.values[code] !== made[i].values[code])
					found.push({
						block: this.#code,
						line: code,
						row: i,
						t: 0,
						value: columnNumber(kind, row.values[code])
					});
		});
		return found;
	}
	#months({ blocks, calculation }: Plan, months: readonly TypedCell[]): Input[] {
		return months.flatMap(({ block, line, row, period, value }) => {
			const at = blocks.get(block)?.rowAt(row) ?? -1;
			const { first, length } = calculation.axisOf(block);
			const t = period - first;
			return at < 0 || t < 0 || t >= length ? [] : [{ block, line, row: at, t, value }];
		});
	}

	/** Puts these in, and takes out all others. */
	#put({ plan, put }: { plan: Plan; put: Map<string, Input> }, inputs: readonly Input[]): void {
		const { calculation } = plan;
		const wanted = new Map(inputs.map((input) => [keyOf(input), input]));
		for (const [key, former] of put)
			if (!wanted.has(key)) {
				set(plan, former);
				put.delete(key);
			}
		for (const [key, input] of wanted) {
			if (!put.has(key)) put.set(key, { ...input, value: valueOf(plan, input) });
			set(plan, input);
		}
		calculation.recalculate();
	}
}

const keyOf = ({ block, line, row, t }: Input) => [block, line, row, t].join('\u0000');
const set = ({ inputs, calculation }: Plan, { block, line, row, t, value }: Input): void =>
	inputs.setInput(calculation, block, line, row, t, value);
function valueOf({ inputs, calculation }: Plan, { block, line, row, t }: Input): number | null {
	const under = inputs.typed(block, line, row, t);
	const cell: Cell =
		under === undefined ? calculation.cell(block, line, row, calculation.axisOf(block).first + t) : under;
	return typeof cell === 'number' ? cell : null;
}

/** Whether what a row comes to has accounts and departments to go to: somebody may just have begun to type it. */
function isPlaced(definition: ScheduleDefinition, row: ScheduleRow, structure: Structure): boolean {
	const { departments, accounts } = structure;
	const department = departmentColumn(definition);
	const at = department && codeIn(row, department.code);
	return (
		(at === undefined || (at !== '' && departments.isLeaf(at))) &&
		targetsOf(definition).every((to) => {
			const account = targetOf(definition, to, row, structure);
			return account !== '' && accounts.isLeaf(account);
		}) &&
		sameSides(definition, row, structure) === null
	);
}

/**
 * Whether the rows are as many, known by the same, and stand in the same departments, members and accounts.
 * @param asked other columns that have to be the same
 */
function samePlaces(
	{ definition }: ScenarioSchedule,
	a: readonly ScheduleRow[],
	b: readonly ScheduleRow[],
	asked: readonly string[]
): boolean {
	if (a.length !== b.length) return false;
	const placing = definition.columns
		.filter((c) => PLACING.has(c.kind) || asked.includes(c.code))
		.map((c) => c.code);
	return b.every(
		(row, i) =>
			row === a[i] ||
			(row.id === a[i].id && [...placing, DIVIDED].every((c) => rowValue(row, c) === rowValue(a[i], c)))
	);
}

function sameRow(a: ScheduleViewRow, b: ScheduleViewRow | undefined): boolean {
	if (!b) return false;
	const same = (x: readonly Cell[], y: readonly Cell[]) => x.every((c, i) => c === y[i]);
	return (
		a.label === b.label &&
		a.open === b.open &&
		same(a.cells, b.cells) &&
		JSON.stringify([a.computed, a.adjusted, a.unshared]) ===
			JSON.stringify([b.computed, b.adjusted, b.unshared])
	);
}
