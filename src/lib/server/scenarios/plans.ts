/** Calculated scenarios, kept until something they rest on changes. */
import type { Knex } from 'knex';
import { ModelError } from '../../core/engine/spec';
import type { Structure } from '../../core/company/structure';
import type { Scenario } from '../../core/scenario/schema';
import { ACCOUNTS_BLOCK } from '../../core/engine/spec';
import { inOwnPeriods, structureIn } from '../../core/scenario/calendar';
import { buildingScenario } from '../../core/scenario/assemble';
import { foreignReferences, linesOf } from '../../core/scenario/foreign';
import { reopened } from '../../core/scenario/reopened';
import { partAround, partFor } from '../../core/scenario/part';
import { packScenario, type ScenarioPackage } from '../../core/scenario/package';
import type { Plan } from '../../core/scenario/plan';
import type { ScenarioData } from '../../core/scenario/data';
import { formNames, sameForms, type Forms } from '../../core/blocks/kinds';
import { adjustmentsFrom } from '../../core/inputs/adjust';
import { adjustPlan } from '../../core/scenario/adjust-plan';
import { seriesWith, typeInto } from '../../core/scenario/type-cells';
import { ownerOf, type Personal } from '../../core/blocks/schedule/personal';
import { partWithoutPay } from '../../core/scenario/without-pay';
import { withoutRows } from '../../core/scenario/without-rows';
import { adjustsClosed, closedTo, keptFrom } from './individual-pay';
import { may } from '../platform/auth/policy';
import { CalledOff } from '../../core/thread';
import { calculateElsewhere } from '../platform/calculator/calculator';
import { sharedBy } from '../platform/db/kept';
import { scenarioData, scenarioForms } from './plan-data';
import { Ahead, inSteps } from '../platform/quiet';
import { notFound, Refusal } from '../platform/refusal';
import { getScenario, mustSee, scenarioCodes } from './scenarios';
import { companyState, type CompanyState, companyFor } from '../company/structure';
import { typedSince } from './typed-since';
import type { Context } from '../platform/context';

