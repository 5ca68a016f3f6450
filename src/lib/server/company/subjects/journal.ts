/** Every change: who, when, where, before, after, why. */
import { z } from 'zod';
import { insertRows } from '../../platform/db/rows';
import { adjustmentWordsNow, subjectNow } from '../earlier';
import { plainRows } from '../reading';
import { tableForm } from '../form';
import type { Subject } from '../subject';
import * as cell from '../table';
import * as stored from '../../platform/db/stored';

export const JournalRow = z.object({
	at: stored.text,
	user: stored.text,
	kind: stored.text,
	scenario: stored.text,
	subject: stored.text,
	before: stored.text,
	after: stored.text,
	why: stored.text,
	/** Changes that were saved together share it; empty when that is not known. */
	batch: stored.text
});
export type JournalRecord = z.output<typeof JournalRow>;

const FORM = tableForm({
	path: 'journal.csv',
	columns: {
		at: cell.required,
		user: cell.text,
		kind: cell.required,
		scenario: cell.text,
		subject: (t) => subjectNow(t),
		before: cell.text,
		after: cell.text,
		why: cell.text,
		batch: cell.text
	},
	notes: { batch: 'shared by changes saved together' },
	later: { batch: 'every change was saved by itself' }
});

export const JOURNAL: Subject<'journal', JournalRecord[]> = {
	name: 'journal',
	files: [FORM],
	read: (folder) =>
		plainRows(folder.table(FORM)).map((j) => ({
			...j,
			before: adjustmentWordsNow(j.subject, j.before),
			after: adjustmentWordsNow(j.subject, j.after)
		})),
	write: (journal, folder) => folder.table(FORM, journal),
	store: (trx, journal) => insertRows(trx, 'journal', journal),
	load: (db) => stored.rows(JournalRow, db('journal').orderBy('id'))
};
