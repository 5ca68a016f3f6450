import { z } from 'zod';
import { api, query, takes } from '$lib/server/doors/http';
import { readModel } from '$lib/server/models/models';
import { openedIn } from '$lib/server/models/opened-rows';
import { Arrangement, ArrangementText, inOrder, Known, Window } from '$lib/server/platform/schemas';

const Query = ArrangementText.extend({ scenario: Known, ...Window }).superRefine(inOrder);

export const GET = api(async ({ db, user, event }) => {
	const { empty, ...wanted } = query(event.url, Query);
	return readModel(db, user, {
		...wanted,
		open: await openedIn(db, wanted.open),
		model: event.params.code!,
		hideEmpty: empty === 'hide'
	});
});

/** The same with what would be too long for an address: thousands of opened rows. */
const Request = z.strictObject({ ...Arrangement.shape, scenario: Known, ...Window }).superRefine(inOrder);

export const POST = takes(
	{ may: 'see driver models', body: Request, size: 2 * 1024 * 1024 },
	({ db, user, event, input: { empty, ...wanted } }) =>
		readModel(db, user, { ...wanted, model: event.params.code!, hideEmpty: empty === 'hide' })
);
