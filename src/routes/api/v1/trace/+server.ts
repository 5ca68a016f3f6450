import { z } from 'zod';
import { takes } from '$lib/server/doors/http';
import { FigureReference, inCalendar, Known } from '$lib/server/platform/schemas';
import { openFigure } from '$lib/server/reports/traces';

const Request = inCalendar((calendar) => z.strictObject({ scenario: Known, ref: FigureReference(calendar) }));

export const POST = takes({ body: Request, size: 4096 }, ({ db, user, input }) =>
	openFigure(db, user, input.scenario, input.ref)
);
