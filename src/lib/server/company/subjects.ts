/**
 * Everything that a company keeps. Saving and loading a folder, storing, copying and the list of files in the
 * documentation go over this list; each subject may ask those before it.
 */
import type { Knex } from 'knex';
import { calendarOf } from '../../core/calendar/calendar-of';
import { heldBy, type ModuleCounts } from '../../core/company/modules';
import { deferForeignKeys } from '../platform/db/bulk';
import { Refusal } from '../platform/refusal';
import { Reading, type Assumption } from './reading';
import type { Held, Holding } from './holding';
import type { Subject } from './subject';
import { ACCOUNTS } from './subjects/accounts';
import { CLOSED_THROUGH, COMPANY, FILE, hasCompany } from './subjects/company';
import { DEPARTMENTS, ENTITIES } from './subjects/departments';
import { DIMENSIONS } from './subjects/dimensions';
import { ENTRIES } from './subjects/entries';
import { FEED_RUNS } from './subjects/feed-runs';
import { JOURNAL } from './subjects/journal';
import { LEDGER_ACCOUNTS } from './subjects/ledger-accounts';
import { MODELS } from './subjects/models';
import { PROFILES } from './subjects/profiles';
import { RATES } from './subjects/rates';
import { ROUNDS, SUBMISSIONS, SUBMISSION_EVENTS } from './subjects/rounds';
import { RULES } from './subjects/rules';
import { SCENARIOS } from './subjects/scenarios';
import { SCHEDULES } from './subjects/schedules';
import { USERS } from './subjects/users';
import { Writing } from './writing';

export const SUBJECTS = [
	COMPANY,
	CLOSED_THROUGH,
	ACCOUNTS,
	ENTITIES,
	DEPARTMENTS,
	DIMENSIONS,
	LEDGER_ACCOUNTS,
	ENTRIES,
	RATES,
	MODELS,
	SCHEDULES,
	RULES,
	PROFILES,
	SCENARIOS,
	USERS,
	ROUNDS,
	SUBMISSIONS,
	SUBMISSION_EVENTS,
	FEED_RUNS,
	JOURNAL
] as const;

/** A whole company as plain data: what a folder holds and a database stores. */
export type CompanyData = Held<typeof SUBJECTS>;

/** A company that holds no more than is said of it. Beside the company itself and what is closed, subjects are lists. */
export function companyOf(held: Pick<CompanyData, 'company'> & Partial<CompanyData>): CompanyData {
	const none = Object.fromEntries(SUBJECTS.map(({ name }) => [name, []]));
	return { ...none, closedThrough: null, ...held } as unknown as CompanyData;
}

type AnySubject = Subject<keyof CompanyData, unknown>;
const each = SUBJECTS as readonly AnySubject[];

const countsOf = ({
	company,
	entities,
	rateSets,
	rounds,
	rules,
	profiles,
	scenarios
}: CompanyData): ModuleCounts => ({
	rounds: rounds.length,
	targetScenarios: scenarios.filter((s) => s.scenario.kind === 'target').length,
	adjustments: scenarios.reduce((n, s) => n + s.adjustments.length, 0),
	whatIfs: scenarios.filter((s) => s.scenario.kind === 'what-if').length,
	rules: rules.length,
	profiles: profiles.length,
	foreignEntities: entities.filter((e) => e.currency !== company.currency).length,
	rateSets: rateSets.length
});

/**
 * Reads a company from the files of a folder, path → content, and checks that all of it fits together.
 * @param assumed is given what an earlier version did not write, and what is taken for it
 * @throws Refusal with every fault, by file, row and column
 */
export function readCompany(files: ReadonlyMap<string, string>, assumed?: Assumption[]): CompanyData {
	const folder = new Reading(files);
	for (const subject of each) folder.take(subject);
	if (folder.faults.length) throw folder.refusal();
	const data = folder.all() as unknown as CompanyData;
	const held = heldBy(countsOf(data));
	// What is off is out of sight: nothing that counts may be hidden by it.
	for (const module of data.company.off ?? [])
		folder.expect(
			held[module] === undefined,
			FILE,
			undefined,
			'off',
			`“${module}” is off, and ${held[module]}; leave it out of the list`
		);
	if (folder.faults.length) throw folder.refusal();
	assumed?.push(...folder.assumed);
	return data;
}

/** A company as files of a folder: path → content. The same company always gives the same files. */
export function writeCompany(data: CompanyData): Map<string, string> {
	const folder = new Writing(data, calendarOf(data.company.calendar));
	for (const subject of each) subject.write(data[subject.name], folder);
	return folder.files;
}

/**
 * Stores a company in an empty database; all or nothing.
 * @throws Refusal when the database holds a company already
 */
export async function storeCompany(db: Knex, data: CompanyData): Promise<void> {
	const held: Holding = { of: ({ name }) => data[name as keyof CompanyData] as never };
	await db.transaction(async (trx) => {
		if (await hasCompany(trx))
			throw new Refusal(
				409,
				'The database holds a company already. Load into an empty one, or move the file away first.'
			);
		// Parents may be listed below their children, and scenarios below those that follow them.
		await deferForeignKeys(trx);
		for (const subject of each) await subject.store(trx, data[subject.name], held);
	});
}

/** Everything the database holds of the company, without passwords and sessions. */
export async function readStored(db: Knex): Promise<CompanyData> {
	const data: Record<string, unknown> = {};
	for (const subject of SUBJECTS) data[subject.name] = await subject.load(db);
	return data as unknown as CompanyData;
}
