/** Schedules of a scenario: which there are, and their rows with figures. */
import { lastNumbered } from '../../core/blocks/schedule/identifiers';
import { withoutPersonal } from '../../core/blocks/schedule/personal';
import {
	departmentColumn,
	SHARE,
	sharesCode,
	type ScenarioSchedule,
	type ScheduleColumn,
	type ScheduleDefinition,
	type ScheduleRow
} from '../../core/blocks/schedule/schema';
import { shareKey } from '../../core/blocks/schedule/compile';
import { codeIn, departmentsOf } from '../../core/blocks/schedule/shape';
import { namingColumn, targetOf, targetsOf } from '../../core/blocks/schedule/postings';
import { rowWords } from '../../core/blocks/schedule/schedule';
import { periodsOf, quartersOf, type Span } from '../../core/calendar/spans';
import { isBalance } from '../../core/company/sign';
import { postingFault } from '../../core/company/chart';
import { retiredOf } from '../../core/company/retired';
import type { Plan } from '../../core/scenario/plan';
import { scheduleFigures, type ScheduleFigures, type ScheduleQuery } from '../../core/views/schedule-view';
import { formId } from '../company/subjects/forms-in-use';
import { companyFor } from '../company/structure';
import { mayRead, mustRead, readableRoots } from '../platform/auth/policy';
import type { Context } from '../platform/context';
import { notFound, Refusal } from '../platform/refusal';
import { marksIn, type CellMark } from '../scenarios/cell-marks';
import { changesReason } from '../scenarios/form-sharing';
import { scenarioForms } from '../scenarios/plan-data';
import { planOf } from '../scenarios/plans';
import { seesAllRows, seesRow } from '../scenarios/schedule-readers';
import { mustSee } from '../scenarios/scenarios';
import { keptFrom } from '../scenarios/individual-pay';

export interface ListedSchedule {
	code: string;
	name: string;
	one: string;
	description: string;
	rows: number;
	lines: number;
	inputs: number;
	/** Labels of the lines that are posted. */
	postings: string[];
}

/** Those that have rows for whoever asks; of rows they may not see nothing is told, not even how many there are. */
export async function listSchedules(context: Context, scenario: string): Promise<ListedSchedule[]> {
	const { structure } = await companyFor(context, 'read schedules');
	await mustSee(context, scenario);
	const { user } = context;
	const all = seesAllRows(user, structure);
	const { schedules } = await scenarioForms(context.db, scenario);
	return schedules.flatMap(({ definition, rows }) => {
		const seen = all ? rows : rows.filter((row) => seesRow(user, structure, definition, row));
		if (!all && !seen.length) return [];
		const { code, name, one, description, lines, postings } = definition;
		return {
			code,
			name,
			one,
			description,
			rows: seen.length,
			lines: lines.length,
			inputs: lines.filter((l) => l.formula === undefined).length,
			postings: [...new Set(postings.map((p) => lines.find((l) => l.code === p.line)?.label ?? p.line))]
		};
	});
}

/** Accounts to which a line can be posted. */
export async function accountsToPost(context: Context): Promise<(Choice & { balance: boolean })[]> {
	const { accounts } = (await companyFor(context, 'read schedules')).structure;
	return accounts.all
		.filter((a) => postingFault(accounts, a.code) === null)
		.map(({ code, name, type }) => ({ code, name, balance: isBalance(type) }));
}

/** Something that can be chosen in a column. */
export interface Choice {
	code: string;
	name: string;
}

export interface ScheduleView extends ScheduleFigures {
	definition: ScheduleDefinition;
	/** Identity of the definition: to be changed only as it was read. */
	version: string;
	/** What stands in the rows that are shown. */
	list: ScheduleRow[];
	/** What the cells stand for: periods, quarters, the whole window. */
	spans: Span[];
	/** For who may add to them: of all rows the identifier with the highest number, after which new ones are called. */
	lastId: string | null;
	/** By column what can be chosen in it. */
	choices: Record<string, Choice[]>;
	/** By attribute that postings read, of the members in these rows: the account. */
	accountsBy: Record<string, Record<string, string>>;
	/** First open period, and the last. */
	open: number;
	last: number;
	editable: boolean;
	reason: string;
	/** What tells individual pay is left out. */
	withheld: boolean;
	/** What hangs on cells of the rows that are shown. */
	marks: (CellMark & { block: string })[];
}

