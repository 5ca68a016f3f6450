import { inCompanyWriting } from '$lib/server/doors/writing';
import { SCENARIO_PERIODS } from '$lib/core/views/written';
import { z } from 'zod';
import { Beginning, ScenarioKind } from '$lib/core/scenario/schema';
import { api, takes } from '$lib/server/doors/http';
import { copyScenario } from '$lib/server/scenarios/making';
import { listedFor } from '$lib/server/scenarios/scenarios';
import { LaterYears } from '$lib/core/calendar/spec';
import { inCalendar, Known, Name, Period } from '$lib/server/platform/schemas';

export const GET = api(async ({ context }) => ({
	scenarios: await inCompanyWriting(context.db, await listedFor(context), SCENARIO_PERIODS)
}));

const Copy = inCalendar((calendar) =>
	z.strictObject({
		from: Known,
		name: Name(80),
		kind: ScenarioKind.exclude(['actuals']),
		notes: z.boolean().default(false),
		begins: Beginning.default({ with: 'figures' }),
		/** A later last period than that of what it comes from. */
		last: Period(calendar).optional(),
		/** How later years are divided; as in what it comes from when absent. */
		laterYears: LaterYears.nullable().optional()
	})
);

export const POST = takes(
	{ may: 'change scenarios', body: Copy },
	async ({ context, input: { from, name, kind, notes, begins, ...periods } }) => ({
		code: await copyScenario(context, from, name, kind, notes, periods, begins)
	})
);
