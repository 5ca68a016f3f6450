import { CELLS_SIZE } from '$lib/server/platform/schemas';
import { api, takes } from '$lib/server/doors/http';
import {
	AccountCells,
	addAccounts,
	NewAccounts,
	readChartOf,
	saveAccountCells
} from '$lib/server/setup/chart';

export const GET = api(({ context }) => readChartOf(context));

/** Adds accounts under a heading, or shows what would be added. */
export const POST = takes(
	{ may: 'change accounts', body: NewAccounts, size: 512 * 1024 },
	({ context, input }) => addAccounts(context, input)
);

/** Changes cells of many accounts, or says what of their figures that would move. */
export const PATCH = takes(
	{ may: 'change accounts', body: AccountCells, size: CELLS_SIZE },
	({ context, input }) => saveAccountCells(context, input)
);
