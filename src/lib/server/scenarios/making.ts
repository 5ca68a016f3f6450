/** Making scenarios: of every way one function, so that whoever may not see what it comes from does not see it either. */
import type { Knex } from 'knex';
import { laterYearsText, type LaterYears } from '../../core/calendar/spec';
import { carrySeries } from '../../core/scenario/carry';
import { scenarioFaults } from '../../core/scenario/check-scenarios';
import { convertSeries } from '../../core/inputs/convert';
import { codeFor } from '../../core/company/code';
import { ACCOUNTS_BLOCK } from '../../core/engine/spec';
import type { Beginning, Scenario } from '../../core/scenario/schema';
import { isMoney } from '../../core/currency/rates';
import type { BasisEntry } from '../../core/inputs/basis';
import type { Extend } from '../../core/inputs/extend';
import type { Series } from '../../core/inputs/series';
import { isBalance } from '../../core/company/sign';
import { storeBases } from '../company/subjects/scenario/bases';
import { copyParts, type ListedScenario } from '../company/subjects/scenarios';
import { insertSeries, readSeries } from '../company/subjects/scenario/values';
import { note } from '../company/journal';
import { mustBeOn } from '../company/modules';
import { Refusal } from '../platform/refusal';
import { planOf } from './plans';
import { scenarioBlocks } from './plan-data';
import { ACTUALS, getScenario, listScenarios, mustSee, visibleScenarios } from './scenarios';
import { companyState, companyFor } from '../company/structure';
import * as stored from '../platform/db/stored';
import { asOne, type Context, type Within } from '../platform/context';

/** A code for a new scenario, made from its name; “6+6” gives 6-6. */
export const newScenarioCode = async (db: Knex, name: string): Promise<string> =>
	codeFor(name, '-', [ACTUALS, ...(await stored.texts(db('scenario').pluck('code')))], 'scenario');

/**
 * Whether no scenario that the user knows of has this name. One that is hidden may have it too: to refuse it would tell of
 * that one.
 */
export async function nameIsFree(context: Context, name: string): Promise<boolean> {
	return name !== 'Actuals' && !(await visibleScenarios(context)).some((s) => s.name === name);
}

/** What a new scenario has of its own; all else it has from the one it comes from. */
export interface NewScenario {
	name: string;
	kind: Scenario['kind'];
	description?: string;
	folder?: string;
	locked?: boolean;
	last?: number;
	laterYears?: LaterYears | null;
	actualsThrough?: number | null;
	/** The set of exchange rates; null: that of actuals. */
	rates?: string | null;
}

/**
 * Puts a new scenario beside the one it comes from, still without content: seen by those who see that one and by nobody
 * else, in the same folder, over the same months unless said otherwise. Whoever makes it owns it; who owned the other
 * stays among those who see it.
 * @returns its code
 * @throws Refusal 409 for a name that is taken
 */
