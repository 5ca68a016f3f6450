import { z } from 'zod';
import { api, takes } from '$lib/server/doors/http';
import { mapAccount, readMap } from '$lib/server/ledger/map';
import { Known } from '$lib/server/platform/schemas';

export const GET = api(async ({ db, user }) => readMap(db, user));

const Mapping = z.strictObject({ ledger: Known, account: Known.nullable() });

export const POST = takes({ may: 'map ledger accounts', body: Mapping }, async ({ db, user, input }) => {
	await mapAccount(db, user, input.ledger, input.account);
});
