import { z } from 'zod';
import { saveInDepartments } from '$lib/server/department-plan';
import { api, body } from '$lib/server/http';
import { newBatch } from '$lib/server/journal';
import { Amount } from '$lib/server/schemas';

const Cells = z.strictObject({
	scenario: z.string(),
	department: z.string(),
	edits: z
		.array(
			z.strictObject({
				account: z.string(),
				/** Where it is not the one above. */
				department: z.string().optional(),
				period: z.int(),
				before: Amount,
				value: Amount
			})
		)
		.min(1)
		.max(200_000)
});

export const POST = api(async ({ db, user, event }) => {
	const { scenario, department, edits } = await body(event, Cells);
	const cells = edits.map((e) => ({ department, ...e }));
	const batch = newBatch();
	return { saved: await saveInDepartments(db, user, scenario, cells, { kind: 'plan', batch }), batch };
});
