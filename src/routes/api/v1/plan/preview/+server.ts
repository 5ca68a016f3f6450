import { z } from 'zod';
import { takes } from '$lib/server/doors/http';
import { previewWritten } from '$lib/server/accounts/plan-parts';
import {
	Amount,
	CELLS_SIZE,
	inCalendar,
	inOrder,
	Known,
	KnownList,
	MOST_CELLS,
	PeriodText,
	Window
} from '$lib/server/platform/schemas';

const Request = inCalendar((calendar) =>
	z
		.strictObject({
			scenario: Known,
			...Window(calendar),
			edits: z
				.array(z.strictObject({ account: Known, department: Known, period: PeriodText, value: Amount }))
				.max(MOST_CELLS),
			shown: z
				.array(z.strictObject({ department: Known, accounts: KnownList(5000).nullable() }))
				.max(1000)
				.refine((list) => new Set(list.map((s) => s.department)).size === list.length, 'each department once')
		})
		.superRefine(inOrder)
);

export const POST = takes(
	{ may: 'plan figures', body: Request, size: CELLS_SIZE },
	async ({ context, input: { edits, shown, ...window } }) => ({
		rows: await previewWritten(context, window, edits, shown)
	})
);
