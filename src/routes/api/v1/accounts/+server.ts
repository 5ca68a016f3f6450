import { api, takes } from '$lib/server/doors/http';
import { addAccounts, NewAccounts, readChartOf } from '$lib/server/setup/chart';

export const GET = api(({ context }) => readChartOf(context));

/** Adds accounts under a heading, or shows what would be added. */
export const POST = takes(
	{ may: 'change accounts', body: NewAccounts, size: 512 * 1024 },
	({ context, input }) => addAccounts(context, input)
);
