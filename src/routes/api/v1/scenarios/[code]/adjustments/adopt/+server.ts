import { z } from 'zod';
import { adoptAdjustments } from '$lib/server/changes/adjustments';
import { takes } from '$lib/server/doors/http';
import { KnownList } from '$lib/server/platform/schemas';

const Adopt = z.strictObject({ codes: KnownList(200).min(1) });

export const POST = takes({ may: 'change driver models', body: Adopt }, ({ context, event, input }) =>
	adoptAdjustments(context, event.params.code!, input.codes)
);
