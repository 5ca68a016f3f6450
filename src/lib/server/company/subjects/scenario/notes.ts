/** What people say of single cells: notes with their answers, the calculation behind a cell line by line, attachments. */
import { z } from 'zod';
import { copyRows, insertRows } from '../../../platform/db/rows';
import { subjectNow } from '../../earlier';
import { plainRows } from '../../reading';
import { tableForm } from '../../form';
import type { ScenarioPart } from '../../subject';
import * as cell from '../../table';
import * as stored from '../../../platform/db/stored';

/** A note on a cell, which the journal's kind of subject names. */
export const NoteRow = z.object({
	id: stored.whole,
	scenario: stored.text,
	subject: stored.text,
	at: stored.text,
	user: stored.text,
	text: stored.text,
	/** The note that it answers. */
	answers: stored.wholeOrNone
});
const Numbered = NoteRow.pick({ id: true });
/** Of one scenario; `answers` is the place in its list of the note that it answers. */
export type NoteRecord = Omit<z.output<typeof NoteRow>, 'id' | 'scenario'>;
/** One line of the calculation behind a cell. */
export const ItemRow = z.object({
	subject: stored.text,
	description: stored.text,
	quantity: stored.amount.nullable(),
	rate: stored.amount.nullable(),
	amount: stored.amount
});
export type ItemRecord = z.output<typeof ItemRow>;
export const AttachmentRow = z.object({
	subject: stored.text,
	at: stored.text,
	user: stored.text,
	name: stored.text,
	content: stored.bytes
});
export type AttachmentRecord = z.output<typeof AttachmentRow>;

const subject: cell.CellReader<string> = (t, calendar) => subjectNow(cell.required(t, calendar));

const NOTE_FORM = tableForm({
	path: 'scenarios/<code>/notes.csv',
	columns: {
		subject,
		at: cell.required,
		user: cell.text,
		text: cell.prose,
		answers: cell.orNull(cell.integer)
	},
	notes: { subject: 'the cell: `block/line/row/period`', answers: 'number of the note in this file' }
});

export const NOTES: ScenarioPart<'notes', NoteRecord[]> = {
	name: 'notes',
	files: [NOTE_FORM],
	travels: 'with notes',
	read(folder, at) {
		const file = `${at.folder}/notes.csv`;
		const notes = folder.table(NOTE_FORM, file);
		notes.forEach(({ answers, subject, rowNumber }, i) =>
			folder.expect(
				answers === null || (answers >= 1 && answers <= i && notes[answers - 1].subject === subject),
				file,
				rowNumber,
				'answers',
				'the number of an earlier note of the same cell was expected'
			)
		);
		return plainRows(notes).map((n) => ({ ...n, answers: n.answers === null ? null : n.answers - 1 }));
	},
	write(notes, at, folder) {
		if (!notes.length) return;
		const rows = notes.map((n) => ({ ...n, answers: n.answers === null ? null : n.answers + 1 }));
		folder.table(NOTE_FORM, rows, `${at.folder}/notes.csv`);
	},
	async store(trx, scenario, notes) {
		const ids: number[] = [];
		for (const { answers, ...n } of notes) {
			const row = { ...n, scenario, answers: answers === null ? null : ids[answers] };
			const [{ id }] = await stored.rows(Numbered, trx('note').insert(row).returning('id'));
			ids.push(id);
		}
	},
	async load(db, scenario) {
		const notes = await stored.rows(NoteRow, db('note').where({ scenario }).orderBy('id'));
		const place = new Map(notes.map((n, i) => [n.id, i]));
		return notes.map(({ subject, at, user, text, answers }) => ({
			subject,
			at,
			user,
			text,
			answers: answers === null ? null : (place.get(answers) ?? null)
		}));
	},
	// Answers are still to the notes they answer.
	copy: async (trx, from, to) => NOTES.store(trx, to, await NOTES.load(trx, from))
};

const ITEM_FORM = tableForm({
	path: 'scenarios/<code>/items.csv',
	columns: {
		subject,
		description: cell.name,
		quantity: cell.orNull(cell.decimal),
		rate: cell.orNull(cell.decimal),
		amount: cell.decimal
	}
});
const ITEM_COLUMNS = Object.keys(ITEM_FORM.columns);

export const ITEMS: ScenarioPart<'items', ItemRecord[]> = {
	name: 'items',
	files: [ITEM_FORM],
	travels: 'with notes',
	read: (folder, at) => plainRows(folder.table(ITEM_FORM, `${at.folder}/items.csv`)),
	write(items, at, folder) {
		if (items.length) folder.table(ITEM_FORM, items, `${at.folder}/items.csv`);
	},
	async store(trx, scenario, items) {
		const places = new Map<string, number>();
		const rows = items.map((item) => {
			const position = places.get(item.subject) ?? 0;
			places.set(item.subject, position + 1);
			return { ...item, scenario, position };
		});
		await insertRows(trx, 'item', rows);
	},
	load: (db, scenario) =>
		stored.rows(ItemRow, db('item').where({ scenario }).orderBy(['subject', 'position'])),
	copy: (trx, from, to) => copyRows(trx, 'item', [...ITEM_COLUMNS, 'position'], from, to)
};

const ATTACHMENT_FORM = tableForm({
	path: 'scenarios/<code>/attachments.csv',
	columns: { subject, at: cell.required, user: cell.text, name: cell.name, content: cell.required },
	notes: { content: 'base64' }
});
const ATTACHMENT_COLUMNS = Object.keys(ATTACHMENT_FORM.columns);

export const ATTACHMENTS: ScenarioPart<'attachments', AttachmentRecord[]> = {
	name: 'attachments',
	files: [ATTACHMENT_FORM],
	travels: 'with notes',
	read: (folder, at) =>
		plainRows(folder.table(ATTACHMENT_FORM, `${at.folder}/attachments.csv`)).map((a) => ({
			...a,
			content: new Uint8Array(Buffer.from(a.content, 'base64'))
		})),
	write(attachments, at, folder) {
		if (!attachments.length) return;
		const rows = attachments.map((a) => ({ ...a, content: Buffer.from(a.content).toString('base64') }));
		folder.table(ATTACHMENT_FORM, rows, `${at.folder}/attachments.csv`);
	},
	store: (trx, scenario, attachments) =>
		insertRows(
			trx,
			'attachment',
			attachments.map((a) => ({
				...a,
				content: Buffer.from(a.content),
				size: a.content.length,
				scenario
			}))
		),
	async load(db, scenario) {
		const rows = await stored.rows(AttachmentRow, db('attachment').where({ scenario }).orderBy('id'));
		return rows.map((a) => ({ ...a, content: new Uint8Array(a.content) }));
	},
	copy: (trx, from, to) => copyRows(trx, 'attachment', [...ATTACHMENT_COLUMNS, 'size'], from, to)
};
