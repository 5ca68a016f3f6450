import { z } from 'zod';
import { takes } from '$lib/server/doors/http';
import { keepOpened } from '$lib/server/models/opened-rows';
import { Arrangement } from '$lib/server/platform/schemas';

const Opened = z.strictObject({ open: Arrangement.shape.open.unwrap() });

export const POST = takes(
	{ may: 'see driver models', body: Opened, size: 2 * 1024 * 1024 },
	async ({ context, input }) => ({ open: await keepOpened(context.db, input.open) })
);
