import { z } from 'zod';
import { VISIBILITIES } from '$lib/server/company/data';
import { api, body } from '$lib/server/http';
import { changeScenario, deleteScenario } from '$lib/server/scenario-list';
import { Month } from '$lib/server/schemas';

const Change = z.strictObject({
	name: z.string().trim().min(1).max(80).optional(),
	description: z.string().max(2000).optional(),
	folder: z.string().max(200).optional(),
	visibility: z.enum(VISIBILITIES).optional(),
	people: z.array(z.string()).max(500).optional(),
	target: z.string().nullable().optional(),
	last: Month.optional()
});

export const PATCH = api(async ({ db, user, event }) =>
	changeScenario(db, user, event.params.code!, await body(event, Change))
);

export const DELETE = api(({ db, user, event }) => deleteScenario(db, user, event.params.code!));
