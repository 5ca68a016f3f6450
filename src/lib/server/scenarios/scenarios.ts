/** Scenarios: which there are, who may know of them, and which may be written. */
import { z } from 'zod';
import type { Knex } from 'knex';
import type { Scenario } from '../../core/scenario/schema';
import { maySeeScenario } from '../platform/auth/policy';
import { type ListedScenario, scenarioFromRow, ScenarioRow } from '../company/subjects/scenarios';
import { readOnce, type Tables } from '../platform/db/kept';
import { notFound, Refusal } from '../platform/refusal';
import { companyState, type CompanyState } from '../company/structure';
import * as stored from '../platform/db/stored';
import type { Context } from '../platform/context';

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
		target: null,
		rates: null
	};
}

const SCENARIOS: Tables = ['scenario'];
const scenarioRows = (db: Knex) =>
	readOnce(
		db,
		'scenarios',
		() => stored.rows(ScenarioRow, db('scenario').whereNull('deleted').orderBy('position')),
		SCENARIOS
	);

/** Codes of all scenarios, actuals among them. */
export const scenarioCodes = async (db: Knex): Promise<ReadonlySet<string>> =>
	new Set([ACTUALS, ...(await scenarioRows(db)).map((s) => s.code)]);

/** All scenarios in their order, actuals first. */
export async function listScenarios(db: Knex): Promise<ListedScenario[]> {
	const state = await companyState(db);
	const actuals = actualsScenario(state);
	const rows = await scenarioRows(db);
	return [...(actuals ? [actuals] : []), ...rows.map(scenarioFromRow)];
}

/** Scenarios that a user may know of. */
export async function visibleScenarios(context: Context): Promise<ListedScenario[]> {
	const { db, user } = context;
	const { departments } = (await companyState(db)).structure;
	return (await listScenarios(db)).filter((s) => maySeeScenario(user, s, departments));
}

/** The same for lists: what they follow, come from or are measured by is named only where it is visible too. */
export async function listedFor(context: Context): Promise<ListedScenario[]> {
	const list = await visibleScenarios(context);
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
export async function namedFor(context: Context, codes: readonly string[]): Promise<string> {
	const seen = (await visibleScenarios(context)).filter((s) => codes.includes(s.code));
	const hidden = codes.length - seen.length;
	return [
		...seen.map((s) => `“${s.name}”`),
		...(hidden
			? [hidden === 1 ? 'a scenario that is hidden from you' : `${hidden} scenarios that are hidden from you`]
			: [])
	].join(', ');
}

/** @throws Refusal 404 for a scenario that is not there, or not there for this user */
export async function mustSee(context: Context, code: string): Promise<void> {
	const { db, user } = context;
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

const Revised = z.object({ revision: stored.whole });

/** What is calculated from the scenario is out of date after this. Answers its new revision. */
export async function touchScenario(trx: Knex.Transaction, code: string): Promise<number> {
	const [row] = await stored.rows(
		Revised,
		trx('scenario').where({ code }).increment('revision', 1).returning('revision')
	);
	return row.revision;
}
