/** Notes, items and attachments that hang on cells. */
import { z } from 'zod';
import type { Knex } from 'knex';
import type { CellAddress } from '../../core/inputs/cell';
import { MOST_AMOUNT } from '../../core/company/schema';
import type { User } from '../platform/auth/sessions';
import { calendarsIn, readPeriods } from '../scenarios/block-periods';
import { mustBeCell } from '../scenarios/cell-places';
import { changedIn, changedText, type NamedCell, type OnCell } from '../company/changed';
import { note as journal } from '../company/journal';
import { mustReadCell, saveCells, type Place } from './save-cells';
import { notFound, Refusal } from '../platform/refusal';
import { scenarioBlocks } from '../scenarios/plan-data';
import { mustSee, writableScenario } from '../scenarios/scenarios';
import { companyState } from '../company/structure';
import * as stored from '../platform/db/stored';
import { AttachmentRow, ItemRow, NoteRow } from '../company/subjects/scenario/notes';
import { asOne, type Context } from '../platform/context';
import { timestamp } from '../platform/settings';

const SignedNote = NoteRow.extend({ name: stored.text });

export interface NoteView {
	id: number;
	answers: number | null;
	at: string;
	user: string;
	name: string;
	text: string;
	/** Whether the reader wrote it, and may take it away. */
	own: boolean;
}
/** One line of the calculation behind a typed cell; the amount is quantity × rate where both are given. */
const Item = ItemRow.omit({ subject: true });
export type Item = z.output<typeof Item>;
const AttachmentListed = AttachmentRow.omit({ subject: true, content: true }).extend({
	id: stored.whole,
	size: stored.whole
});
export type AttachmentView = z.output<typeof AttachmentListed> & { own: boolean };
export interface CellNotes {
	notes: NoteView[];
	items: Item[];
	attachments: AttachmentView[];
	mayWrite: boolean;
}
const OwnAttachment = AttachmentRow.omit({ at: true, content: true }).extend({ scenario: stored.text });
const WholeAttachment = OwnAttachment.extend({ content: AttachmentRow.shape.content });

/** Of an attachment. */
export const MOST_BYTES = 10_000_000;

/** A cell as requests write it. */
type WrittenCell = Omit<CellAddress, 'period'> & { period: string };

async function mustReach(context: Context, scenario: string, cell: Place): Promise<void> {
	await mustSee(context, scenario);
	await mustReadCell(context, scenario, cell);
}
/** @param column where in the request the period stands */
async function reached(context: Context, scenario: string, written: WrittenCell, column = 'cell.period') {
	await mustReach(context, scenario, written);
	const calendar = (await calendarsIn(context.db, scenario))(written.block);
	const [period] = readPeriods([{ calendar, text: written.period, column }]);
	const { block, line, row } = written;
	const timeless = (await scenarioBlocks(context.db, scenario)).get(block)?.line(line)?.timeless ?? false;
	return {
		cell: { block, line, row, period },
		// What stands in a column of a row is a cell of no period.
		subject: changedText({ what: 'cell', block, line, row, period: timeless ? '' : written.period }),
		timeless
	};
}
function mustWrite(user: User): void {
	if (user.role === 'viewer') throw new Refusal(403, 'Your role reads figures; it writes no notes.');
}
/** Notes are written in the database's scenarios; actuals have none of their own. */
async function mustBeKept(db: Knex, scenario: string): Promise<void> {
	if (!(await db('scenario').where({ code: scenario }).first('code')))
		throw new Refusal(422, 'Actuals take no notes. Write it in a plan that contains the month.');
}

export async function readNotes(
	context: Context,
	scenario: string,
	written: WrittenCell
): Promise<CellNotes> {
	const { db, user } = context;
	const { subject } = await reached(context, scenario, written, 'period');
	const at = { scenario, subject };
	const notes = await stored.rows(
		SignedNote,
		db('note')
			.leftJoin('user', 'user.email', 'note.user')
			.where(at)
			.orderBy('note.id')
			.select('note.*', db.raw('coalesce(??, ??) as ??', ['user.name', 'note.user', 'name']))
	);
	const attachments = await stored.rows(
		AttachmentListed,
		db('attachment').where(at).orderBy('id').select('id', 'at', 'name', 'user', 'size')
	);
	return {
		notes: notes.map(({ id, answers, at, user: email, name, text }) => ({
			id,
			answers,
			at,
			user: email,
			name,
			text,
			own: email === user.email
		})),
		items: await stored.rows(Item, db('item').where(at).orderBy('position')),
		attachments: attachments.map((a) => ({ ...a, own: a.user === user.email })),
		mayWrite: user.role !== 'viewer' && scenario !== 'actuals'
	};
}

/** Writes a note, or an answer to one of the same cell. */
export async function addNote(
	context: Context,
	scenario: string,
	written: WrittenCell,
	text: string,
	answers: number | null
): Promise<void> {
	const { user } = context;
	mustWrite(user);
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const { cell, subject } = await reached(within, scenario, written);
		await mustBeKept(trx, scenario);
		await mustBeCell(trx, scenario, cell);
		if (answers !== null && !(await trx('note').where({ id: answers, scenario, subject }).first('id')))
			throw notFound('The note that is answered');
		await trx('note').insert({
			scenario,
			subject,
			answers,
			at: timestamp(),
			user: user.email,
			text
		});
		await journal(trx, [change(user, scenario, subject, 'note', '', text)]);
	});
}

