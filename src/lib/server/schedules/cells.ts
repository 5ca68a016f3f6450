/** Months that are typed in lines of schedules. */
import type { CellEdit } from '../../core/inputs/cell';
import { firstOpen } from '../../core/scenario/assemble';
import { inOwnPeriods } from '../../core/scenario/calendar';
import { companyFor, companyState } from '../company/structure';
import { asOne, type Context } from '../platform/context';
import { Refusal } from '../platform/refusal';
import { writeCells, type SavedAs } from '../scenarios/cells';
import { scenarioBlocks } from '../scenarios/plan-data';
import { mustSee, writableScenario } from '../scenarios/scenarios';
import { keptFromIn, mustBeOpen } from '../scenarios/individual-pay';

/**
 * Saves typed cells of one block of a schedule, all or none; answers how many changed.
 * @throws Refusal 403, 404; 422 for what takes no figures, or a period that cannot be planned; 409 with the cells that
 * somebody else has changed
 */
export async function saveScheduleCells(
	context: Context,
	scenario: string,
	block: string,
	edits: readonly CellEdit[],
	as: SavedAs
): Promise<number> {
	return asOne(context, async (within) => {
		const { db: trx, user } = within;
		await companyFor(within, 'change schedules');
		await mustSee(within, scenario);
		mustBeOpen(await keptFromIn(within, scenario), edits);
		const { calendar: company } = await companyState(trx);
		const written = inOwnPeriods(await writableScenario(trx, scenario), company);
		const open = firstOpen(written);
		const own = (await scenarioBlocks(trx, scenario)).get(block)!;
		const { calendar } = own;
		for (const e of edits) {
			const [fault] = own.typingFaults(e.line, e.row);
			if (fault) throw new Refusal(422, `${own.name}: ${fault.message}.`);
			if (e.period < open || e.period > written.last)
				throw new Refusal(
					422,
					`${calendar.longLabel(e.period)} is ${e.period < open ? 'closed' : `beyond the scenario’s last ${calendar.words.one}`} and cannot be typed.`
				);
		}
		return writeCells(trx, scenario, edits, user.email, as);
	});
}