export async function makeScenario(
	context: Within,
	from: ListedScenario,
	wanted: NewScenario
): Promise<string> {
	const { db: trx, user } = context;
	if (!(await nameIsFree(context, wanted.name)))
		throw new Refusal(409, `There is a scenario named “${wanted.name}” already.`);
	const code = await newScenarioCode(trx, wanted.name);
	const { position } = await stored.one(
		stored.lastPlace,
		trx('scenario').max({ position: 'position' }).first()
	);
	const people = new Set([...from.people, from.owner].filter((p) => p && p !== user.email));
	await trx('scenario').insert({
		code,
		name: wanted.name,
		kind: wanted.kind,
		first: from.first,
		last: wanted.last ?? from.last,
		later_years: laterYearsText(wanted.laterYears === undefined ? from.laterYears : wanted.laterYears),
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
		rates: (wanted.rates === undefined ? from.rates : wanted.rates) ?? null,
		position: (position ?? -1) + 1
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

/**
 * Every planned account as the year before, in each department where the other scenario has anything of it; amounts grow
 * by a share a year, and what is counted stays.
 */
async function growingBases(trx: Knex.Transaction, from: string, share: number): Promise<BasisEntry[]> {
	const { structure } = await companyState(trx);
	const { calculation } = await planOf(trx, from);
	const { first, length } = calculation.axisOf(ACCOUNTS_BLOCK);
	return structure.accounts.all.flatMap((account) => {
		const { code, type } = account;
		if (isBalance(type) || type === 'rate' || !structure.accounts.isLeaf(code)) return [];
		const basis = { kind: 'last-year' as const, percent: isMoney(account) ? share : 0 };
		return structure.departmentRows.flatMap((department, row) => {
			for (let t = 0; t < length; t++) {
				const cell = calculation.cell(ACCOUNTS_BLOCK, code, row, first + t);
				if (cell !== null && cell !== 0) return [{ account: code, department: department.code, basis }];
			}
			return [];
		});
	});
}

/** @throws Refusal 422 for a span or later years that a scenario cannot have */
async function mustStandAlone(trx: Knex.Transaction, code: string): Promise<void> {
	const { actuals, calendar } = await companyState(trx);
	const plans = (await listScenarios(trx)).filter((s) => s.kind !== 'actuals');
	const faults = scenarioFaults(plans, actuals.last, calendar).filter((f) => f.scenario === code);
	if (faults.length) throw new Refusal(422, `It cannot be made so: ${faults[0].message}.`, faults);
}

/** How far a copy reaches, and how its later years are divided, where that is other than in what it comes from. */
export interface CopyPeriods {
	last?: number;
	laterYears?: LaterYears | null;
}

/**
 * Typed values of a copy whose periods may be others: carried on into what is longer, each line as it says, and then into
 * what is coarser, or finer.
 * @param accounts how typed accounts are carried on
 */
export async function copyValues(
	trx: Knex.Transaction,
	from: ListedScenario,
	to: string,
	accounts: Extend = 'year-ago'
): Promise<void> {
	const { calendar } = await companyState(trx);
	const copy = await getScenario(trx, to);
	const [blocks, own] = [await scenarioBlocks(trx, from.code), await scenarioBlocks(trx, to)];
	const longer = { had: from.last, last: copy.last, calendar };
	const series = carrySeries(await readSeries(trx, from.code), blocks, longer, accounts);
	await insertSeries(
		trx,
		to,
		series.map((s) => {
			const [was, now] = [blocks.get(s.block), own.get(s.block)];
			const how = was?.line(s.line)?.overTime;
			return was && now && how ? convertSeries(s, was.calendar, now.calendar, how) : s;
		})
	);
}

/**
 * Copies a scenario under a new name.
 * @param withNotes takes notes, items and attachments along
 */
export async function copyScenario(
	context: Context,
	from: string,
	name: string,
	kind: Scenario['kind'],
	withNotes = false,
	periods: CopyPeriods = {},
	begins: Beginning = { with: 'figures' }
): Promise<string> {
	const { user } = context;
	return asOne(context, async (within) => {
		const { db: trx } = within;
		await companyFor(within, 'change scenarios');
		await mustSee(within, from);
		if (kind === 'what-if') await mustBeOn(within, 'what-ifs');
		if (kind === 'target') await mustBeOn(within, 'targets');
		const source = await getScenario(trx, from);
		if (source.kind === 'actuals')
			throw new Refusal(422, 'Actuals cannot be copied; close a month to make a forecast of them.');
		if (periods.last !== undefined && periods.last < source.last)
			throw new Refusal(422, 'A copy reaches as far as what it comes from, or further.');
		const code = await makeScenario(within, source, { name, kind, ...periods });
		const other = periods.last !== undefined || periods.laterYears !== undefined;
		const figures = kind === 'target' && source.kind !== 'target';
		if (figures && other)
			throw new Refusal(422, 'Targets have the periods of the plan that is to reach them.');
		if (kind === 'target' && begins.with !== 'figures')
			throw new Refusal(422, 'Targets begin with the figures of the plan that is to reach them.');
		if (withNotes && begins.with !== 'figures')
			throw new Refusal(422, 'Notes and items go with the figures that they are about.');
		if (figures) await copyFigures(trx, from, code);
		else if (begins.with !== 'figures') {
			if (begins.with === 'growth') await storeBases(trx, code, await growingBases(trx, from, begins.share));
			else await copyParts(trx, from, code, ['always']);
			await mustStandAlone(trx, code);
			await planOf(trx, code);
		} else {
			await copyParts(trx, from, code, ['always', 'with figures']);
			if (other) {
				await trx('series').where({ scenario: code }).delete();
				await copyValues(trx, source, code);
				await mustStandAlone(trx, code);
				await planOf(trx, code);
			}
		}
		if (withNotes) await copyParts(trx, from, code, ['with notes']);
		await note(trx, [
			{
				user: user.email,
				kind: 'copy',
				scenario: code,
				about: { what: 'scenario', field: 'scenario' },
				before: from,
				after: name,
				why: ''
			}
		]);
		return code;
	});
}
