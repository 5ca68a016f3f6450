/** Cells of plans and of models saved together, each by the door that asks for its rights. */
import type { Knex } from 'knex';
import { LEDGER_BLOCK } from '../../core/blocks/accounts/schema';
import type { User } from '../platform/auth/sessions';
import type { CellEdit, SavedAs } from '../scenarios/cells';
import { saveInDepartments } from '../accounts/department-plan';
import { saveModelCells } from '../models/models';

/**
 * @returns how many cells changed
 * @throws Refusal as those doors do: a submitted plan, a closed month, a cell that somebody else has changed
 */
export async function saveCells(
	trx: Knex.Transaction,
	user: User,
	scenario: string,
	edits: readonly CellEdit[],
	as: SavedAs
): Promise<number> {
	const blocks = new Map<string, CellEdit[]>();
	for (const e of edits) {
		const list = blocks.get(e.block);
		if (list) list.push(e);
		else blocks.set(e.block, [e]);
	}
	let saved = 0;
	for (const [block, list] of blocks)
		saved +=
			block === LEDGER_BLOCK
				? await saveInDepartments(
						trx,
						user,
						scenario,
						list.map(({ line, row, ...e }) => ({ ...e, account: line, department: row })),
						as
					)
				: await saveModelCells(trx, user, scenario, block, list, as);
	return saved;
}
