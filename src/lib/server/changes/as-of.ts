/** A scenario as it stood at a past moment: a locked copy from which everything saved since has been taken out. */
import { z } from 'zod';
import type { Knex } from 'knex';
import type { Calendar, Period } from '../../core/calendar/calendar';
import { JournalRow } from '../company/subjects/journal';
import { Refusal } from '../platform/refusal';
import { copyScenario, nameIsFree } from '../scenarios/making';
import { mustBeSound } from '../scenarios/soundness';
import { keepingToThoseWhoSee } from '../scenarios/rests-on';
import { planOf } from '../scenarios/plans';
import { getScenario, mustSee, touchScenario } from '../scenarios/scenarios';
import { companyFor } from '../company/structure';
import { entryOf, type Entry } from './kinds/kind';
import { CHANGE_KINDS, kindOf } from './kinds/kinds';
import * as stored from '../platform/db/stored';
import { asOne, type Context, type Within } from '../platform/context';

const LastOfSave = z.object({ id: stored.wholeOrNone, at: stored.textOrNone });

const FOLDER = 'As it stood';

/**
 * Makes a locked copy of a scenario as it stood right after a save. Members, rows, the account map and actuals are
 * today's: they belong to the company.
 * @returns the copy's code
 * @throws Refusal 404 for an unknown save
 */
export async function copyAsItStood(context: Context, scenario: string, batch: string): Promise<string> {
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const { calendar } = await companyFor(within, 'change scenarios');
		await mustSee(within, scenario);
		const save = await stored.row(
			LastOfSave,
			trx('journal').where({ scenario, batch }).max({ id: 'id', at: 'at' }).first()
		);
		if (!batch || !save?.id || !save.at) throw new Refusal(404, 'There is no such save.');
		const source = await getScenario(trx, scenario);
		const moment = save.at.slice(0, 16).replace('T', ' ');
		const name = await freeName(within, `${source.name}, as it stood ${moment}`);
		const code = await copyScenario(within, scenario, name, source.kind);
		const since = await stored.rows(
			JournalRow,
			trx('journal').where({ scenario }).where('id', '>', save.id).orderBy('id', 'desc')
		);
		// Formulas of then may read what not everybody sees today.
		const last = await keepingToThoseWhoSee(within, () =>
			takeOut(trx, code, since.map(entryOf), calendar, source.last)
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

async function freeName(context: Within, base: string): Promise<string> {
	for (let n = 1; ; n++) {
		const name = n === 1 ? base : `${base} (${n})`;
		if (await nameIsFree(context, name)) return name;
	}
}

/** Takes changes out of a copy, newest first. @returns its last period */
async function takeOut(
	trx: Knex.Transaction,
	scenario: string,
	changes: readonly Entry[],
	calendar: Calendar,
	lastNow: Period
): Promise<Period> {
	const longer = changes.filter(({ about }) => about.what === 'scenario' && about.field === 'last').at(-1);
	const last = longer ? calendar.parse(longer.before)! : lastNow;
	for (const kind of CHANGE_KINDS.toReversed()) {
		const own = changes.filter((c) => kindOf(c) === kind);
		await kind.rewind?.(trx, { scenario, calendar, last }, own);
	}
	return last;
}
