/** Making scenarios: of every way one function, so that whoever may not see what it comes from does not see it either. */
import type { Knex } from 'knex';
import { codeFor } from '../../core/company/code';
import { ACCOUNTS_BLOCK } from '../../core/engine/spec';
import type { Scenario } from '../../core/scenario/schema';
import type { Series } from '../../core/inputs/series';
import { isBalance } from '../../core/company/sign';
import { mustMay } from '../platform/auth/policy';
import type { User } from '../platform/auth/sessions';
import { copyParts, type ListedScenario } from '../company/subjects/scenarios';
import { insertSeries } from '../company/subjects/scenario/values';
import { note } from '../company/journal';
import { Refusal } from '../platform/refusal';
import { planOf } from './plans';
import { ACTUALS, getScenario, mustSee, visibleScenarios } from './scenarios';
import { companyState } from '../company/structure';

/** A code for a new scenario, made from its name; “6+6” gives 6-6. */
export const newScenarioCode = async (db: Knex, name: string): Promise<string> =>
	codeFor(name, '-', [ACTUALS, ...(await db('scenario').pluck('code'))], 'scenario');

/**
 * Whether no scenario that the user knows of has this name. One that is hidden may have it too: to refuse it would tell of
 * that one.
 */
export async function nameIsFree(db: Knex, user: User, name: string): Promise<boolean> {
	return name !== 'Actuals' && !(await visibleScenarios(db, user)).some((s) => s.name === name);
}

/** What a new scenario has of its own; all else it has from the one it comes from. */
export interface NewScenario {
	name: string;
	kind: Scenario['kind'];
	description?: string;
	folder?: string;
	locked?: boolean;
	last?: number;
	actualsThrough?: number | null;
}

/**
 * Puts a new scenario beside the one it comes from, still without content: seen by those who see that one and by nobody
 * else, in the same folder, over the same months unless said otherwise. Whoever makes it owns it; who owned the other
 * stays among those who see it.
 * @returns its code
 * @throws Refusal 409 for a name that is taken
 */
export async function makeScenario(
	trx: Knex.Transaction,
	user: User,
	from: ListedScenario,
	wanted: NewScenario
): Promise<string> {
	if (!(await nameIsFree(trx, user, wanted.name)))
		throw new Refusal(409, `There is a scenario named “${wanted.name}” already.`);
	const code = await newScenarioCode(trx, wanted.name);
	const { position } = (await trx('scenario').max({ position: 'position' }).first()) as {
		position: number;
	};
	const people = new Set([...from.people, from.owner].filter((p) => p && p !== user.email));
	await trx('scenario').insert({
		code,
		name: wanted.name,
		kind: wanted.kind,
		first: from.first,
		last: wanted.last ?? from.last,
		actuals_through: wanted.actualsThrough === undefined ? from.actualsThrough : wanted.actualsThrough,
		follows: from.follows,
		origin: from.code,
		locked: wanted.locked ?? false,
		description: wanted.description ?? from.description,
		folder: wanted.folder ?? from.folder,
		visibility: from.visibility,
		people: (from.visibility === 'people' ? [...people] : from.people).join(';'),
		owner: user.email,
		target: from.target,
		position: position + 1
	});
	return code;
}

/**
 * Copies what every account comes to in each department's open months, as typed figures: targets are not planned by
 * drivers.
 */
async function copyFigures(trx: Knex.Transaction, from: string, to: string): Promise<void> {
	const { structure } = await companyState(trx);
	const plan = await planOf(trx, from);
	const first = plan.open;
	const series: Series[] = [];
	for (const { code: line, type } of structure.accounts.all) {
		if (isBalance(type) || !structure.accounts.isLeaf(line)) continue;
		structure.departmentRows.forEach(({ code: row }, r) => {
			const values = Float64Array.from({ length: plan.scenario.last - first + 1 }, (_, i) => {
				const cell = plan.calculation.cell(ACCOUNTS_BLOCK, line, r, first + i);
				return typeof cell === 'number' ? cell : NaN;
			});
			if (!values.every(Number.isNaN)) series.push({ block: ACCOUNTS_BLOCK, line, row, first, values });
		});
	}
	await insertSeries(trx, to, series);
}

/** Copies a scenario under a new name. @param withNotes takes notes, items and attachments along */
export async function copyScenario(
	db: Knex,
	user: User,
	from: string,
	name: string,
	kind: Scenario['kind'],
	withNotes = false
): Promise<string> {
	return db.transaction(async (trx) => {
		const { structure } = await companyState(trx);
		mustMay(user, 'change scenarios', structure.departments);
		await mustSee(trx, user, from);
		const source = await getScenario(trx, from);
		if (source.kind === 'actuals')
			throw new Refusal(422, 'Actuals cannot be copied; close a month to make a forecast of them.');
		const code = await makeScenario(trx, user, source, { name, kind });
		if (kind === 'target' && source.kind !== 'target') await copyFigures(trx, from, code);
		else await copyParts(trx, from, code, ['always', 'with figures']);
		if (withNotes) await copyParts(trx, from, code, ['with notes']);
		await note(trx, [
			{
				user: user.email,
				kind: 'copy',
				scenario: code,
				subject: 'scenario',
				before: from,
				after: name,
				why: ''
			}
		]);
		return code;
	});
}
