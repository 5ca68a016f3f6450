/** Scenarios: reading, copying, locking; and their calculated figures, kept until something they rest on changes. */
import type { Knex } from 'knex';
import { BLANK, cellAt, marksOf, newMatrix, setCell, type Matrix } from '../core/engine/values';
import { ModelError } from '../core/engine/spec';
import {
	LEDGER_BLOCK,
	ModelDefinition,
	type AdjustmentDefinition,
	type Scenario,
	type Series
} from '../core/model/schema';
import { adjustmentsFrom } from '../core/plan/adjust';
import { derivedSeries, derivesActuals, followedSeries } from '../core/plan/derive';
import { buildScenario, firstOpen } from '../core/plan/assemble';
import { foreignReferences, linesOf } from '../core/plan/foreign';
import { packScenario, type ScenarioPackage } from '../core/plan/package';
import type { History, OtherLines, Plan, ScenarioData, ScenarioModel } from '../core/plan/scenario';
import { maySeeScenario, mustMay } from './auth/policy';
import type { User } from './auth/sessions';
import { readModelRows, readSeries } from './company/store';
import { CalledOff, calculateElsewhere } from './calculator/calculator';
import type { ListedScenario } from './company/data';
import {
	adjustmentFromRow,
	basisFromRow,
	scenarioFromRow,
	type AdjustmentRow,
	type BasisRow,
	type ScenarioRow
} from './db/rows';
import { readOnce, sharedBy } from './db/kept';
import { notFound, Refusal } from './refusal';
import { companyState, taggedTotals, type CompanyState } from './structure';

export const ACTUALS = 'actuals';

/** Actuals as a scenario: all of it closed, nothing planned. Null while no ledger month is loaded. */
export function actualsScenario({ actuals, structure: { calendar } }: CompanyState): ListedScenario | null {
	if (actuals.last < 0) return null;
	return {
		code: ACTUALS,
		name: 'Actuals',
		kind: 'actuals',
		first: calendar.yearStart(calendar.fiscalYear(actuals.first)),
		last: actuals.last,
		actualsThrough: actuals.last,
		follows: null,
		origin: null,
		locked: true,
		description: 'From the ledger.',
		folder: '',
		visibility: 'all',
		people: [],
		owner: '',
		target: null
	};
}

const scenarioRows = (db: Knex): Promise<readonly ScenarioRow[]> =>
	readOnce(
		db,
		'scenarios',
		async () => (await db('scenario').whereNull('deleted').orderBy('position')) as ScenarioRow[]
	);

/** All scenarios in their order, actuals first. */
export async function listScenarios(db: Knex): Promise<ListedScenario[]> {
	const state = await companyState(db);
	const actuals = actualsScenario(state);
	const rows = await scenarioRows(db);
	return [...(actuals ? [actuals] : []), ...rows.map(scenarioFromRow)];
}

/** Scenarios that a user may know of. */
export async function visibleScenarios(db: Knex, user: User): Promise<ListedScenario[]> {
	const { departments } = (await companyState(db)).structure;
	return (await listScenarios(db)).filter((s) => maySeeScenario(user, s, departments));
}

/** The same for lists: what they follow, come from or are measured by is named only where it is visible too. */
export async function listedFor(db: Knex, user: User): Promise<ListedScenario[]> {
	const list = await visibleScenarios(db, user);
	const seen = new Set(list.map((s) => s.code));
	const named = (code: string | null) => (code !== null && seen.has(code) ? code : null);
	return list.map((s) => ({
		...s,
		follows: named(s.follows),
		origin: named(s.origin),
		target: named(s.target)
	}));
}

/** Scenarios by name, as far as a user may know of them. */
export async function namedFor(db: Knex, user: User, codes: readonly string[]): Promise<string> {
	const seen = (await visibleScenarios(db, user)).filter((s) => codes.includes(s.code));
	const hidden = codes.length - seen.length;
	return [
		...seen.map((s) => `“${s.name}”`),
		...(hidden
			? [hidden === 1 ? 'a scenario that is hidden from you' : `${hidden} scenarios that are hidden from you`]
			: [])
	].join(', ');
}

/** @throws Refusal 404 for a scenario that is not there, or not there for this user */
export async function mustSee(db: Knex, user: User, code: string): Promise<void> {
	const { departments } = (await companyState(db)).structure;
	const scenario = await getScenario(db, code);
	if (!maySeeScenario(user, scenario, departments)) throw notFound(`The scenario “${code}”`);
}

