/** Members of a dimension from a list, all of it or nothing. */
import { z } from 'zod';
import { readMembers, type MemberChanges } from '../../core/company/read-members';
import { newBatch, note } from '../company/journal';
import { companyFor, companyState, touchCompany } from '../company/structure';
import { tableIn } from '../platform/csv';
import type { Context } from '../platform/context';
import { Refusal } from '../platform/refusal';
import { keepingLockedFigures } from '../scenarios/locked-figures';
import { mustStillBuild } from '../scenarios/soundness';
import { trying } from '../setup/tree';
import { dimensionOf, modelsInUse, mustBeRowsStill, mustHoldNothing, storeMembers } from './members';

export const MOST_MEMBERS = 20_000;

export const MemberList = z.strictObject({
	/** Headings, then a line for each; with tabs, semicolons or commas between cells. */
	text: z.string().min(1, 'nothing is pasted').max(4_000_000),
	/** Shows what would be, and changes nothing. */
	dry: z.boolean().default(false)
});

/**
 * Adds and changes members as a list says.
 * @returns how many lines were read, and what differs
 * @throws Refusal 404, 422 with each row that cannot be taken, or where figures of a locked scenario would change
 */
export async function importMembers(
	context: Context,
	dimensionCode: string,
	{ text, dry }: z.output<typeof MemberList>
): Promise<{ read: number; changes: MemberChanges['changes'] }> {
	return trying(context, dry, async (within) => {
		const { db: trx, user } = within;
		const state = await companyFor(within, 'change driver models');
		const { dimension, members: tree } = dimensionOf(state, dimensionCode);
		const { records, rows } = tableIn(text, 'These members cannot be read.');
		if (records.length - 1 > MOST_MEMBERS)
			throw new Refusal(422, `At most ${MOST_MEMBERS} members are taken at once.`);
		const { members, changes, faults } = readMembers(records, rows, dimension.members);
		if (faults.length) throw new Refusal(422, 'These members cannot be taken.', faults);
		const read = Math.max(0, records.length - 1);
		if (!changes.length) return { read, changes };
		// Who becomes a total must hold nothing.
		for (const { before, after } of changes) {
			const above = after.parent === null ? undefined : tree.get(after.parent);
			if (above && after.parent !== before?.parent && tree.isLeaf(above.code))
				await mustHoldNothing(trx, dimension.code, above);
		}
		const models = (await modelsInUse(trx)).filter((m) => m.definition.dimensions.includes(dimension.code));
		await keepingLockedFigures(
			within,
			models.map((m) => m.code),
			async () => {
				await storeMembers(trx, dimension.code, members);
				await touchCompany(trx);
				const now = await companyState(trx);
				for (const m of models) await mustBeRowsStill(trx, now, m.code);
			}
		);
		await mustStillBuild(within);
		await note(
			trx,
			changes.map(({ before, after }) => ({
				user: user.email,
				kind: 'member',
				scenario: '',
				about: { what: 'member' as const, dimension: dimension.code, member: after.code },
				before: before ? JSON.stringify(before) : '',
				after: JSON.stringify(after),
				why: 'from a list'
			})),
			newBatch()
		);
		return { read, changes };
	});
}