interface Kept {
	/** All that it rests on; the scenario's own revision, and what is around it. */
	key: string;
	around: string;
	revision: number;
	data: ScenarioData;
	plan: Plan;
	/** Columns of schedules that have been typed in since it was made: whom adjustments reach is asked of rows as they were. */
	retyped: ReadonlySet<string>;
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

/** Calculates a scenario before anybody asks for it, step by step. */
export async function planAhead(db: Knex, code: string): Promise<void> {
	await keyedPlan(db, code, [], new Ahead());
}

/**
 * @param waiting the scenarios that wait for this one
 * @param ahead where nobody waits for any of them
 */
async function keyedPlan(
	db: Knex,
	code: string,
	waiting: readonly string[],
	ahead: Ahead | null = null
): Promise<Kept> {
	const state = await companyState(db);
	const scenario = await getScenario(db, code);
	if (waiting.includes(code))
		throw new Refusal(
			422,
			`These scenarios need each other's figures: ${[...waiting.slice(waiting.indexOf(code)), code].join(' → ')}. Take scenario() out of one of them.`
		);
	const path = [...waiting, code];
	const before = scenario.follows !== null ? await keyedPlan(db, scenario.follows, path, ahead) : null;
	const forms = await scenarioForms(db, code);
	const references = foreignReferences(forms);
	const others = new Map<string, Kept>();
	const there = await scenarioCodes(db);
	for (const other of new Set(references.map((r) => r.scenario)))
		if (there.has(other)) others.set(other, await keyedPlan(db, other, path, ahead));
	const around = [state.footing.id, before?.key ?? '', ...[...others.values()].map((o) => o.key)].join('/');
	const { revision } = scenario;
	// Rows of models are the company's: no scenario counts that they came or went.
	const key = keyFrom(revision, forms, around);
	const kept = keptPlan(db, code);
	if (kept?.around === around) {
		const have = asOfToday(
			kept,
			structureIn(state.structure, scenario),
			inOwnPeriods(scenario, state.calendar)
		);
		// What a transaction calls things is nobody else's.
		if (have.key === key) return db.isTransaction ? have : keep(db, code, have);
		const followed = db.isTransaction ? null : followedUp(db, have, revision, forms);
		if (followed) return keep(db, code, followed);
	}
	const based = { key, around, revision };
	const make = () => madePlan(db, based, state, scenario, before, forms, references, others, ahead);
	// A transaction sees what nobody else sees yet; all others who ask at once share one answer.
	return db.isTransaction ? make() : shared(sharedBy(db), `${code}/${key}`, make, ahead);
}

const keptPlan = (db: Knex, code: string): Kept | undefined => kept.get(sharedBy(db))?.get(code);

/** Forms are the very same as long as they read the same. */
const formIds = new WeakMap<object, number>();
let formsSeen = 0;
function idOf(forms: object): number {
	const id = formIds.get(forms) ?? ++formsSeen;
	formIds.set(forms, id);
	return id;
}
const keyFrom = (revision: number, forms: Forms, around: string): string =>
	[revision, ...formNames.map((kind) => idOf(forms[kind])), around].join('/');

/** Kept plans as somebody has asked for them last. */
const asked = new WeakMap<Plan['calculation'], Plan>();

/** The same figures in a structure and a scenario that have come to be called or arranged otherwise. */
function asOfToday(kept: Kept, structure: Structure, scenario: Scenario): Kept {
	const said = saysTheSame(kept.data.scenario, scenario);
	if (said && kept.plan.structure === structure) return kept;
	const { calculation } = kept.plan;
	const data = said ? kept.data : { ...kept.data, scenario };
	const last = asked.get(calculation);
	const plan =
		last?.structure === structure && saysTheSame(last.scenario, scenario)
			? last
			: { ...reopened(kept.plan, structure, data), scenario };
	asked.set(calculation, plan);
	return { ...kept, plan, data };
}

/** Whether all that is said of a scenario is the same, its periods and closed months too. */
const saysTheSame = (a: Scenario, b: Scenario): boolean =>
	JSON.stringify(words(a)) === JSON.stringify(words(b));
const words = (scenario: Scenario & { revision?: number }) => ({ ...scenario, revision: 0 });

function keep(db: Knex, code: string, plan: Kept): Kept {
	const plans = kept.get(sharedBy(db)) ?? new Map<string, Kept>();
	kept.set(sharedBy(db), plans);
	plans.delete(code);
	plans.set(code, plan);
	if (plans.size > MOST_KEPT) plans.delete(plans.keys().next().value!);
	return plan;
}

/**
 * The plan at a later revision, where nothing but cells, values of rows and adjustments has been typed since: these are put
 * in, and what depends on them is calculated. Null where it must be made anew.
 */
function followedUp(db: Knex, have: Kept, revision: number, forms: Forms): Kept | null {
	const { plan, data, around } = have;
	const { scenario } = data;
	const typed = typedSince(db, scenario.code, have.revision, revision);
	if (!typed) return null;
	const { cells, values } = typed;
	const adjustments = typed.adjustments
		? adjustmentsFrom(typed.adjustments, plan.structure.calendar)
		: data.adjustments;
	const changed = typed.adjustments !== null && adjustments !== undefined;
	if (!sameForms(have.data, values.length ? { ...forms, schedules: have.data.schedules } : forms))
		return null;
	const retyped = new Set([...have.retyped, ...values.map((v) => v.column)]);
	if (adjustments?.some((a) => a.steps.some((s) => Object.keys(s.where).some((of) => retyped.has(of)))))
		return null;
	if (changed && !plan.inputs.takes(adjustments)) return null;
	// What has been typed when the rest takes too long is typed in once more by whoever asks next, and changes nothing.
	if (!typeInto(plan, cells, values, AT_ONCE)) return null;
	if (changed && !adjustPlan(plan, adjustments, AT_ONCE)) return null;
	const next = {
		...data,
		adjustments,
		...(values.length ? { schedules: forms.schedules } : {}),
		series: seriesWith(data.series, cells)
	};
	return {
		key: keyFrom(revision, forms, around),
		around,
		revision,
		plan: values.length ? reopened(plan, plan.structure, next) : plan,
		data: next,
		retyped
	};
}

/** Plans being made, by scenario and revision. */
const making = new WeakMap<object, Map<string, { made: Promise<Kept>; ahead: Ahead | null }>>();

/** What several ask for at once is made once; ahead of them until one of them waits for it. */
function shared(owner: object, id: string, make: () => Promise<Kept>, ahead: Ahead | null): Promise<Kept> {
	const list = making.get(owner) ?? new Map<string, { made: Promise<Kept>; ahead: Ahead | null }>();
	making.set(owner, list);
	const have = list.get(id);
	if (have) {
		if (!ahead) have.ahead?.waitFor();
		return have.made;
	}
	const made = make().finally(() => list.delete(id));
	list.set(id, { made, ahead });
	return made;
}

async function madePlan(
	db: Knex,
	based: Pick<Kept, 'key' | 'around' | 'revision'>,
	state: CompanyState,
	scenario: Scenario,
	before: Kept | null,
	forms: Forms,
	references: ReturnType<typeof foreignReferences>,
	others: ReadonlyMap<string, Kept>,
	ahead: Ahead | null
): Promise<Kept> {
	const { code } = scenario;
	await ahead?.next();
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
		scenarioData(db, scenario, state, before?.plan ?? null, forms, plansRead)
	);
	const kept = (plan: Plan): Kept => {
		const made = { ...based, data, plan, retyped: new Set<string>() };
		return db.isTransaction ? made : keep(db, code, made);
	};
	return calculated(db, `${code}/${based.key}`, state, data, kept, ahead);
}