/** @throws Refusal 404 */
export async function getScenario(db: Knex, code: string): Promise<ListedScenario & { revision: number }> {
	if (code === ACTUALS) {
		const actuals = actualsScenario(await companyState(db));
		if (actuals) return { ...actuals, revision: 0 };
	}
	const row = (await scenarioRows(db)).find((r) => r.code === code);
	if (!row) throw notFound(`The scenario “${code}”`);
	return { ...scenarioFromRow(row), revision: row.revision };
}

/** A scenario that may be written. @throws Refusal when it is locked or holds actuals */
export async function writableScenario(db: Knex, code: string): Promise<Scenario & { revision: number }> {
	const scenario = await getScenario(db, code);
	if (scenario.kind === 'actuals') throw new Refusal(403, 'Actuals come from the ledger and are not typed.');
	if (scenario.locked) throw new Refusal(403, `“${scenario.name}” is locked. Copy it, or unlock it first.`);
	return scenario;
}

/** What is calculated from the scenario is out of date after this. */
export async function touchScenario(trx: Knex.Transaction, code: string): Promise<void> {
	await trx('scenario').where({ code }).increment('revision', 1);
}

/** The scenario's models in the form it uses, which nobody changes; the same ones as long as they read the same. */
export async function scenarioModels(db: Knex, code: string): Promise<readonly ScenarioModel[]> {
	return code === ACTUALS ? [] : readOnce(db, `models of ${code}`, () => readScenarioModels(db, code));
}

interface KeptModels {
	/** What they were made from. */
	form: string;
	models: readonly ScenarioModel[];
}
const keptModels = new WeakMap<object, Map<string, KeptModels>>();

async function readScenarioModels(db: Knex, code: string): Promise<readonly ScenarioModel[]> {
	const rows = (await db('scenario_model')
		.join('definition', 'definition.id', 'scenario_model.definition')
		.where({ scenario: code })
		.select('scenario_model.model', 'definition.content')) as { model: string; content: string }[];
	const content = new Map(rows.map((r) => [r.model, r.content]));
	const used = (await readModelRows(db)).filter((m) => content.has(m.code));
	const form = JSON.stringify(used.map((m) => [content.get(m.code), m.rows]));
	const list = keptModels.get(sharedBy(db)) ?? new Map<string, KeptModels>();
	keptModels.set(sharedBy(db), list);
	const have = list.get(code);
	if (have?.form === form) return have.models;
	const models = used.map((m) =>
		frozen({ definition: JSON.parse(content.get(m.code)!) as ModelDefinition, rows: m.rows })
	);
	if (list.size >= MOST_KEPT) list.delete(list.keys().next().value!);
	list.set(code, { form, models });
	return models;
}

/** Whoever would change what others read too is stopped. */
function frozen<T>(value: T): T {
	if (typeof value !== 'object' || value === null || Object.isFrozen(value)) return value;
	Object.values(value).forEach(frozen);
	return Object.freeze(value);
}

interface Kept {
	key: string;
	data: ScenarioData;
	plan: Plan;
}
/** Calculated scenarios, most recently used last. */
const kept = new WeakMap<object, Map<string, Kept>>();
const MOST_KEPT = 24;

/**
 * The calculated scenario.
 * @throws Refusal 404 for an unknown scenario, 422 for a model that cannot be calculated
 */
export async function planOf(db: Knex, code: string): Promise<Plan> {
	return (await keyedPlan(db, code, [])).plan;
}

/** `waiting` are the scenarios that wait for this one. */
async function keyedPlan(db: Knex, code: string, waiting: readonly string[]): Promise<Kept> {
	const state = await companyState(db);
	const scenario = await getScenario(db, code);
	if (waiting.includes(code))
		throw new Refusal(
			422,
			`These scenarios need each other's figures: ${[...waiting.slice(waiting.indexOf(code)), code].join(' → ')}. Take scenario() out of one of them.`
		);
	const path = [...waiting, code];
	const before = scenario.follows !== null ? await keyedPlan(db, scenario.follows, path) : null;
	const models = await scenarioModels(db, code);
	const references = foreignReferences(models);
	const others = new Map<string, Kept>();
	const there = new Set([ACTUALS, ...(await scenarioRows(db)).map((s) => s.code)]);
	for (const other of new Set(references.map((r) => r.scenario)))
		if (there.has(other)) others.set(other, await keyedPlan(db, other, path));
	const key = [
		state.revision,
		scenario.revision,
		before?.key ?? '',
		...[...others.values()].map((o) => o.key)
	].join('/');
	const plans = kept.get(sharedBy(db)) ?? new Map<string, Kept>();
	const have = plans.get(code);
	if (have?.key === key) {
		plans.delete(code);
		plans.set(code, have);
		return have;
	}
	const make = () => madePlan(db, key, state, scenario, before, models, references, others);
	// A transaction sees what nobody else sees yet; all others who ask at once share one answer.
	return db.isTransaction ? make() : shared(making, sharedBy(db), `${code}/${key}`, make);
}

