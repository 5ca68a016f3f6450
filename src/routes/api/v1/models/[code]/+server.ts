import { z } from 'zod';
import { api, query } from '$lib/server/http';
import { readModel } from '$lib/server/models';
import { ArrangementText, Month } from '$lib/server/schemas';

const Query = ArrangementText.extend({ scenario: z.string(), from: Month, to: Month });

export const GET = api(async ({ db, user, event }) => {
	const { empty, ...wanted } = query(event.url, Query);
	return readModel(db, user, { ...wanted, model: event.params.code!, hideEmpty: empty === 'hide' });
});