/**
 * What takes no longer than this (nanoseconds, at the worst) is calculated at once; more goes to another thread, which has
 * to build the scenario once more: that takes longer than calculating so much.
 */
export const AT_ONCE = 400_000_000;
/** A request waits so long for a calculation; then it is told to come again. */
const PATIENCE_MS = 600;

const calculatesAtOnce = ({ calculation }: Plan): boolean => calculation.cost <= AT_ONCE;

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
	keep: (plan: Plan) => Kept,
	ahead: Ahead | null
): Promise<Kept> {
	const plan = await orRefuse(data.scenario.name, () =>
		inSteps(buildingScenario(structureIn(state.structure, data.scenario), data), ahead)
	);
	const { calculation } = plan;
	if (calculatesAtOnce(plan)) {
		await inSteps(calculation.calculating(), ahead);
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
		const result = calculateElsewhere(
			packScenario(structureIn(state.structure, data.scenario), data),
			controller.signal
		)
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
 * @param model only what this driver model is made of
 * @throws Refusal 403, 404
 */
export async function scenarioPackage(
	context: Context,
	code: string,
	model: string | null = null
): Promise<ScenarioPackage> {
	const { db } = context;
	const state = await companyFor(context, 'see driver models');
	await mustSee(context, code);
	const { plan, data: whole } = await keyedPlan(db, code, []);
	if (model !== null && (model === ACCOUNTS_BLOCK || !plan.blocks.has(model)))
		throw notFound(`A driver model “${model}”`);
	const structure = structureIn(state.structure, whole.scenario);
	const definitions = [...plan.schedules.values()].map((s) => s.definition);
	const data = withoutTelling(whole, closedTo(context.user, definitions, state.structure));
	// Who may not see rows of schedules, or not what people in them earn, gets what they come to.
	const all = !may(context.user, 'see schedules', state.structure.departments);
	const personal = keptFrom(context.user, definitions, state.structure);
	if (!all && model !== null && personal.has(ownerOf(model))) {
		const part = partWithoutPay(structure, data, model, personal);
		if (!part)
			throw new Refusal(
				409,
				'This schedule is calculated when it is saved: its lines rest on individual pay.'
			);
		return packScenario(structure, part);
	}
	const part = (of: typeof partFor) => (model === null ? data : of(plan, data, model));
	return packScenario(
		structure,
		all || personal.size
			? withoutRows(plan, part(partFor), (code) => all || personal.has(code))
			: part(partAround)
	);
}

/** With adjustments of schedules that are closed to somebody as far as they are in the figures, and no word of them. */
function withoutTelling(data: ScenarioData, closed: Personal): ScenarioData {
	if (!data.adjustments?.some((a) => adjustsClosed(a, closed))) return data;
	let told = 0;
	return {
		...data,
		adjustments: data.adjustments.flatMap((a, i) => {
			if (adjustsClosed(a, closed)) return a.on ? [{ ...a, code: String(i), name: '', untold: told }] : [];
			told++;
			return [a];
		})
	};
}

/** The calculated scenario with what it was calculated from, at one and the same time. */
export async function planWithData(db: Knex, code: string): Promise<Pick<Kept, 'plan' | 'data'>> {
	return keyedPlan(db, code, []);
}

/** What a scenario is calculated from. */
export async function dataOf(db: Knex, code: string): Promise<ScenarioData> {
	return (await keyedPlan(db, code, [])).data;
}

/** The plan of the scenario that this one follows. */
export async function planBefore(db: Knex, scenario: Scenario): Promise<Plan | null> {
	return scenario.follows === null ? null : planOf(db, scenario.follows);
}
