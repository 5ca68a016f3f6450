import { z } from 'zod';
import { takes } from '$lib/server/doors/http';
import { FigureText, Known } from '$lib/server/platform/schemas';
import { openWritten } from '$lib/server/reports/traces';

const Request = z.strictObject({ scenario: Known, ref: FigureText });

export const POST = takes({ body: Request, size: 4096 }, ({ context, input }) =>
	openWritten(context, input.scenario, input.ref)
);
