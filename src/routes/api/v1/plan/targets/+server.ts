import { z } from 'zod';
import { saveInDepartments } from '$lib/server/department-plan';
import { api, body, query } from '$lib/server/http';
import { newBatch } from '$lib/server/journal';
import { Amount, Month } from '$lib/server/schemas';
import { readTargets } from '$lib/server/targets';

const Query = z.object({ scenario: z.string(), from: Month, to: Month });

export const GET = api(({ db, user, event }) => {
	const { scenario, from, to } = query(event.url, Query);
	return readTargets(db, user, scenario, from, to);
});

const Targets = z.strictObject({
	/** The scenario that holds the targets. */
	scenario: z.string(),
	edits: z
		.array(
			z.strictObject({
				department: z.string(),
				account: z.string(),
				period: z.int(),
				before: Amount,
				value: Amount
			})
		)
		.min(1)
		.max(200_000)
});

export const POST = api(async ({ db, user, event }) => {
	const { scenario, edits } = await body(event, Targets);
	const batch = newBatch();
	const saved = await saveInDepartments(db, user, scenario, edits, { kind: 'plan', batch });
	return { saved, batch };
});
