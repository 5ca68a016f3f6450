/** Designing schedules: making one, changing its columns, lines and postings, taking it out again. */
import type { Knex } from 'knex';
import type { BlockNames } from '../../core/formula/check';
import { RESERVED_CODES, codeFor } from '../../core/company/code';
import type { Account, Department, Dimension } from '../../core/company/schema';
import { modelNames } from '../../core/blocks/driver-model/names';
import {
	ScheduleDefinition,
	type ScenarioSchedule,
	type ScheduleRow
} from '../../core/blocks/schedule/schema';
import { BLANK_SCHEDULE, SCHEDULE_TEMPLATES } from '../../core/blocks/schedule/templates';
import { newBatch } from '../company/journal';
import { formId } from '../company/subjects/forms-in-use';
import { readSeries } from '../company/subjects/scenario/values';
import { namesOfSchedules, SCHEDULE_KIND } from '../company/subjects/schedules';
import { companyFor } from '../company/structure';
import { nameSources } from '../models/models';
import { changesReason, sharedWith } from '../scenarios/form-sharing';
import * as stored from '../platform/db/stored';
import { asOne, type Context } from '../platform/context';
import { notFound, Refusal } from '../platform/refusal';
import type { SavedAs } from '../scenarios/cells';
import { scenarioForms } from '../scenarios/plan-data';
import { planOf } from '../scenarios/plans';
import { getScenario, mustSee, writableScenario } from '../scenarios/scenarios';
import { mustBeSound } from '../scenarios/soundness';
import { keepSchedule, typedLinesOf } from './keep';
import { keptFromIn } from '../scenarios/individual-pay';
import { scheduleIn } from './rows';
import { mustBeSettled, settleTyped, type Decision, type TakenOver } from './taken-over';

export interface NewSchedule {
	/** Scenarios that get it. */
	scenarios: readonly string[];
	name: string;
	/** What one of its rows is called; by default as the template has it. */
	one: string;
	from:
		| { kind: 'blank' }
		/** `accounts`: to which account its lines are posted; those without one are not. */
		| { kind: 'template'; template: string; accounts: Readonly<Record<string, string>> }
		| { kind: 'copy'; schedule: string; withRows: boolean };
}

/**
 * Makes a schedule in scenarios.
 * @returns its code
 * @throws Refusal 422 for what cannot be calculated, 409 for a name in use
 */
export async function createSchedule(context: Context, wanted: NewSchedule): Promise<string> {
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const { structure } = await companyFor(within, 'change schedules');
		for (const scenario of wanted.scenarios) {
			await mustSee(within, scenario);
			await writableScenario(trx, scenario);
			await mustBeFree(trx, scenario, wanted.name);
		}
		const taken = [
			...RESERVED_CODES,
			...structure.dimensions.keys(),
			...(await stored.texts(trx('model').pluck('code'))),
			...(await stored.texts(trx('schedule').pluck('code')))
		];
		const code = codeFor(wanted.name, '_', taken, 'schedule');
		const { position } = await stored.one(
			stored.lastPlace,
			trx('schedule').max({ position: 'position' }).first()
		);
		await trx('schedule').insert({ code, position: (position ?? -1) + 1 });
		const batch = newBatch();
		for (const scenario of wanted.scenarios) {
			const after = await begun(trx, scenario, code, wanted);
			await keepSchedule(within, scenario, { before: null, after }, { kind: 'schedule', batch }, wanted.name);
			await planOf(trx, scenario);
		}
		return code;
	});
}

/** As it is to begin with in a scenario. A copy posts nothing: two schedules that post the same would count twice. */
async function begun(
	db: Knex,
	scenario: string,
	code: string,
	{ name, one, from }: NewSchedule
): Promise<ScenarioSchedule> {
	if (from.kind === 'copy') {
		const { definition, rows } = await scheduleIn(db, scenario, from.schedule);
		return {
			definition: { ...definition, code, name, one: one || definition.one, postings: [] },
			rows: from.withRows ? rows : []
		};
	}
	const template = from.kind === 'template' ? SCHEDULE_TEMPLATES.find((t) => t.code === from.template) : null;
	if (template === undefined) throw notFound(`The template “${(from as { template: string }).template}”`);
	const form = template?.form ?? BLANK_SCHEDULE;
	const accounts = from.kind === 'template' ? from.accounts : {};
	for (const line of Object.keys(accounts))
		if (!template?.posts.some((p) => p.line === line))
			throw new Refusal(422, `“${line}” is no line of this template that is posted.`);
	return {
		definition: ScheduleDefinition.parse({
			...form,
			code,
			name,
			one: one || form.one,
			description: template?.description ?? '',
			postings: [
				...Object.entries(accounts).map(([line, account]) => ({
					line,
					account: { code: account },
					...(template?.posts.find((p) => p.line === line)?.lowers ? { lowers: true } : {})
				})),
				...(template?.byColumn ?? []).map(({ line, column }) => ({ line, account: { column } }))
			]
		}),
		rows: []
	};
}

