/** Keeping scenarios: where they stand, who sees them, how far they reach; deleting them, and bringing them back. */
import { mustBeOn } from '../company/modules';
import type { Knex } from 'knex';
import { carrySeries } from '../../core/scenario/carry';
import { scenarioFaults } from '../../core/scenario/check-scenarios';
import { maySeeScenario } from '../platform/auth/policy';
import { allUsers, type User } from '../platform/auth/sessions';
import { readSeries, insertSeries } from '../company/subjects/scenario/values';
import { type ListedScenario, scenarioFromRow, ScenarioRow } from '../company/subjects/scenarios';
import { mustBeSound } from './soundness';
import { note } from '../company/journal';
import { notFound, Refusal } from '../platform/refusal';
import { keepingToThoseWhoSee, readingOthers } from './rests-on';
import { nameIsFree } from './making';
import { scenarioBlocks } from './plan-data';
import { planOf } from './plans';
import {
	ACTUALS,
	getScenario,
	listedFor,
	listScenarios,
	mustSee,
	namedFor,
	touchScenario,
	visibleScenarios,
	writableScenario
} from './scenarios';
import { rememberTyped } from './typed-since';
import { companyState, companyFor } from '../company/structure';
import * as stored from '../platform/db/stored';
import { RoundRow } from '../company/subjects/rounds';
import { asOne, type Context } from '../platform/context';
import { timestamp } from '../platform/settings';

export interface ScenarioEntry extends ListedScenario {
	ownerName: string;
	/** What rests on it, in words: plans that look back through it, rounds, formulas. */
	usedIn: string[];
}

/** The scenarios a user sees, with what rests on each. */
export async function scenarioEntries(context: Context): Promise<ScenarioEntry[]> {
	const { db } = context;
	const list = await listedFor(context);
	const names = new Map((await allUsers(db)).map((u) => [u.email, u.name]));
	const uses = await usesOfAll(db, list);
	return list.map((s) => ({ ...s, ownerName: names.get(s.owner) ?? '', usedIn: uses.get(s.code) ?? [] }));
}

/** Which scenarios rest on others, by formulas, by looking back, or by a round. */
async function usesOfAll(db: Knex, list: readonly ListedScenario[]): Promise<Map<string, string[]>> {
	const uses = new Map<string, string[]>();
	const add = (code: string, words: string) => uses.set(code, [...(uses.get(code) ?? []), words]);
	for (const round of await stored.rows(RoundRow, db('round').orderBy('position')))
		add(round.scenario, `round ${round.name}`);
	for (const s of list) if (s.follows !== null) add(s.follows, s.name);
	for (const s of list) if (s.target !== null) add(s.target, `targets of ${s.name}`);
	const names = new Map(list.map((s) => [s.code, s.name]));
	for (const { scenario, others } of await readingOthers(db))
		if (names.has(scenario)) for (const other of others) add(other, `formulas of ${names.get(scenario)}`);
	return uses;
}

/** Scenarios that rest on one and that the user may not see. */
async function hiddenUses(context: Context, code: string): Promise<string[]> {
	const { db } = context;
	const seen = new Set((await visibleScenarios(context)).map((s) => s.code));
	const all = (await listScenarios(db)).filter((s) => !seen.has(s.code));
	const reading = (await readingOthers(db)).filter((r) => r.others.includes(code)).map((r) => r.scenario);
	return all
		.filter((s) => s.follows === code || s.target === code || reading.includes(s.code))
		.map((s) => s.code);
}

/** @throws Refusal 422 where a scenario follows, or takes its actuals from, what is no longer there */
async function mustStandAmong(db: Knex, code: string): Promise<void> {
	const { actuals, calendar } = await companyState(db);
	const plans = (await listScenarios(db)).filter((s) => s.kind !== 'actuals');
	const faults = scenarioFaults(plans, actuals.last, calendar).filter((f) => f.scenario === code);
	if (faults.length)
		throw new Refusal(422, `It does not fit what the company is today: ${faults[0].message}.`, faults);
}

export interface ScenarioChange {
	name?: string;
	description?: string;
	folder?: string;
	visibility?: ListedScenario['visibility'];
	people?: string[];
	/** The scenario that holds its targets. */
	target?: string | null;
	/** The set of exchange rates that it is translated by; null: that of actuals. */
	rates?: string | null;
	/** A later last month. */
	last?: number;
}

const LONGEST_YEARS = 10;

