/** Writing typed values: all of a batch or nothing, and never over somebody else's change unseen. */
import { z } from 'zod';
import type { Knex } from 'knex';
import { MOST_AMOUNT } from '../../core/company/schema';
import type { CellEdit } from '../../core/inputs/cell';
import { valueAt, withValues } from '../../core/inputs/series';
import { fromBlob, toBlob } from '../platform/db/bulk';
import { changedText } from '../company/changed';
import { note, type Change } from '../company/journal';
import { Refusal } from '../platform/refusal';
import { calendarsIn } from './block-periods';
import { touchScenario } from './scenarios';
import { rememberTyped } from './typed-since';
import * as stored from '../platform/db/stored';

const LastWriter = z.object({ at: stored.text, name: stored.textOrNone, user: stored.text });
const SeriesRow = z.object({ first: stored.whole, data: stored.bytes });

/** As what a save stands in the journal. */
export interface SavedAs {
	kind: string;
	/** Changes that are taken back together share it. */
	batch: string;
}

export interface Conflict {
	edit: CellEdit;
	theirs: number | null;
	user: string;
	at: string;
}

const text = (v: number | null) => (v === null ? '' : String(v));

/**
 * Writes typed values into a scenario, in the caller's transaction; periods are those of each cell's block.
 * @returns the number of cells that changed
 * @throws Refusal 409 with the cells that have changed since they were read; nothing is written
 */
export async function writeCells(
	trx: Knex.Transaction,
	scenario: string,
	edits: readonly CellEdit[],
	user: string,
	{ kind, batch }: SavedAs
): Promise<number> {
	const calendarOf = await calendarsIn(trx, scenario);
	const groups = new Map<string, CellEdit[]>();
	const seen = new Set<string>();
	for (const edit of edits) {
		const key = `${edit.block}\u0000${edit.line}\u0000${edit.row}`;
		const cell = `${key}\u0000${edit.period}`;
		if (seen.has(cell))
			throw new Refusal(
				422,
				`${calendarOf(edit.block).longLabel(edit.period)} of ${edit.line} stands twice in what is to be saved; nothing was saved.`
			);
		seen.add(cell);
		// What is calculated and then written in may be larger than what can be typed.
		if (edit.value !== null && !(Math.abs(edit.value) <= MOST_AMOUNT))
			throw new Refusal(
				422,
				`${calendarOf(edit.block).longLabel(edit.period)} of ${edit.line} would be larger than any amount that is kept, 10^15; nothing was saved.`
			);
		const list = groups.get(key);
		if (list) list.push(edit);
		else groups.set(key, [edit]);
	}
	const conflicts: Conflict[] = [];
	const changes: Change[] = [];
	for (const group of groups.values()) {
		const { block, line, row } = group[0];
		const where = { scenario, block, line, row };
		const series = await stored.row(SeriesRow, trx('series').where(where).first('first', 'data'));
		const old = series ? { first: series.first, values: fromBlob(series.data) } : null;
		const typed = new Map<number, number | null>();
		for (const edit of group) {
			const now = valueAt(old, edit.period);
			if (now === edit.value) continue;
			const about = { what: 'cell' as const, block, line, row, period: calendarOf(block).key(edit.period) };
			if (now !== edit.before) {
				const by = await stored.row(
					LastWriter,
					trx('journal')
						.leftJoin('user', 'user.email', 'journal.user')
						.where({ scenario, subject: changedText(about) })
						.orderBy('journal.id', 'desc')
						.first('journal.at', 'user.name', 'journal.user')
				);
				conflicts.push({ edit, theirs: now, user: by?.name ?? by?.user ?? '', at: by?.at ?? '' });
				continue;
			}
			typed.set(edit.period, edit.value);
			changes.push({ user, kind, scenario, about, before: text(now), after: text(edit.value), why: '' });
		}
		const run = withValues(old, typed);
		if (!run) await trx('series').where(where).delete();
		else
			await trx('series')
				.insert({ ...where, first: run.first, data: toBlob(run.values) })
				.onConflict(['scenario', 'block', 'line', 'row'])
				.merge(['first', 'data']);
	}
	if (conflicts.length)
		throw new Refusal(
			409,
			`${conflicts.length === 1 ? 'One cell has' : `${conflicts.length} cells have`} been changed by somebody else since you opened this page. Nothing was saved; your figures are still here.`,
			[],
			conflicts
		);
	if (changes.length) {
		await note(trx, changes, batch);
		const revision = await touchScenario(trx, scenario);
		rememberTyped(trx, scenario, revision, {
			cells: edits.map(({ block, line, row, period, value }) => ({ block, line, row, period, value }))
		});
	}
	return changes.length;
}
