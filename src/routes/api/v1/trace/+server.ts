import { z } from 'zod';
import { api, body } from '$lib/server/http';
import { FigureReference } from '$lib/server/schemas';
import { openFigure } from '$lib/server/traces';

const Request = z.strictObject({ scenario: z.string(), ref: FigureReference });

export const POST = api(async ({ db, user, event }) => {
	const { scenario, ref } = await body(event, Request);
	return openFigure(db, user, scenario, ref);
});
