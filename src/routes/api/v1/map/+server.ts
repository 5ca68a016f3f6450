import { z } from 'zod';
import { api, body } from '$lib/server/http';
import { mapAccount, readMap } from '$lib/server/ledger-map';

export const GET = api(async ({ db, user }) => readMap(db, user));

const Mapping = z.strictObject({ ledger: z.string(), account: z.string().nullable() });

export const POST = api(async ({ db, user, event }) => {
	const { ledger, account } = await body(event, Mapping);
	await mapAccount(db, user, ledger, account);
});
