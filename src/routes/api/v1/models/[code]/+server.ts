import { z } from 'zod';
import { asked, takes } from '$lib/server/doors/http';
import { readModel } from '$lib/server/models/models';
import { openedIn } from '$lib/server/models/opened-rows';
import {
	Arrangement,
	ArrangementText,
	inCalendar,
	inOrder,
	Known,
	Window
} from '$lib/server/platform/schemas';

const Query = inCalendar((calendar) =>
	ArrangementText.extend({ scenario: Known, ...Window(calendar) }).superRefine(inOrder)
);

export const GET = asked(Query, async ({ db, user, event, input: { empty, ...wanted } }) =>
	readModel(db, user, {
		...wanted,
		open: await openedIn(db, wanted.open),
		model: event.params.code!,
		hideEmpty: empty === 'hide'
	})
);

/** The same with what would be too long for an address: thousands of opened rows. */
const Request = inCalendar((calendar) =>
	z.strictObject({ ...Arrangement.shape, scenario: Known, ...Window(calendar) }).superRefine(inOrder)
);

export const POST = takes(
	{ may: 'see driver models', body: Request, size: 2 * 1024 * 1024 },
	({ db, user, event, input: { empty, ...wanted } }) =>
		readModel(db, user, { ...wanted, model: event.params.code!, hideEmpty: empty === 'hide' })
);