/** Plans being made, by scenario and revision. */
const making = new WeakMap<object, Map<string, Promise<Kept>>>();

/** What several ask for at once is made once. */
function shared<T>(
	all: WeakMap<object, Map<string, Promise<T>>>,
	owner: object,
	id: string,
	make: () => Promise<T>
): Promise<T> {
	const list = all.get(owner) ?? new Map<string, Promise<T>>();
	all.set(owner, list);
	const have = list.get(id);
	if (have) return have;
	const made = make().finally(() => list.delete(id));
	list.set(id, made);
	return made;
}

async function madePlan(
	db: Knex,
	key: string,
	state: CompanyState,
	scenario: Scenario,
	before: Kept | null,
	models: readonly ScenarioModel[],
	references: ReturnType<typeof foreignReferences>,
	others: ReadonlyMap<string, Kept>
): Promise<Kept> {
	const { code } = scenario;
	const plansRead = new Map(
		[...others].map(([other, { plan }]) => [
			other,
			linesOf(
				plan,
				references.filter((r) => r.scenario === other)
			)
		])
	);
	const data = await orRefuse(scenario.name, () =>
		scenarioData(db, scenario, state, before?.plan ?? null, models, plansRead)
	);
	const keep = (plan: Plan): Kept => {
		const result = { key, data, plan };
		if (!db.isTransaction) {
			const plans = kept.get(sharedBy(db)) ?? new Map<string, Kept>();
			plans.delete(code);
			plans.set(code, result);
			if (plans.size > MOST_KEPT) plans.delete(plans.keys().next().value!);
			kept.set(sharedBy(db), plans);
		}
		return result;
	};
	return calculated(db, `${code}/${key}`, state, data, keep);
}

/** What takes no longer than this (nanoseconds, at the worst) is calculated at once; more goes to another thread. */
const AT_ONCE = 250_000_000;
/** A request waits so long for a calculation; then it is told to come again. */
const PATIENCE_MS = 600;

/** Whether trying something in it keeps nobody waiting. */
export const calculatesAtOnce = ({ calculation }: Plan): boolean => calculation.cost <= AT_ONCE;

interface Running {
	result: Promise<Kept>;
	/** Ends it. */
	callOff(): void;
}
/** Calculations under way in other threads, by scenario and revision, so that none is done twice at a time. */
const underWay = new WeakMap<object, Map<string, Running>>();
/** Those that took too long are not tried again until something changes. */
const tooLong = new Set<string>();

async function calculated(
	db: Knex,
	id: string,
	state: CompanyState,
	data: ScenarioData,
	keep: (plan: Plan) => Kept
): Promise<Kept> {
	const plan = await orRefuse(data.scenario.name, async () => buildScenario(state.structure, data));
	const { calculation } = plan;
	if (calculatesAtOnce(plan)) {
		calculation.calculate();
		return keep(plan);
	}
	const { name } = data.scenario;
	if (tooLong.has(id))
		throw new Refusal(
			422,
			`“${name}” takes too long to calculate. Use fewer rows or months, or simpler formulas: rates and present values over all periods are the slowest.`
		);
	const list = underWay.get(sharedBy(db)) ?? new Map<string, Running>();
	underWay.set(sharedBy(db), list);
	let running = list.get(id);
	if (!running) {
		const controller = new AbortController();
		const result = calculateElsewhere(packScenario(state.structure, data), controller.signal)
			.then((results) => keep({ ...plan, calculation: calculation.adopt(results) }))
			.catch((e) => {
				if (e instanceof CalledOff && e.reason === 'too-long') {
					if (tooLong.size > 1000) tooLong.clear();
					tooLong.add(id);
				}
				throw e;
			})
			.finally(() => list.delete(id));
		// Whoever waits hears of a failure; nobody may be waiting any more.
		result.catch(() => {});
		running = { result, callOff: () => controller.abort() };
		list.set(id, running);
	}
	const patience = new Promise<null>((resolve) => setTimeout(resolve, PATIENCE_MS, null).unref());
	const first = await Promise.race([running.result, patience]);
	if (first) return first;
	// What is to be saved must be seen to work; nothing may wait for a lock that long.
	if (db.isTransaction) {
		running.callOff();
		throw new Refusal(
			422,
			`“${name}” would take longer than a second to calculate, so nothing was saved. Use fewer rows or months, or simpler formulas.`
		);
	}
	throw new Refusal(503, `“${name}” is being calculated. Try again in a moment.`);
}

