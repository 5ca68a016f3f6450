import { z } from 'zod';
import { api } from '$lib/server/doors/http';
import { uploadedBytes } from '$lib/server/doors/uploads';
import { textOfFile } from '$lib/server/platform/worksheets/worksheets';
import { WORKBOOK_LIMIT } from '$lib/server/platform/settings';

/** A workbook's first sheet as text, for whatever takes a pasted list; nothing is kept. */
export const POST = api(async (call) => {
	const { name, bytes } = await uploadedBytes(call, z.strictObject({}), WORKBOOK_LIMIT);
	return textOfFile(name, bytes);
});
