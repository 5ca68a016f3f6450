import { z } from 'zod';
import { api, body, query } from '$lib/server/http';
import { addNote, readNotes } from '$lib/server/notes';
import { CellPlace } from '$lib/server/schemas';

const Query = z.object({
	scenario: z.string(),
	block: z.string(),
	line: z.string(),
	row: z.string(),
	period: z.coerce.number().int()
});
const Note = z.strictObject({
	scenario: z.string(),
	cell: CellPlace,
	text: z.string().trim().min(1).max(4000),
	answers: z.int().nullable().default(null)
});

export const GET = api(async ({ db, user, event }) => {
	const { scenario, ...cell } = query(event.url, Query);
	return readNotes(db, user, scenario, cell);
});

export const POST = api(async ({ db, user, event }) => {
	const { scenario, cell, text, answers } = await body(event, Note);
	await addNote(db, user, scenario, cell, text, answers);
});
