import { RATE_PERIODS } from '$lib/core/views/written';
import { inCompanyWriting } from '$lib/server/doors/writing';
import { takes } from '$lib/server/doors/http';
import { loadRates, RateText } from '$lib/server/setup/rates';

export const POST = takes(
	{ may: 'set exchange rates', body: RateText, size: 4 * 1024 * 1024 },
	async ({ context, event, input }) =>
		inCompanyWriting(context.db, await loadRates(context, event.params.set!, input), RATE_PERIODS)
);