async function mustBeFree(db: Knex, scenario: string, name: string, but = ''): Promise<void> {
	const { schedules, models } = await scenarioForms(db, scenario);
	if ([...schedules, ...models].some(({ definition: d }) => d.code !== but && d.name === name))
		throw new Refusal(409, `There is something named “${name}” already.`);
}

export interface ScheduleChange {
	scenarios: readonly string[];
	schedule: string;
	/** The definition's identity when it was read; null: it was not there. */
	version: string | null;
	/** Null takes the schedule out of the scenarios, with its rows. */
	definition: ScheduleDefinition | null;
	/** Columns that have got another code: old → new. What stands in them goes along. */
	renamed?: Readonly<Record<string, string>>;
	/** What has no place any more is taken out; otherwise it is a reason to refuse. */
	drop: boolean;
	/** What becomes of figures that are typed where it comes to be posted. */
	typed?: Decision;
}

/** What a change leaves without a place: months of a line, values of a column, or rows. */
export interface Displaced {
	scenario: string;
	label: string;
	cells: number;
}

/**
 * Changes a schedule's definition in scenarios, all of them or none; each is calculated before anything is kept.
 * @throws Refusal 409 when it has been changed since it was read; 422 with each mistake, or with what would be displaced
 */
export async function changeSchedule(
	context: Context,
	change: ScheduleChange,
	as: SavedAs = { kind: 'schedule', batch: newBatch() }
): Promise<void> {
	await asOne(context, async (within) => {
		const { db: trx } = within;
		await companyFor(within, 'change schedules');
		const displaced: Displaced[] = [];
		const kept: { scenario: string; before: ScenarioSchedule | null; after: ScenarioSchedule | null }[] = [];
		for (const scenario of change.scenarios) {
			await mustSee(within, scenario);
			await writableScenario(trx, scenario);
			const { schedules } = await scenarioForms(trx, scenario);
			const before = schedules.find((s) => s.definition.code === change.schedule) ?? null;
			if ((before && formId(before.definition)) !== change.version)
				throw new Refusal(
					409,
					`The schedule has been changed in “${(await getScenario(trx, scenario)).name}” since you opened it. Nothing was saved. Open it anew, or leave that scenario out.`
				);
			const { definition } = change;
			if (!before && !definition) throw notFound(`The schedule “${change.schedule}”`);
			if (definition && definition.code !== change.schedule)
				throw new Refusal(422, 'A schedule’s code stays what it is; names may change.');
			if (definition) await mustBeFree(trx, scenario, definition.name, definition.code);
			const after = definition && {
				definition,
				rows: rowsFor(before?.rows ?? [], definition, change.renamed ?? {})
			};
			displaced.push(
				...(before ? await displacedBy(trx, scenario, before, after, change.renamed ?? {}) : [])
			);
			kept.push({ scenario, before, after });
		}
		if (displaced.length && !change.drop)
			throw new Refusal(
				422,
				'Some of what is typed would have no place any more and would be taken out.',
				[],
				displaced
			);
		const typed: TakenOver[] = [];
		for (const { scenario, before, after } of kept) {
			await keepSchedule(
				within,
				scenario,
				{ before, after },
				as,
				changeInWords(before?.definition ?? null, after?.definition ?? null)
			);
			await mustBeSound(trx, scenario);
			typed.push(...(await settleTyped(within, scenario, { before, after }, change.typed, as)));
			await planOf(trx, scenario);
		}
		mustBeSettled(typed);
	});
}

/** Rows in a form: without what stands in columns that are gone or worked out now, with defaults where something is needed. */
function rowsFor(
	rows: readonly ScheduleRow[],
	{ columns, divided }: ScheduleDefinition,
	renamed: Readonly<Record<string, string>>
): ScheduleRow[] {
	const typed = columns.filter((c) => c.formula === undefined);
	const codes = new Set(typed.map((c) => c.code));
	return rows.map((row) => {
		const values: Record<string, ScheduleRow['values'][string]> = {};
		for (const [code, value] of Object.entries(row.values)) {
			const now = renamed[code] ?? code;
			if (codes.has(now)) values[now] = value;
		}
		for (const { code, required, default: usual } of typed)
			if (required && values[code] === undefined && usual !== undefined) values[code] = usual;
		const shares = divided ? row.shares : undefined;
		const same = shares === row.shares && JSON.stringify(values) === JSON.stringify(row.values);
		return same ? row : { id: row.id, values, ...(shares ? { shares } : {}) };
	});
}

