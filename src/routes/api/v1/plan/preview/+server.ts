import { z } from 'zod';
import { ACCOUNTS_BLOCK } from '$lib/core/engine/spec';
import { takes } from '$lib/server/doors/http';
import { previewWritten } from '$lib/server/accounts/plan-parts';
import {
	Amount,
	CellPlace,
	CELLS_SIZE,
	inCalendar,
	inOrder,
	Known,
	KnownList,
	Money,
	MOST_CELLS,
	Window
} from '$lib/server/platform/schemas';

const Request = inCalendar((calendar) =>
	z
		.strictObject({
			scenario: Known,
			money: Money.optional(),
			...Window(calendar),
			edits: z
				.array(z.strictObject({ ...CellPlace.shape, block: z.literal(ACCOUNTS_BLOCK), value: Amount }))
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
