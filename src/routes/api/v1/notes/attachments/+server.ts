import { z } from 'zod';
import { api, mustMayAt } from '$lib/server/doors/http';
import { addAttachment, MOST_BYTES } from '$lib/server/changes/notes';
import { CellPlace, Known } from '$lib/server/platform/schemas';
import { uploadedBytes } from '$lib/server/doors/uploads';

const Request = z.strictObject({ scenario: Known, cell: CellPlace });

export const POST = api(async (call) => {
	await mustMayAt(call, 'write notes');
	const { name, bytes, request } = await uploadedBytes(call, Request, MOST_BYTES);
	await addAttachment(call.db, call.user, request.scenario, request.cell, name, bytes);
});
