import { z } from 'zod';
import { asked, takes } from '$lib/server/doors/http';
import { addNote, readNotes } from '$lib/server/changes/notes';
import { CellPlace, Known, Prose } from '$lib/server/platform/schemas';

const Query = z.object({ scenario: Known, ...CellPlace.shape });
const Note = z.strictObject({
	scenario: Known,
	cell: CellPlace,
	text: Prose(4000).trim().min(1),
	answers: z.int().nullable().default(null)
});

export const GET = asked(Query, ({ context, input: { scenario, ...cell } }) =>
	readNotes(context, scenario, cell)
);

export const POST = takes({ may: 'write notes', body: Note }, async ({ context, input }) => {
	const { scenario, cell, text, answers } = input;
	await addNote(context, scenario, cell, text, answers);
});
