/** Runs of the ledger feed. */
import { insertRows } from '../../platform/db/rows';
import { plainRows } from '../reading';
import { tableForm } from '../form';
import type { Subject } from '../subject';
import * as cell from '../table';

export interface FeedRunRecord {
	at: string;
	user: string;
	file: string;
	period: number;
	entries: number;
	replaced: number;
	debits: number;
	unmapped: number;
}

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
const COLUMNS = Object.keys(FORM.columns);

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
	load: (db) => db('feed_run').orderBy('id').select(COLUMNS)
};
