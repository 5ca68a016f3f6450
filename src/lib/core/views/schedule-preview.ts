/** A schedule with rows and months that are changed and not saved yet: what it would come to, worked out on the spot. */
import { columnNumber } from '../blocks/schedule/columns';
import { changeRows } from '../blocks/schedule/row-changes';
import { targetOf, targetsOf } from '../blocks/schedule/postings';
import type { ScenarioSchedule, ScheduleRow } from '../blocks/schedule/schema';
import type { Structure } from '../company/structure';
import { ModelError } from '../engine/spec';
import type { Cell } from '../engine/values';
import type { TypedCell } from '../inputs/cell';
import { buildScenario } from '../scenario/assemble';
import type { ScenarioData } from '../scenario/data';
import { unpackScenario, type ScenarioPackage } from '../scenario/package';
import type { Plan } from '../scenario/plan';
import {
	askedBy,
	changesFrom,
	isPlaced,
	samePlaces,
	shownAs,
	touchedRows,
	type ScheduleChanges,
	type ScheduleEdits,
	type Shown
} from './schedule-changes';
import { scheduleFigures, type ScheduleFigures, type ScheduleQuery, type Steady } from './schedule-view';

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
		this.#asked = askedBy(data);
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
				? { ...saved, touched: touchedRows(plan, this.#saved, rows, months, query.line ?? null) }
				: undefined;
		return scheduleFigures(shown, query, this.#was, kept, steady);
	}

	/** @param saved the same query's figures with nothing changed */
	changes(edits: ScheduleEdits, query: ScheduleQuery, saved: ScheduleFigures): ScheduleChanges {
		if (this.#shown?.of !== saved) this.#shown = shownAs(saved);
		// A row stays in sight while it is typed into, and one that is put in comes there.
		const added = edits.rows.flatMap((c) => (c.kind === 'add' ? c.row.id : []));
		const { ids } = this.#shown;
		const kept = added.length ? new Set([...ids, ...added]) : ids;
		return changesFrom(this.figures(edits, query, kept, this.#shown), this.#shown);
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
