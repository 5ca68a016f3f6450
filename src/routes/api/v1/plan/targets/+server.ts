import { z } from 'zod';
import { LEDGER_BLOCK } from '$lib/core/model/schema';
import { api, body, query } from '$lib/server/http';
import { newBatch } from '$lib/server/journal';
import { saveCells } from '$lib/server/save-cells';
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
	const cells = edits.map(({ department, account, ...e }) => ({
		...e,
		block: LEDGER_BLOCK,
		line: account,
		row: department
	}));
	const saved = await db.transaction((trx) => saveCells(trx, user, scenario, cells, { kind: 'plan', batch }));
	return { saved, batch };
});
