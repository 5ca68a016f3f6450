import { z } from 'zod';
import { api, query } from '$lib/server/doors/http';
import { Known } from '$lib/server/platform/schemas';
import { rowsWorkbook } from '$lib/server/schedules/workbook';

/** A workbook to fill: the rows that are there, an example, and what each column takes. */
export const GET = api(async ({ context, event }) => {
	const { scenario } = query(event.url, z.object({ scenario: Known }));
	const { name, content } = await rowsWorkbook(context, scenario, event.params.code!);
	return new Response(new Uint8Array(content), {
		headers: {
			'content-type': 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
			'content-disposition': `attachment; filename="${name}"`
		}
	});
});