export interface ScheduleRequest extends Omit<ScheduleQuery, 'spans'>, Span {
	scenario: string;
}

/** @throws Refusal 404 */
export function scheduleIn(plan: Plan, code: string): ScenarioSchedule {
	const own = plan.schedules.get(code);
	if (!own) throw notFound(`The schedule “${code}”`);
	return own;
}

/**
 * What a request shows of a schedule that the plan has.
 * @param all whether it is asked by somebody who sees all rows
 */
export function shownOf(
	{ structure, schedules }: Plan,
	{ from, to, department: wanted, ...query }: Omit<ScheduleRequest, 'scenario'>,
	all: boolean
): ScheduleQuery {
	const window = { from, to };
	const placed = departmentColumn(schedules.get(query.schedule)!.definition) !== undefined;
	const isRoot = structure.departments.roots.some((d) => d.code === wanted);
	return {
		...query,
		// A root stands for all: rows that are in no department yet are there too.
		department: wanted && placed && !(all && isRoot) ? wanted : null,
		spans: [...periodsOf(window), ...quartersOf(structure.calendar, window), window]
	};
}

/** @throws Refusal 403, 404 */
export async function readSchedule(
	context: Context,
	{ scenario, from, to, ...query }: ScheduleRequest
): Promise<ScheduleView> {
	const { db, user } = context;
	const { structure } = await companyFor(context, 'read schedules');
	await mustSee(context, scenario);
	const all = seesAllRows(user, structure);
	const wanted =
		query.department ?? (all ? null : (readableRoots(user, structure.departments)[0]?.code ?? ''));
	if (wanted !== null && !all) mustRead(user, wanted, structure.departments);
	const plan = await planOf(db, scenario);
	const whole = scheduleIn(plan, query.schedule);
	const personal = keptFrom(
		user,
		[...plan.schedules.values()].map((s) => s.definition),
		structure
	);
	const own = withoutPersonal(whole, personal);
	const shownPlan = { ...plan, schedules: new Map([...plan.schedules, [query.schedule, own] as const]) };
	const placed = departmentColumn(own.definition) !== undefined;
	if (!all && !placed)
		throw new Refusal(
			403,
			`The rows of “${own.definition.name}” belong to no department. Somebody who sees the whole company sees them.`
		);
	const shownQuery = shownOf(plan, { ...query, department: wanted, from, to }, all);
	const reads = (code: string) => mayRead(user, code, structure.departments);
	// Where else a row counts is not told to who does not read there, nor found by seeking or sorting.
	const seen = all ? own.rows : own.rows.map((row) => withinReach(own.definition, row, reads));
	const figures = scheduleFigures(shownPlan, shownQuery, new Map(seen.map((r) => [r.id, r])));
	const shown = new Set(figures.rows.map((r) => r.id));
	const reason = changesReason(user, plan.scenario, 'Schedules');
	return {
		...figures,
		count: all ? figures.count : figures.shown,
		definition: own.definition,
		version: formId(whole.definition),
		withheld: own !== whole,
		marks: await marksOf(context, plan, { scenario, own, shown, reads: all ? null : reads }),
		list: seen.filter((r) => shown.has(r.id)),
		lastId: reason === '' ? lastNumbered(own.rows.map((r) => r.id)) : null,
		spans: [...shownQuery.spans],
		accountsBy: accountsBy(plan, own, shown),
		choices: all ? choicesOf(plan, own.definition) : namesOf(plan, own, shown, reads),
		open: plan.open,
		last: plan.scenario.last,
		editable: reason === '',
		reason
	};
}

/** To which accounts rows in sight are posted by what members that they name say. */
function accountsBy(
	{ structure }: Plan,
	{ definition, rows }: ScenarioSchedule,
	shown: ReadonlySet<string>
): ScheduleView['accountsBy'] {
	return Object.fromEntries(
		targetsOf(definition).flatMap((target) => {
			if (!('attribute' in target)) return [];
			const column = namingColumn(definition, target) ?? '';
			const accounts = rows
				.filter((row) => shown.has(row.id))
				.map((row) => [codeIn(row, column), targetOf(definition, target, row, structure)] as const);
			return [[target.attribute, Object.fromEntries(accounts)]];
		})
	);
}

