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
	/** Null for what stands in a column of a row. */
	period: number | null;
	notes: number;
	items: number;
	attachments: number;
	/** The newest note, shortened. */
	last: string;
}

/** Of a mark on a figure by period. */
export type PeriodMark = CellMark & { period: number };
export const isByPeriod = (mark: CellMark): mark is PeriodMark => mark.period !== null;

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
		const about = changedIn(subject);
		const cell =
			about.what === 'column'
				? { block: about.schedule, line: about.column, row: about.row, period: null }
				: about.what === 'cell'
					? { ...about, period: calendar.parse(about.period) }
					: null;
		if (!cell || (about.what === 'cell' && cell.period === null)) return null;
		const { line, row: ownRow, period } = cell;
		if (cell.block !== block || (row !== null && ownRow !== row)) return null;
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
