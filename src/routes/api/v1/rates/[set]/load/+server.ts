import { takes } from '$lib/server/doors/http';
import { loadRates, RateText } from '$lib/server/setup/rates';

export const POST = takes(
	{ may: 'set exchange rates', body: RateText, size: 4 * 1024 * 1024 },
	({ context, event, input }) => loadRates(context, event.params.set!, input)
);
