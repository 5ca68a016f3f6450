/** A scenario as it stood at a past moment: a locked copy from which everything saved since has been taken out. */
import type { Knex } from 'knex';
import type { ModelDefinition } from '../../core/blocks/driver-model/schema';
import { upTo, withValues, type Series } from '../../core/inputs/series';
import { putBack, store } from './adjustments';
import { mustMay } from '../platform/auth/policy';
import { readAdjustmentsOf } from '../company/subjects/scenario/adjustments';
import type { User } from '../platform/auth/sessions';
import type { JournalRecord } from '../company/subjects/journal';
import { keepDefinition } from '../company/subjects/models';
import { readSeries, insertSeries } from '../company/subjects/scenario/values';
import { storeBasis } from '../company/subjects/scenario/bases';
import { fromJournal } from '../company/journal';
import { Basis as BasisSchema } from '../platform/schemas';
import { definitionById } from '../models/design';
import { Refusal } from '../platform/refusal';
import { copyScenario, nameIsFree } from '../scenarios/making';
import { mustBeSound } from '../scenarios/soundness';
import { scenarioBlocks, scenarioModels } from '../scenarios/plan-data';
import { keepingToThoseWhoSee } from '../scenarios/rests-on';
import { planOf } from '../scenarios/plans';
import { getScenario, mustSee, touchScenario } from '../scenarios/scenarios';
import { companyState } from '../company/structure';

const FOLDER = 'As it stood';

/**
 * Makes a locked copy of a scenario as it stood right after a save. Members, rows, the account map and actuals are
 * today's: they belong to the company.
 * @returns the copy's code
 * @throws Refusal 404 for an unknown save
 */
export async function copyAsItStood(db: Knex, user: User, scenario: string, batch: string): Promise<string> {
	return db.transaction(async (trx) => {
		const { structure, calendar } = await companyState(trx);
		mustMay(user, 'change scenarios', structure.departments);
		await mustSee(trx, user, scenario);
		const save = (await trx('journal').where({ scenario, batch }).max({ id: 'id', at: 'at' }).first()) as
			{ id: number | null; at: string } | undefined;
		if (!batch || save?.id == null) throw new Refusal(404, 'There is no such save.');
		const source = await getScenario(trx, scenario);
		const moment = save.at.slice(0, 16).replace('T', ' ');
		const name = await freeName(trx, user, `${source.name}, as it stood ${moment}`);
		const code = await copyScenario(trx, user, scenario, name, source.kind);
		const since = (await trx('journal')
			.where({ scenario })
			.where('id', '>', save.id)
			.orderBy('id', 'desc')) as JournalRecord[];
		// Formulas of then may read what not everybody sees today.
		const last = await keepingToThoseWhoSee(trx, user, () =>
			takeOut(trx, code, since, calendar.parse, source.last)
		);
		await trx('scenario')
			.where({ code })
			.update({
				locked: true,
				last,
				folder: FOLDER,
				description: `“${source.name}” as it stood after the save of ${moment} (UTC).`
			});
		await touchScenario(trx, code);
		await mustBeSound(trx, code);
		await planOf(trx, code);
		return code;
	});
}

async function freeName(trx: Knex.Transaction, user: User, base: string): Promise<string> {
	for (let n = 1; ; n++) {
		const name = n === 1 ? base : `${base} (${n})`;
		if (await nameIsFree(trx, user, name)) return name;
	}
}

/** Takes changes out of a copy, newest first. @returns its last period */
async function takeOut(
	trx: Knex.Transaction,
	code: string,
	changes: readonly JournalRecord[],
	parse: (month: string) => number | null,
	lastNow: number
): Promise<number> {
	let last = lastNow;
	const cells = new Map<string, Map<number, number | null>>();
	const adjustments = await readAdjustmentsOf(trx, code);
	for (const { subject, before } of changes) {
		const [block, line, row, month] = subject.split('/');
		if (subject === 'last') last = parse(before)!;
		else if (block === 'basis') {
			const basis = fromJournal(before, BasisSchema);
			await storeBasis(trx, code, { account: line, department: row, basis });
		} else if (block === 'formula') await putFormula(trx, code, line, row, before);
		else if (block === 'model') await putModel(trx, code, line, before);
		else if (block === 'adjustment') putBack(adjustments, line, before);
		else if (month !== undefined && parse(month) !== null && !NO_CELLS.has(block)) {
			const key = JSON.stringify([block, line, row]);
			const own = cells.get(key) ?? new Map<number, number | null>();
			cells.set(key, own.set(parse(month)!, before === '' ? null : Number(before)));
		}
	}
	await store(trx, code, adjustments);
	await dropCopied(trx, code);
	await putCells(trx, code, cells, last);
	return last;
}

/** What hangs on a cell is named by it, behind one of these. */
const NO_CELLS = new Set(['note', 'items', 'attachment']);

async function putFormula(
	trx: Knex.Transaction,
	scenario: string,
	model: string,
	line: string,
	formula: string
): Promise<void> {
	const now = (await scenarioModels(trx, scenario)).find((m) => m.definition.code === model);
	if (!now) return;
	const changed: ModelDefinition = {
		...now.definition,
		lines: now.definition.lines.map((l) => (l.code === line ? { ...l, formula } : l))
	};
	await putModel(trx, scenario, model, await keepDefinition(trx, changed));
}

async function putModel(trx: Knex.Transaction, scenario: string, model: string, definition: string) {
	if (definition !== '' && !(await definitionById(trx, definition)))
		throw new Refusal(
			422,
			'The form that a model had then is not kept: it was not in the folder from which the company was loaded.'
		);
	await trx('scenario_model').where({ scenario, model }).delete();
	if (definition) await trx('scenario_model').insert({ scenario, model, definition });
}

/** Figures that a model brought along as a copy of another are no save of their own: they go with it. */
async function dropCopied(trx: Knex.Transaction, scenario: string): Promise<void> {
	const blocks = [...(await scenarioBlocks(trx, scenario)).keys()];
	await trx('series').where({ scenario }).whereNotIn('block', blocks).delete();
}

async function putCells(
	trx: Knex.Transaction,
	scenario: string,
	cells: ReadonlyMap<string, ReadonlyMap<number, number | null>>,
	last: number
): Promise<void> {
	const keyOf = (s: Series) => JSON.stringify([s.block, s.line, s.row]);
	const stored = new Map((await readSeries(trx, scenario)).map((s) => [keyOf(s), s]));
	for (const [key, own] of cells) {
		const [block, line, row] = JSON.parse(key) as [string, string, string];
		const run = withValues(stored.get(key) ?? null, own);
		if (run) stored.set(key, { block, line, row, ...run });
		else stored.delete(key);
	}
	const kept = [...stored.values()].flatMap((s) => {
		// Months that only a longer window has opened go with it.
		const run = upTo(s, last);
		return run ? [{ ...s, ...run }] : [];
	});
	await trx('series').where({ scenario }).delete();
	await insertSeries(trx, scenario, kept);
}
