import { inOwnWriting } from '$lib/server/doors/writing';
import { MODEL_PERIODS } from '$lib/core/views/written';
import { z } from 'zod';
import { asked, takes } from '$lib/server/doors/http';
import { readWrittenModel } from '$lib/server/models/models';
import { openedIn } from '$lib/server/models/opened-rows';
import { Arrangement, ArrangementText, Known, PeriodText } from '$lib/server/platform/schemas';

/** A window, in the company’s periods or in the model’s own. */
const Window = {
	scenario: Known,
	from: PeriodText,
	to: PeriodText,
	periods: z.enum(['company', 'model']).default('company')
};
const Query = ArrangementText.extend(Window);

export const GET = asked(Query, async ({ context, event, input: { empty, ...wanted } }) =>
	inOwnWriting(
		await readWrittenModel(context, {
			...wanted,
			open: await openedIn(context.db, wanted.open),
			model: event.params.code!,
			hideEmpty: empty === 'hide'
		}),
		MODEL_PERIODS
	)
);

/** The same with what would be too long for an address: thousands of opened rows. */
const Request = z.strictObject({ ...Arrangement.shape, ...Window });

export const POST = takes(
	{ may: 'see driver models', body: Request, size: 2 * 1024 * 1024 },
	async ({ context, event, input: { empty, ...wanted } }) =>
		inOwnWriting(
			await readWrittenModel(context, { ...wanted, model: event.params.code!, hideEmpty: empty === 'hide' }),
			MODEL_PERIODS
		)
);
