/** Runs of the ledger feed. */
import { z } from 'zod';
import { insertRows } from '../../platform/db/rows';
import { plainRows } from '../reading';
import { tableForm } from '../form';
import type { Subject } from '../subject';
import * as cell from '../table';
import * as stored from '../../platform/db/stored';

export const FeedRunRow = z.object({
	id: stored.whole,
	at: stored.text,
	user: stored.text,
	file: stored.text,
	period: stored.whole,
	entries: stored.whole,
	replaced: stored.whole,
	debits: stored.amount,
	unmapped: stored.amount
});
const FeedRun = FeedRunRow.omit({ id: true });
export type FeedRunRecord = Omit<z.output<typeof FeedRunRow>, 'id'>;

const FORM = tableForm({
	path: 'feed-runs.csv',
	columns: {
		at: cell.required,
		user: cell.text,
		file: cell.text,
		period: cell.period,
		entries: cell.integer,
		replaced: cell.integer,
		debits: cell.sum,
		unmapped: cell.sum
	}
});

export const FEED_RUNS: Subject<'feedRuns', FeedRunRecord[]> = {
	name: 'feedRuns',
	files: [FORM],
	read: (folder) => plainRows(folder.table(FORM)),
	write: (runs, folder) =>
		folder.table(
			FORM,
			runs.map((r) => ({ ...r, period: folder.period(r.period) }))
		),
	store: (trx, runs) => insertRows(trx, 'feed_run', runs),
	load: (db) => stored.rows(FeedRun, db('feed_run').orderBy('id'))
};
