import { z } from 'zod';
import { api, body } from '$lib/server/http';
import { addDimension, readDimensions } from '$lib/server/members';

export const GET = api(async ({ db, user }) => ({ dimensions: await readDimensions(db, user) }));

const NewDimension = z.strictObject({ name: z.string().trim().min(1).max(80) });
export const POST = api(async ({ db, user, event }) => ({
	code: await addDimension(db, user, (await body(event, NewDimension)).name)
}));
