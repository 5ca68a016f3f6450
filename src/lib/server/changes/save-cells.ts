/** Cells of any kind of block, read and saved each by the door that asks for its rights. */
import type { Knex } from 'knex';
import type { BlockKind } from '../../core/blocks/block';
import { ownerOf } from '../../core/blocks/schedule/personal';
import type { Structure } from '../../core/company/structure';
import type { CellAddress, CellEdit, Written } from '../../core/inputs/cell';
import { mustMay, mustRead, type Action } from '../platform/auth/policy';
import type { User } from '../platform/auth/sessions';
import { companyFor, companyState } from '../company/structure';
import { notFound } from '../platform/refusal';
import { saveAccounts } from '../accounts/department-plan';
import { saveModelCells } from '../models/models';
import { saveScheduleCells } from '../schedules/cells';
import { keptFromIn, mustBeOpen } from '../scenarios/individual-pay';
import { newBatch } from '../company/journal';
import { cellsRead } from '../scenarios/block-periods';
import type { SavedAs } from '../scenarios/cells';
import { mustSee } from '../scenarios/scenarios';
import { scenarioBlocks, scenarioForms } from '../scenarios/plan-data';
import { mustReadColumn, mustReadRow } from '../scenarios/schedule-readers';
import { asOne, type Context, type Within } from '../platform/context';

/** A cell, whatever the period. */
export type Place = Omit<CellAddress, 'period'>;

/** What the server adds to a kind of block. */
interface Door {
	/** @throws Refusal 403, or 404 for what the user may not know of either */
	mustRead(user: User, structure: Structure, cell: Place): void;
	/** As what the journal has it. */
	kind: string;
	/** Asked before anything of what is typed is read, since periods alone tell what there is. */
	may: Action;
	/** All of one block. */
	save(within: Within, scenario: string, edits: readonly CellEdit[], as: SavedAs): Promise<number>;
}

const DOORS: Record<BlockKind, Door> = {
	accounts: {
		mustRead(user, { accounts, departments }, { line, row }) {
			if (!accounts.get(line)) throw notFound(`The account “${line}”`);
			mustRead(user, row, departments);
		},
		kind: 'plan',
		may: 'plan figures',
		save: saveAccounts
	},
	'driver-model': {
		mustRead: (user, { departments }) => mustMay(user, 'see driver models', departments),
		kind: 'driver',
		may: 'change driver models',
		save: (within, scenario, edits, as) => saveModelCells(within, scenario, edits[0].block, edits, as)
	},
	// What single people earn stands in rows.
	schedule: {
		mustRead: (user, { departments }) => mustMay(user, 'read schedules', departments),
		kind: 'schedule',
		may: 'change schedules',
		save: (within, scenario, edits, as) => saveScheduleCells(within, scenario, edits[0].block, edits, as)
	}
};

/** What is no block is answered as a driver model that is not there. */
async function doorOf(db: Knex, scenario: string, block: string): Promise<Door> {
	return DOORS[(await scenarioBlocks(db, scenario)).get(block)?.kind ?? 'driver-model'];
}

/** @throws Refusal 403 or 404 where a cell’s figures may not be read */
export async function mustReadCell(context: Context, scenario: string, cell: Place): Promise<void> {
	const { db, user } = context;
	const door = await doorOf(db, scenario, cell.block);
	door.mustRead(user, (await companyState(db)).structure, cell);
	if (door !== DOORS.schedule) return;
	const block = (await scenarioBlocks(db, scenario)).get(cell.block)!;
	const { schedules } = await scenarioForms(db, scenario);
	const schedule = schedules.find((s) => s.definition.code === ownerOf(cell.block))!;
	const { structure } = await companyState(db);
	mustReadRow(user, structure, schedule, block, cell.row);
	mustReadColumn(user, structure, schedule.definition, cell.line);
	mustBeOpen(await keptFromIn(context, scenario), [cell]);
}

/**
 * Saves typed cells of any blocks, all or none.
 * @param as as what it stands in the journal; by default each block as its own kind, all of them as one save
 * @returns how many cells changed
 * @throws Refusal as those doors do: a submitted plan, a closed month, a cell that somebody else has changed
 */
export async function saveCells(
	context: Within,
	scenario: string,
	edits: readonly CellEdit[],
	as: Partial<SavedAs> = {}
): Promise<number> {
	const blocks = new Map<string, CellEdit[]>();
	for (const e of edits) {
		const list = blocks.get(e.block);
		if (list) list.push(e);
		else blocks.set(e.block, [e]);
	}
	let saved = 0;
	const batch = as.batch ?? newBatch();
	for (const [block, list] of blocks) {
		const door = await doorOf(context.db, scenario, block);
		saved += await door.save(context, scenario, list, { kind: as.kind ?? door.kind, batch });
	}
	return saved;
}

/** The same with cells as a request writes them, each in the periods of its block. @throws Refusal 400 for what is none */
export const saveWritten = (
	context: Context,
	scenario: string,
	written: readonly Written<CellEdit>[],
	batch: string
): Promise<number> =>
	asOne(context, async (within) => {
		await mustSee(within, scenario);
		for (const block of new Set(written.map((cell) => cell.block)))
			await companyFor(within, (await doorOf(within.db, scenario, block)).may);
		return saveCells(within, scenario, await cellsRead(within, scenario, written), { batch });
	});
