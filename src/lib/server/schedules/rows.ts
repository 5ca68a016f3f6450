/** Rows of a scenario's schedules: put in, taken out and changed, with what is typed in their months. */
import type { Knex } from 'knex';
import { changeRows, type RowChange, type RowConflict } from '../../core/blocks/schedule/row-changes';
import { sharesCode, type ScenarioSchedule } from '../../core/blocks/schedule/schema';
import { aOf } from '../../core/company/counted';
import type { CellEdit } from '../../core/inputs/cell';
import { newBatch } from '../company/journal';
import { companyFor } from '../company/structure';
import { asOne, type Context } from '../platform/context';
import { notFound, Refusal } from '../platform/refusal';
import type { SavedAs } from '../scenarios/cells';
import { scenarioForms } from '../scenarios/plan-data';
import { mustSee, writableScenario } from '../scenarios/scenarios';
import { saveScheduleCells } from './cells';
import { keepSchedule } from './keep';
import { mustBeSettled, settleTyped, type Decision } from './taken-over';
import { keptFromIn, mustBeOpen } from '../scenarios/individual-pay';

export interface ChangedRows {
	scenario: string;
	schedule: string;
	changes: readonly RowChange[];
	/** Months that are typed with them, in rows that may be new. */
	edits?: readonly CellEdit[];
	/** What becomes of figures that are typed where rows come to be posted. */
	typed?: Decision;
}

/** @throws Refusal 404 where the scenario has no such schedule */
export async function scheduleIn(db: Knex, scenario: string, code: string): Promise<ScenarioSchedule> {
	const own = (await scenarioForms(db, scenario)).schedules.find((s) => s.definition.code === code);
	if (!own) throw notFound(`The schedule “${code}”`);
	return own;
}

/**
 * Changes rows of a schedule and months in them, all or nothing. Rows that hold nothing wrong can be calculated whatever they
 * hold, so that nobody waits for it.
 * @returns how many changes were made
 * @throws Refusal 403, 404; 409 with what somebody else has changed; 422 with each mistake at its row and column
 */
export async function saveRows(
	context: Context,
	{ scenario, schedule, changes, edits = [], typed: decision }: ChangedRows,
	as: Partial<SavedAs> = {}
): Promise<number> {
	return asOne(context, async (within) => {
		const { db: trx } = within;
		await companyFor(within, 'change schedules');
		await mustSee(within, scenario);
		await writableScenario(trx, scenario);
		const typed = changes
			.flatMap((c) => (c.kind === 'set' ? [c.column] : c.kind === 'add' ? Object.keys(c.row.values) : []))
			.map((line) => ({ block: schedule, line }));
		mustBeOpen(await keptFromIn(within, scenario), [...typed, ...edits]);
		const saved: SavedAs = { kind: as.kind ?? 'schedule', batch: as.batch ?? newBatch() };
		const before = await scheduleIn(trx, scenario, schedule);
		const { rows, conflicts } = changeRows(before.rows, changes);
		if (conflicts.length) throw conflicting(conflicts, before);
		const after = { definition: before.definition, rows };
		const count = await keepSchedule(within, scenario, { before, after }, saved);
		mustBeSettled(await settleTyped(within, scenario, { before, after }, decision, saved));
		let cells = 0;
		const blocks = [schedule, sharesCode(schedule)];
		const foreign = edits.find((e) => !blocks.includes(e.block));
		if (foreign) throw new Refusal(422, `“${foreign.block}” is no part of ${before.definition.name}.`);
		for (const block of blocks) {
			const own = edits.filter((e) => e.block === block);
			if (own.length) cells += await saveScheduleCells(within, scenario, block, own, saved);
		}
		return count + cells;
	});
}

function conflicting(conflicts: RowConflict[], { definition: { one, name } }: ScenarioSchedule): Refusal {
	const [first] = conflicts;
	const words =
		first.kind === 'taken'
			? `There is ${aOf(one)} “${first.id}” in ${name} already`
			: first.kind === 'gone'
				? `“${first.id}” is no ${one} of ${name} any more`
				: `What stands at “${first.change.id}” has been changed by somebody else since you opened this page`;
	return new Refusal(409, `${words}. Nothing was saved; what you typed is still here.`, [], conflicts);
}