async function displacedBy(
	db: Knex,
	scenario: string,
	before: ScenarioSchedule,
	after: ScenarioSchedule | null,
	renamed: Readonly<Record<string, string>>
): Promise<Displaced[]> {
	const { definition, rows } = before;
	if (!after) return rows.length ? [{ scenario, label: `${definition.name}: rows`, cells: rows.length }] : [];
	const found: Displaced[] = [];
	const typed = new Set(after.definition.columns.filter((c) => c.formula === undefined).map((c) => c.code));
	for (const { code, label } of definition.columns) {
		if (typed.has(renamed[code] ?? code)) continue;
		const cells = rows.filter((r) => r.values[code] !== undefined).length;
		if (cells) found.push({ scenario, label, cells });
	}
	if (definition.divided && !after.definition.divided) {
		const cells = rows.filter((r) => r.shares?.length).length;
		if (cells) found.push({ scenario, label: 'Divided with', cells });
	}
	const now = typedLinesOf(after.definition);
	const lost = new Map<string, number>();
	for (const { block, line, values } of await readSeries(db, scenario))
		if (typedLinesOf(definition).has(block) && !now.get(block)?.has(line))
			lost.set(line, (lost.get(line) ?? 0) + values.filter((v) => !Number.isNaN(v)).length);
	for (const [line, cells] of lost)
		found.push({ scenario, label: definition.lines.find((l) => l.code === line)?.label ?? 'Shares', cells });
	return found;
}

/** What is other in a definition, in words for the history. */
export function changeInWords(before: ScheduleDefinition | null, after: ScheduleDefinition | null): string {
	if (!after) return `${before?.name ?? 'Schedule'} taken out`;
	if (!before) return `${after.name} added`;
	const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
	const compared = (
		word: string,
		was: readonly { code: string; label: string }[],
		is: readonly { code: string; label: string }[]
	) => [
		...is.filter((c) => !was.some((w) => w.code === c.code)).map((c) => `${word} ${c.label} added`),
		...was.filter((c) => !is.some((i) => i.code === c.code)).map((c) => `${word} ${c.label} removed`),
		...is
			.filter((c) => was.some((w) => w.code === c.code && !same(w, c)))
			.map((c) => `${word} ${c.label} changed`)
	];
	const words = [
		...compared('column', before.columns, after.columns),
		...compared('line', before.lines, after.lines),
		...(same(before.postings, after.postings) ? [] : ['postings changed'])
	];
	const rest = ({ name, description, one, named, divided }: ScheduleDefinition) => [
		name,
		description,
		one,
		named,
		divided
	];
	if (!same(rest(before), rest(after))) words.push('name or description');
	return words.join(', ') || 'order';
}

/** A schedule's definition with all that is needed to change it. */
export interface ScheduleDesign {
	definition: ScheduleDefinition;
	version: string;
	/** A few of its rows, on which a change shows its effect. */
	rows: ScheduleRow[];
	accounts: Account[];
	departments: Department[];
	dimensions: Dimension[];
	/** Scenarios that formulas may read. */
	readable: string[];
	/** All other blocks that its formulas may read, as they call them. */
	others: BlockNames[];
	/** Schedules whose rows a column may name. */
	schedules: { code: string; name: string }[];
	editable: boolean;
	reason: string;
	alsoUsedBy: { code: string; name: string }[];
}

const SAMPLE = 20;

export async function scheduleDesign(
	context: Context,
	scenario: string,
	code: string
): Promise<ScheduleDesign> {
	const { db, user } = context;
	const { structure } = await companyFor(context, 'change schedules');
	await mustSee(context, scenario);
	const { definition, rows } = await scheduleIn(db, scenario, code);
	if ((await keptFromIn(context, scenario)).has(code))
		throw new Refusal(
			403,
			`The columns and lines of “${definition.name}” are looked at by those who see individual pay.`
		);
	const { schedules, models } = await scenarioForms(db, scenario);
	const others = schedules.map((s) => s.definition).filter((d) => d.code !== code);
	const sources = await nameSources(context, structure, scenario);
	const reason = changesReason(user, await getScenario(db, scenario), 'Schedules');
	return {
		definition,
		version: formId(definition),
		rows: rows.slice(0, SAMPLE),
		accounts: structure.accounts.all,
		departments: structure.departments.all,
		dimensions: [...sources.dimensions],
		readable: [...sources.scenarios],
		others: [
			...models.map((m) => modelNames(m.definition, structure.money)),
			...namesOfSchedules(others, structure.money)
		],
		schedules: others.map(({ code: other, name }) => ({ code: other, name })),
		editable: reason === '',
		reason,
		alsoUsedBy: await sharedWith(context, SCHEDULE_KIND, scenario, code)
	};
}
