import { RATE_PERIODS } from '$lib/core/views/written';
import { api, takes } from '$lib/server/doors/http';
import { inCompanyWriting } from '$lib/server/doors/writing';
import { addRateSet, NewRateSet, rateSetsOf } from '$lib/server/setup/rates';

export const GET = api(async ({ context }) =>
	inCompanyWriting(context.db, await rateSetsOf(context), RATE_PERIODS)
);

export const POST = takes(
	{ module: 'currencies', may: 'set exchange rates', body: NewRateSet },
	({ context, input }) => addRateSet(context, input)
);
