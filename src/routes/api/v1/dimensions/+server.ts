import { z } from 'zod';
import { api, takes } from '$lib/server/doors/http';
import { addDimension, readDimensions } from '$lib/server/models/members';
import { Name } from '$lib/server/platform/schemas';

export const GET = api(async ({ context }) => ({ dimensions: await readDimensions(context) }));

const NewDimension = z.strictObject({ name: Name(80) });

export const POST = takes(
	{ may: 'change driver models', body: NewDimension },
	async ({ context, input }) => ({ code: await addDimension(context, input.name) })
);
