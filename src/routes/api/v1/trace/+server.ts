import { z } from 'zod';
import { takes } from '$lib/server/doors/http';
import { FigureReference, Known } from '$lib/server/platform/schemas';
import { openFigure } from '$lib/server/reports/traces';

const Request = z.strictObject({ scenario: Known, ref: FigureReference });

export const POST = takes({ body: Request, size: 4096 }, ({ db, user, input }) =>
	openFigure(db, user, input.scenario, input.ref)
);
