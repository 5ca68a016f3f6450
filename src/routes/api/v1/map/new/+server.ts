import { takes } from '$lib/server/doors/http';
import { foldIntoNew, NewPlanning } from '$lib/server/ledger/new-planning';

/** Makes planning accounts for ledger accounts, and folds these into them. */
export const POST = takes(
	{ may: 'change accounts', body: NewPlanning, size: 1024 * 1024 },
	({ context, input }) => foldIntoNew(context, input)
);
