import { api, takes } from '$lib/server/doors/http';
import { addRateSet, NewRateSet, rateSetsOf } from '$lib/server/setup/rates';

export const GET = api(({ context }) => rateSetsOf(context));

export const POST = takes({ may: 'set exchange rates', body: NewRateSet }, ({ context, input }) =>
	addRateSet(context, input)
);
