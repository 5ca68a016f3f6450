import { z } from 'zod';
import { companyFor } from '$lib/server/company/structure';
import { api } from '$lib/server/doors/http';
import { addAttachment, MOST_BYTES } from '$lib/server/changes/notes';
import { CellPlace, Known } from '$lib/server/platform/schemas';
import { uploadedBytes } from '$lib/server/doors/uploads';

const Request = z.strictObject({ scenario: Known, cell: CellPlace });

export const POST = api(async (call) => {
	await companyFor(call.context, 'write notes');
	const { name, bytes, request } = await uploadedBytes(call, Request, MOST_BYTES);
	await addAttachment(call.context, request.scenario, request.cell, name, bytes);
});
