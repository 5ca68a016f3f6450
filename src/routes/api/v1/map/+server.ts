import { api, takes } from '$lib/server/doors/http';
import { mapAccounts, Mapping, readMap } from '$lib/server/ledger/map';

export const GET = api(async ({ context }) => readMap(context));

export const POST = takes({ may: 'map ledger accounts', body: Mapping }, async ({ context, input }) => {
	await mapAccounts(context, input);
});
