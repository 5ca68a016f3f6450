/** A scenario's adjustments, in their order. */
import type { Knex } from 'knex';
import { z } from 'zod';
import { blocksOf } from '../../../../core/blocks/kinds';
import { AdjustmentDefinition } from '../../../../core/inputs/schema';
import { adjustmentFaults } from '../../../../core/scenario/check-adjustment';
import { copyRows, insertRows } from '../../../platform/db/rows';
import { blockNow } from '../../earlier';
import type { ScenarioPart } from '../../subject';
import { structureOf } from '../dimensions';
import { heldForms } from './block-forms';
import * as stored from '../../../platform/db/stored';

export const ADJUSTMENTS: ScenarioPart<'adjustments', AdjustmentDefinition[]> = {
	name: 'adjustments',
	files: [
		{
			path: 'scenarios/<code>/adjustments.json',
			says: 'the adjustments in their order: `code`, `name`, `on`, `adopted` (a moment or null), `steps` of `operation` (multiply, add, set with `value`; shift with `periods`), `lines`, `where`, `from`, `to`'
		}
	],
	travels: 'always',
	read(folder, at) {
		const file = `${at.folder}/adjustments.json`;
		if (!folder.files.has(file)) return [];
		const structure = structureOf(folder);
		const list = (folder.json(file, z.array(AdjustmentDefinition).max(200)) ?? []).map((a) => ({
			...a,
			steps: a.steps.map((step) => ({
				...step,
				lines: step.lines.map((l) => ({ ...l, block: blockNow(l.block) }))
			}))
		}));
		const blocks = blocksOf(structure, heldForms(folder, at));
		list.forEach((a, i) => {
			const column = `${i + 1}`;
			const first = list.findIndex((b) => b.code === a.code) === i;
			folder.expect(first, file, undefined, column, `“${a.code}” stands twice`);
			// What was adopted does nothing any more, whatever it once spoke of.
			if (a.adopted === null)
				for (const fault of adjustmentFaults(a, structure, blocks))
					folder.faults.push({ file, column: `${column}.${fault.column}`, message: fault.message });
		});
		return list;
	},
	write(adjustments, at, folder) {
		if (adjustments.length) folder.json(`${at.folder}/adjustments.json`, adjustments);
	},
	store: insertAdjustments,
	load: readAdjustmentsOf,
	copy: (trx, from, to) =>
		copyRows(trx, 'adjustment', ['code', 'name', 'on', 'steps', 'adopted', 'position'], from, to)
};

const AdjustmentRow = z.object({
	code: stored.text,
	name: stored.text,
	on: stored.flag,
	steps: stored.json(AdjustmentDefinition.shape.steps),
	adopted: stored.textOrNone
});

/** Puts adjustments, in this order, into a scenario that has none. */
export async function insertAdjustments(
	trx: Knex.Transaction,
	scenario: string,
	adjustments: readonly AdjustmentDefinition[]
): Promise<void> {
	await insertRows(
		trx,
		'adjustment',
		adjustments.map((a, position) => ({
			scenario,
			code: a.code,
			name: a.name,
			on: a.on ? 1 : 0,
			steps: JSON.stringify(a.steps),
			adopted: a.adopted,
			position
		}))
	);
}

/** A scenario's adjustments in their order, also those that were adopted. */
export async function readAdjustmentsOf(db: Knex, scenario: string): Promise<AdjustmentDefinition[]> {
	return stored.rows(AdjustmentRow, db('adjustment').where({ scenario }).orderBy('position'));
}

/** Adjustments of all scenarios that are not adopted, also of scenarios that were deleted. */
export async function adjustmentsInUse(db: Knex): Promise<AdjustmentDefinition[]> {
	return stored.rows(AdjustmentRow, db('adjustment').whereNull('adopted'));
}
