import { z } from 'zod';
import { api } from '$lib/server/http';
import { addAttachment } from '$lib/server/notes';
import { CellPlace } from '$lib/server/schemas';
import { uploadedBytes } from '$lib/server/uploads';

const Request = z.strictObject({ scenario: z.string(), cell: CellPlace });

export const POST = api(async ({ db, user, event }) => {
	const { name, bytes, request } = await uploadedBytes(event, Request);
	await addAttachment(db, user, request.scenario, request.cell, name, bytes);
});