/** Turns a model's mistake into a refusal that names model and line. */
async function orRefuse<T>(name: string, work: () => Promise<T>): Promise<T> {
	try {
		return await work();
	} catch (e) {
		if (!(e instanceof ModelError)) throw e;
		throw new Refusal(422, `“${name}” cannot be calculated: ${e.message}`, [
			{ message: e.message, file: e.block, column: e.line }
		]);
	}
}

/**
 * All that is needed to calculate a scenario elsewhere, for those who may see all of it.
 * @throws Refusal 403, 404
 */
export async function scenarioPackage(db: Knex, user: User, code: string): Promise<ScenarioPackage> {
	const state = await companyState(db);
	mustMay(user, 'see driver models', state.structure.departments);
	await mustSee(db, user, code);
	const { data } = await keyedPlan(db, code, []);
	return packScenario(state.structure, data);
}

export async function scenarioData(
	db: Knex,
	scenario: Scenario,
	state: CompanyState,
	before: Plan | null,
	models: readonly ScenarioModel[],
	others: ReadonlyMap<string, OtherLines>
): Promise<ScenarioData> {
	const bases = (await db('basis').where({ scenario: scenario.code })) as BasisRow[];
	const adjustments = await storedAdjustments(db, scenario.code);
	return {
		scenario,
		models,
		series: scenario.kind === 'actuals' ? [] : await readSeries(db, scenario.code),
		bases: bases.map(basisFromRow),
		adjustments: adjustmentsFrom(adjustments, state.calendar),
		derived: await derivedOf(db, state, scenario, models, before),
		history: historyBefore(scenario, state, before),
		others
	};
}

/** What the ledger says for models, as long as these, the ledger and the closed months are the same. */
const derivedBefore = new WeakMap<
	readonly ScenarioModel[],
	{ state: CompanyState; through: number; series: Series[] }
>();

/** What lines of models hold in closed months: by the ledger's tags, and after it by the followed scenario. */
async function derivedOf(
	db: Knex,
	state: CompanyState,
	scenario: Scenario,
	models: readonly ScenarioModel[],
	before: Plan | null
): Promise<Series[]> {
	if (!models.some((m) => derivesActuals(m.definition))) return [];
	const through = scenario.actualsThrough ?? scenario.first - 1;
	const have = derivedBefore.get(models);
	const actual =
		have?.state === state && have.through === through
			? have.series
			: derivedSeries(models, state.structure, await taggedTotals(db, state), through);
	derivedBefore.set(models, { state, through, series: actual });
	const followed = before ? followedSeries(models, before, through + 1, firstOpen(scenario) - 1) : [];
	return [...actual, ...followed];
}

/** A scenario's adjustments in their order, also those that were adopted. */
export async function storedAdjustments(db: Knex, scenario: string): Promise<AdjustmentDefinition[]> {
	const rows = (await db('adjustment').where({ scenario }).orderBy('position')) as AdjustmentRow[];
	return rows.map(adjustmentFromRow);
}

/** What a scenario is calculated from. */
export async function dataOf(db: Knex, code: string): Promise<ScenarioData> {
	return (await keyedPlan(db, code, [])).data;
}

/** The plan of the scenario that this one follows. */
export async function planBefore(db: Knex, scenario: Scenario): Promise<Plan | null> {
	return scenario.follows === null ? null : planOf(db, scenario.follows);
}

/** Actuals, and between them and the plan's first month what the followed scenario says. */
function historyBefore(
	scenario: Scenario,
	{ actuals, structure }: CompanyState,
	before: Plan | null
): History {
	const open = firstOpen(scenario);
	const through = scenario.actualsThrough ?? scenario.first - 1;
	if (before === null || through >= open - 1) return actuals;
	const first = Math.min(actuals.first, through + 1);
	const accounts = new Map<string, Matrix>();
	for (const account of structure.accounts.all) {
		if (!structure.accounts.isLeaf(account.code)) continue;
		const matrix = newMatrix(structure.departmentRows.length, open - first);
		marksOf(matrix).fill(BLANK);
		const actual = actuals.accounts.get(account.code);
		for (let t = 0; t < matrix.periods; t++)
			for (let r = 0; r < matrix.rows; r++) {
				const p = first + t;
				const cell =
					p > through
						? before.calculation.cell(LEDGER_BLOCK, account.code, r, p)
						: actual && p >= actuals.first && p <= actuals.last
							? cellAt(actual, r, p - actuals.first)
							: null;
				if (typeof cell === 'number') setCell(matrix, r, t, cell);
			}
		accounts.set(account.code, matrix);
	}
	return { first, accounts };
}
