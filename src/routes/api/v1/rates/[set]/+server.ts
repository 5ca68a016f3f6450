import { api, takes } from '$lib/server/doors/http';
import { changeRateSet, RateSetChange, removeRateSet } from '$lib/server/setup/rates';

export const PATCH = takes({ may: 'set exchange rates', body: RateSetChange }, ({ context, event, input }) =>
	changeRateSet(context, event.params.set!, input)
);

export const DELETE = api(({ context, event }) => removeRateSet(context, event.params.set!));
