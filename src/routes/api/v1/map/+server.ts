import { z } from 'zod';
import { api, takes } from '$lib/server/doors/http';
import { mapAccount, readMap } from '$lib/server/ledger/map';
import { Known } from '$lib/server/platform/schemas';

export const GET = api(async ({ context }) => readMap(context));

const Mapping = z.strictObject({ ledger: Known, account: Known.nullable() });

export const POST = takes({ may: 'map ledger accounts', body: Mapping }, async ({ context, input }) => {
	await mapAccount(context, input.ledger, input.account);
});