/** Takes a note of one's own away, with what answered it. */
export async function removeNote(context: Context, id: number): Promise<void> {
	const { user } = context;
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const row = await stored.row(NoteRow, trx('note').where({ id }).first());
		if (!row) throw notFound('The note');
		await mustReachOr('The note', within, row);
		if (row.user !== user.email) throw new Refusal(403, 'Only who wrote a note takes it away.');
		await trx('note').where({ id }).orWhere({ answers: id }).delete();
		await journal(trx, [change(user, row.scenario, row.subject, 'note', row.text, '')]);
	});
}

/**
 * Keeps the items behind a cell and types their sum into it; no items leave the cell as it is.
 * @param before what the writer saw typed in the cell
 * @throws Refusal 409 when the cell has been changed since
 */
export async function saveItems(
	context: Context,
	scenario: string,
	written: WrittenCell,
	items: readonly Item[],
	before: number | null
): Promise<number> {
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const { cell, subject, timeless } = await reached(within, scenario, written);
		if (timeless) throw new Refusal(422, 'Items stand behind figures by month, not behind a column.');
		await writableScenario(trx, scenario);
		await mustBeCell(trx, scenario, cell);
		const { company } = await companyState(trx);
		for (const [i, item] of items.entries())
			if (
				item.quantity !== null &&
				item.rate !== null &&
				Math.abs(item.quantity * item.rate - item.amount) > 0.5 * 10 ** -company.decimals + 1e-9
			)
				throw new Refusal(422, `Item ${i + 1}: the amount is not quantity × rate.`);
		// Cents are added as cents, so that the cell shows exactly what the items come to.
		const unit = 10 ** company.decimals;
		const value = items.length ? items.reduce((s, i) => s + Math.round(i.amount * unit), 0) / unit : before;
		if (value !== null && Math.abs(value) > MOST_AMOUNT)
			throw new Refusal(422, 'The items together are larger than any amount that is kept, 10^15.');
		const was = await stored.rows(Item, trx('item').where({ scenario, subject }).orderBy('position'));
		await trx('item').where({ scenario, subject }).delete();
		if (items.length)
			await trx('item').insert(items.map((item, position) => ({ ...item, scenario, subject, position })));
		// Who may type the cell may keep its items; that is asked there, also where the figure stays the same.
		await saveCells(within, scenario, [{ ...cell, before, value }]);
		const words = (list: readonly Item[]) => list.map((i) => `${i.description} ${i.amount}`).join('; ');
		await journal(trx, [change(context.user, scenario, subject, 'items', words(was), words(items))]);
		return value ?? 0;
	});
}

export async function addAttachment(
	context: Context,
	scenario: string,
	written: WrittenCell,
	name: string,
	content: Uint8Array
): Promise<void> {
	const { user } = context;
	mustWrite(user);
	if (!content.length) throw new Refusal(422, `${name} is empty.`);
	if (content.length > MOST_BYTES) throw new Refusal(413, `${name} is larger than 10 MB.`);
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const { cell, subject } = await reached(within, scenario, written);
		await mustBeKept(trx, scenario);
		await mustBeCell(trx, scenario, cell);
		await trx('attachment').insert({
			scenario,
			subject,
			at: timestamp(),
			user: user.email,
			name: name.slice(-200),
			size: content.length,
			content: Buffer.from(content)
		});
		await journal(trx, [change(user, scenario, subject, 'attachment', '', name)]);
	});
}

/** An attachment's content, for those who may see its cell. */
export async function readAttachment(
	context: Context,
	id: number
): Promise<{ name: string; content: Uint8Array }> {
	const { db } = context;
	const row = await stored.row(WholeAttachment, db('attachment').where({ id }).first());
	if (!row) throw notFound('The attachment');
	await mustReachOr('The attachment', context, row);
	return { name: row.name, content: row.content };
}

export async function removeAttachment(context: Context, id: number): Promise<void> {
	const { user } = context;
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const row = await stored.row(
			OwnAttachment,
			trx('attachment').where({ id }).first('scenario', 'subject', 'user', 'name')
		);
		if (!row) throw notFound('The attachment');
		await mustReachOr('The attachment', within, row);
		if (row.user !== user.email) throw new Refusal(403, 'Only who attached a file takes it away.');
		await trx('attachment').where({ id }).delete();
		await journal(trx, [change(user, row.scenario, row.subject, 'attachment', row.name, '')]);
	});
}

/** What hangs on a cell that the user may not see is no more there than what never was. */
async function mustReachOr(
	what: string,
	context: Context,
	{ scenario, subject }: { scenario: string; subject: string }
): Promise<void> {
	try {
		await mustReach(context, scenario, cellOf(subject));
	} catch (e) {
		if (e instanceof Refusal) throw notFound(what);
		throw e;
	}
}

const change = (
	user: User,
	scenario: string,
	subject: string,
	kind: OnCell,
	before: string,
	after: string
) => ({
	user: user.email,
	kind,
	scenario,
	about: { ...cellOf(subject), what: kind },
	before,
	after,
	why: ''
});

/** The cell on which something hangs. */
function cellOf(subject: string): NamedCell {
	const about = changedIn(subject);
	if (about.what !== 'column') return about as NamedCell;
	return { block: about.schedule, line: about.column, row: about.row, period: '' };
}
