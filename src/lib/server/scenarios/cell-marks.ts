/** Which cells have notes, items or attachments. */
import { z } from 'zod';
import { changedIn } from '../company/changed';
import type { Knex } from 'knex';
import { calendarsIn } from './block-periods';
import * as stored from '../platform/db/stored';

const NewestNote = z.object({ subject: stored.text, text: stored.text });

const CountRow = z.object({ subject: stored.text, count: stored.whole });

/** What hangs on cells of a block, by cell; for lists and for marks in a grid. */
export interface CellMark {
	line: string;
	row: string;
	period: number;
	notes: number;
	items: number;
	attachments: number;
	/** The newest note, shortened. */
	last: string;
}

/** @param row only cells of this row (a department, in the ledger's block) */
export async function marksIn(
	db: Knex,
	scenario: string,
	block: string,
	row: string | null
): Promise<CellMark[]> {
	const calendar = (await calendarsIn(db, scenario))(block);
	const found = new Map<string, CellMark>();
	const at = (subject: string): CellMark | null => {
		const cell = changedIn(subject);
		if (cell.what !== 'cell') return null;
		const { line, row: ownRow } = cell;
		const period = calendar.parse(cell.period);
		if (cell.block !== block || (row !== null && ownRow !== row) || period === null) return null;
		let mark = found.get(subject);
		if (!mark) {
			mark = { line, row: ownRow, period, notes: 0, items: 0, attachments: 0, last: '' };
			found.set(subject, mark);
		}
		return mark;
	};
	for (const table of ['note', 'item', 'attachment'] as const) {
		const rows = await stored.rows(
			CountRow,
			db(table)
				.where({ scenario })
				.whereLike('subject', `${block}/%`)
				.groupBy('subject')
				.count({ count: '*' })
				.select('subject')
		);
		for (const r of rows) {
			const mark = at(r.subject);
			if (mark) mark[table === 'note' ? 'notes' : table === 'item' ? 'items' : 'attachments'] = r.count;
		}
	}
	const newest = await stored.rows(
		NewestNote,
		db('note')
			.whereIn('id', db('note').where({ scenario }).groupBy('subject').max('id'))
			.select('subject', 'text')
	);
	for (const n of newest) {
		const mark = at(n.subject);
		if (mark) mark.last = n.text.length > 80 ? `${n.text.slice(0, 79)}…` : n.text;
	}
	return [...found.values()];
}