/** Changes what a scenario is called, where it stands, who sees it, or how far it reaches. */
export async function changeScenario(context: Context, code: string, change: ScenarioChange): Promise<void> {
	const { user } = context;
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const { calendar, rateSets } = await companyFor(within, 'change scenarios');
		await mustSee(within, code);
		const scenario = await getScenario(trx, code);
		if (scenario.kind === 'actuals')
			throw new Refusal(422, 'Actuals come from the ledger and stay as they are.');
		const row: Record<string, unknown> = {};
		if (change.name !== undefined && change.name !== scenario.name) {
			if (!(await nameIsFree(within, change.name)))
				throw new Refusal(409, `There is a scenario named “${change.name}” already.`);
			row.name = change.name;
		}
		if (change.description !== undefined) row.description = change.description;
		if (change.folder !== undefined)
			row.folder = change.folder
				.split('/')
				.map((part) => part.trim())
				.filter(Boolean)
				.join('/');
		if (change.visibility !== undefined) {
			if (change.visibility !== 'all' && (await trx('round').where({ scenario: code }).first('code')))
				throw new Refusal(
					422,
					`A round collects into “${scenario.name}”: everybody who plans in it has to see it.`
				);
			row.visibility = change.visibility;
		}
		if (change.people !== undefined) {
			const known = new Set(await stored.texts(trx('user').pluck('email')));
			const unknown = change.people.find((p) => !known.has(p));
			if (unknown) throw new Refusal(422, `There is no user “${unknown}”.`);
			row.people = change.people.join(';');
		}
		if (change.target !== undefined && change.target !== scenario.target) {
			if (change.target !== null) {
				await mustBeOn(within, 'targets');
				await mustSee(within, change.target);
				if (change.target === code || change.target === ACTUALS)
					throw new Refusal(422, 'Targets are held by another scenario.');
			}
			row.target = change.target;
		}
		if (change.rates !== undefined && change.rates !== (scenario.rates ?? null)) {
			await writableScenario(trx, code);
			if (change.rates !== null && !rateSets.some((s) => s.code === change.rates))
				throw notFound(`The set of rates “${change.rates}”`);
			row.rates = change.rates;
		}
		// Whoever hides a scenario goes on seeing it.
		if (row.visibility === 'people' && scenario.owner === '') row.owner = user.email;
		if (change.last !== undefined && change.last !== scenario.last) {
			await writableScenario(trx, code);
			if (change.last < scenario.last)
				throw new Refusal(
					422,
					'A scenario is made longer here, never shorter: nothing typed is thrown away.'
				);
			if (change.last - scenario.first >= LONGEST_YEARS * calendar.periodsPerYear)
				throw new Refusal(422, `A scenario spans at most ${LONGEST_YEARS} years.`);
			const series = carrySeries(
				await readSeries(trx, code),
				await scenarioBlocks(trx, code),
				{ had: scenario.last, last: change.last, calendar },
				'year-ago'
			);
			await trx('series').where({ scenario: code }).delete();
			await insertSeries(trx, code, series);
			row.last = change.last;
		}
		const before = scenario as unknown as Record<string, unknown>;
		const shown = (key: string, v: unknown) =>
			key === 'last' ? calendar.key(v as number) : Array.isArray(v) ? v.join(';') : String(v ?? '');
		const changes = Object.entries(row).filter(([key, v]) => shown(key, before[key]) !== shown(key, v));
		if (!changes.length) return;
		await keepingToThoseWhoSee(within, () =>
			trx('scenario').where({ code }).update(Object.fromEntries(changes))
		);
		await note(
			trx,
			changes.map(([key, value]) => ({
				user: user.email,
				kind: 'scenario',
				scenario: code,
				about: { what: 'scenario' as const, field: key },
				before: shown(key, before[key]),
				after: shown(key, value),
				why: ''
			}))
		);
		const revision = await touchScenario(trx, code);
		if (row.last === undefined && row.rates === undefined) rememberTyped(trx, code, revision, {});
		if (row.last !== undefined) await planOf(trx, code);
	});
}

/**
 * Deletes a scenario; it can be brought back.
 * @throws Refusal 422 while something rests on it
 */
export async function deleteScenario(context: Context, code: string): Promise<void> {
	const { user } = context;
	await asOne(context, async (within) => {
		const { db: trx } = within;
		await companyFor(within, 'change scenarios');
		await mustSee(within, code);
		const scenario = await writableScenario(trx, code);
		// What rests on it unseen by this user counts too, and is not told by name.
		const uses = (await usesOfAll(trx, await visibleScenarios(within))).get(code) ?? [];
		const hidden = await hiddenUses(within, code);
		if (hidden.length) uses.push(await namedFor(within, hidden));
		if (uses.length)
			throw new Refusal(
				422,
				`“${scenario.name}” is used in ${uses.join(', ')}, and cannot be deleted before.`
			);
		await trx('scenario').where({ code }).update({ deleted: timestamp() });
		await note(trx, [entry(user, code, scenario.name, '')]);
	});
}

/** Brings a deleted scenario back, under another name when its own is taken by now. */
export async function restoreScenario(context: Context, code: string): Promise<string> {
	const { user } = context;
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const { structure } = await companyFor(within, 'change scenarios');
		const row = await stored.row(
			ScenarioRow,
			trx('scenario').where({ code }).whereNotNull('deleted').first()
		);
		// One that is hidden is no more there than one that never was.
		if (!row || !maySeeScenario(user, scenarioFromRow(row), structure.departments))
			throw notFound(`The deleted scenario “${code}”`);
		// Older versions gave names free by changing them.
		const own = row.name.replace(/ \(deleted [^)]*\)$/, '');
		let name = own;
		for (let n = 2; !(await nameIsFree(within, name)); n++) name = `${own} ${n}`;
		await keepingToThoseWhoSee(within, () => trx('scenario').where({ code }).update({ deleted: null, name }));
		await touchScenario(trx, code);
		await mustStandAmong(trx, code);
		await mustBeSound(trx, code);
		await note(trx, [entry(user, code, '', name)]);
		return name;
	});
}

const entry = (user: User, scenario: string, before: string, after: string) => ({
	user: user.email,
	kind: 'delete',
	scenario,
	about: { what: 'scenario' as const, field: 'scenario' },
	before,
	after,
	why: ''
});
