/** Months of the ledger that are loaded and open, and taking one out again. */
import { z } from 'zod';
import { deleteEntries } from '../company/subjects/entries';
import { note } from '../company/journal';
import { notFound, Refusal } from '../platform/refusal';
import { namedFor } from '../scenarios/scenarios';
import { touchCompany, companyFor } from '../company/structure';
import * as stored from '../platform/db/stored';
import { asOne, type Context } from '../platform/context';
import { timestamp } from '../platform/settings';

const LastPeriod = z.object({ last: stored.wholeOrNone });

const LoadedMonth = z.object({ period: stored.whole, entries: stored.whole });
export type LoadedMonth = z.output<typeof LoadedMonth>;
const Loaded = stored.counted.extend({ sum: stored.amount.nullable() });

/** Loaded months that are not closed, newest first. */
export async function openMonths(context: Context): Promise<LoadedMonth[]> {
	const { db } = context;
	const { closedThrough } = await companyFor(context, 'run feeds');
	return stored.rows(
		LoadedMonth,
		db('ledger_entry')
			.where('period', '>', closedThrough ?? -1)
			.groupBy('period')
			.orderBy('period', 'desc')
			.select('period')
			.count({ entries: '*' })
	);
}

/**
 * Takes the entries of a month out of the ledger; its file can be loaded again.
 * @returns how many there were
 * @throws Refusal 404 when nothing is loaded for it, 409 when it is closed, or a scenario takes its actuals from it
 */
export async function takeOutMonth(context: Context, month: number): Promise<number> {
	const { user } = context;
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const { calendar, closedThrough } = await companyFor(within, 'run feeds');
		const label = calendar.longLabel(month);
		if (closedThrough !== null && month <= closedThrough)
			throw new Refusal(
				409,
				`${label} is closed, so its entries stay. Reopen it under Forecast first, if they must go.`
			);
		const { n, sum } = await stored.one(
			Loaded,
			trx('ledger_entry').where({ period: month }).count({ n: '*' }).sum({ sum: 'amount' }).first()
		);
		if (!n) throw notFound(`A ledger ${calendar.words.one} ${label} that is loaded`);
		const { last } = await stored.one(
			LastPeriod,
			trx('ledger_entry').whereNot({ period: month }).max({ last: 'period' }).first()
		);
		// A scenario whose actuals reach further than the ledger would show nothing there.
		const needing = await stored.texts(
			trx('scenario')
				.whereNull('deleted')
				.where('actuals_through', '>', last ?? -1)
				.pluck('code')
		);
		if (needing.length)
			throw new Refusal(
				409,
				`${await namedFor(within, needing)} ${needing.length === 1 ? 'takes' : 'take'} actuals through ${label}. Load another file for the ${calendar.words.one} instead.`
			);
		await deleteEntries(trx, month);
		await trx('feed_run').insert({
			at: timestamp(),
			user: user.email,
			file: '',
			period: month,
			entries: 0,
			replaced: n,
			debits: 0,
			unmapped: 0
		});
		await note(trx, [
			{
				user: user.email,
				kind: 'feed',
				scenario: '',
				about: { what: 'feed', period: calendar.key(month) },
				before: `${n} entries, ${(sum ?? 0).toFixed(2)}`,
				after: '',
				why: ''
			}
		]);
		await touchCompany(trx);
		return n;
	});
}