/** Notes, items and attachments on what the user sees of these rows. */
async function marksOf(
	{ db }: Context,
	plan: Plan,
	{
		scenario,
		own: { definition, rows },
		shown,
		reads
	}: {
		scenario: string;
		/** Without what tells individual pay. */
		own: ScenarioSchedule;
		shown: ReadonlySet<string>;
		/** Null for who sees all rows. */
		reads: ((department: string) => boolean) | null;
	}
): Promise<ScheduleView['marks']> {
	const { code, columns, lines } = definition;
	const open = new Set([...columns, ...lines].map((c) => c.code).concat(SHARE));
	const home = reads ? departmentColumn(definition)?.code : undefined;
	const seen = new Set<string>();
	const shares = plan.blocks.get(sharesCode(code));
	for (const row of rows)
		if (shown.has(row.id)) {
			seen.add(row.id);
			for (const d of departmentsOf(definition, row)) if (reads?.(d) ?? true) seen.add(shareKey(row.id, d));
		}
	const found = await Promise.all(
		[code, ...(shares ? [shares.code] : [])].map(async (block) =>
			(await marksIn(db, scenario, block, null)).map((mark) => ({ ...mark, block }))
		)
	);
	return found.flat().filter((m) => seen.has(m.row) && open.has(m.line) && m.line !== home);
}

/** A row without departments in which the user does not read. */
export function withinReach(
	definition: ScheduleDefinition,
	row: ScheduleRow,
	reads: (department: string) => boolean
): ScheduleRow {
	const home = departmentColumn(definition)?.code ?? '';
	const { [home]: at, ...values } = row.values;
	const shares = (row.shares ?? []).filter(reads);
	return {
		id: row.id,
		values: typeof at === 'string' && !reads(at) ? values : row.values,
		...(shares.length ? { shares } : {})
	};
}

/** Of what rows in sight hold, what it is called; nothing else can be chosen by who changes nothing. */
function namesOf(
	plan: Plan,
	{ definition, rows }: ScenarioSchedule,
	shown: ReadonlySet<string>,
	reads: (department: string) => boolean
): Record<string, Choice[]> {
	const held = rows.filter((r) => shown.has(r.id));
	return Object.fromEntries(
		Object.entries(choicesOf(plan, definition)).map(([column, choices]) => {
			const values = new Set(held.flatMap((r) => [r.values[column], ...(r.shares ?? [])]));
			const own = definition.columns.find((c) => c.code === column)!.kind === 'department';
			return [column, choices.filter((c) => values.has(c.code) && (!own || reads(c.code)))];
		})
	);
}

function choicesOf(plan: Plan, definition: ScheduleDefinition): Record<string, Choice[]> {
	return Object.fromEntries(
		definition.columns.flatMap((column) => {
			const choices = choicesIn(plan, column);
			return choices ? [[column.code, choices]] : [];
		})
	);
}

function choicesIn(
	{ structure: { accounts, departments, dimensions, ...rest }, schedules }: Plan,
	{ kind, choices, dimension, schedule }: ScheduleColumn
): Choice[] | null {
	const chosen = ({ code, name }: Choice): Choice => ({ code, name });
	switch (kind) {
		case 'pick':
			return (choices ?? []).map((code) => ({ code, name: code }));
		case 'department':
			return departments.all.filter((d) => departments.isLeaf(d.code)).map(chosen);
		case 'account':
			return accounts.all.filter((a) => accounts.isLeaf(a.code)).map(chosen);
		case 'member': {
			const own = dimensions.get(dimension ?? '')?.members;
			const retired = retiredOf({ accounts, departments, dimensions, ...rest }, dimension ?? '');
			return (own?.all ?? []).filter((m) => own!.isLeaf(m.code) && !retired.has(m.code)).map(chosen);
		}
		case 'row': {
			const other = schedules.get(schedule ?? '');
			return (other?.rows ?? []).map((r) => ({ code: r.id, name: rowWords(other!.definition, r) }));
		}
		default:
			return null;
	}
}
