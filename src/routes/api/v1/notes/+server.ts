import { z } from 'zod';
import { api, query, takes } from '$lib/server/doors/http';
import { addNote, readNotes } from '$lib/server/changes/notes';
import { CellPlace, Known, Period, Prose, RowKey } from '$lib/server/platform/schemas';

const Query = z.object({
	scenario: Known,
	block: Known,
	line: Known,
	row: RowKey,
	period: z.coerce.number().pipe(Period)
});
const Note = z.strictObject({
	scenario: Known,
	cell: CellPlace,
	text: Prose(4000).trim().min(1),
	answers: z.int().nullable().default(null)
});

export const GET = api(async ({ db, user, event }) => {
	const { scenario, ...cell } = query(event.url, Query);
	return readNotes(db, user, scenario, cell);
});

export const POST = takes({ may: 'write notes', body: Note }, async ({ db, user, input }) => {
	const { scenario, cell, text, answers } = input;
	await addNote(db, user, scenario, cell, text, answers);
});
