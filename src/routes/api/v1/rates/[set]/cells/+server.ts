import { takes } from '$lib/server/doors/http';
import { RateCells, typeRates } from '$lib/server/setup/rates';

export const POST = takes(
	{ may: 'set exchange rates', body: RateCells, size: 4 * 1024 * 1024 },
	({ context, event, input }) => typeRates(context, event.params.set!, input.cells)
);
