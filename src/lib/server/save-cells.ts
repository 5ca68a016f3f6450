/** Cells of plans and of models saved together, each by the door that asks for its rights. */
import type { Knex } from 'knex';
import { LEDGER_BLOCK } from '../core/model/schema';
import type { User } from './auth/sessions';
import type { CellEdit, SavedAs } from './cells';
import { savePlanCells } from './department-plan';
import { saveModelCells } from './models';

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
	const groups = new Map<string, CellEdit[]>();
	for (const e of edits) {
		const key = e.block === LEDGER_BLOCK ? `${e.block}/${e.row}` : e.block;
		const list = groups.get(key);
		if (list) list.push(e);
		else groups.set(key, [e]);
	}
	let saved = 0;
	for (const list of groups.values()) {
		const { block, row } = list[0];
		if (block === LEDGER_BLOCK)
			saved += await savePlanCells(
				trx,
				user,
				scenario,
				row,
				list.map(({ line, ...e }) => ({ ...e, account: line })),
				as
			);
		else saved += await saveModelCells(trx, user, scenario, block, list, as);
	}
	return saved;
}
