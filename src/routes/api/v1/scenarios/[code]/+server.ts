import { z } from 'zod';
import { VISIBILITIES } from '$lib/server/platform/auth/roles';
import { api, takes } from '$lib/server/doors/http';
import { changeScenario, deleteScenario } from '$lib/server/scenarios/list';
import { inCalendar, Known, Name, Period, Prose } from '$lib/server/platform/schemas';

const Change = inCalendar((calendar) =>
	z.strictObject({
		name: Name(80).optional(),
		description: Prose(2000).optional(),
		folder: Name(200).or(z.literal('')).optional(),
		visibility: z.enum(VISIBILITIES).optional(),
		people: z.array(z.string().max(254)).max(500).optional(),
		target: Known.nullable().optional(),
		rates: Known.nullable().optional(),
		last: Period(calendar).optional()
	})
);

export const PATCH = takes(
	{ may: 'change scenarios', body: Change, size: 256 * 1024 },
	({ context, event, input }) => changeScenario(context, event.params.code!, input)
);

export const DELETE = api(({ context, event }) => deleteScenario(context, event.params.code!));
