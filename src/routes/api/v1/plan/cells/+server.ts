import { z } from 'zod';
import { saveInDepartments } from '$lib/server/accounts/department-plan';
import { takes } from '$lib/server/doors/http';
import { newBatch } from '$lib/server/company/journal';
import { ACCOUNTS_BLOCK } from '$lib/core/engine/spec';
import { Amount, CELLS_SIZE, Known, MOST_CELLS, PeriodText } from '$lib/server/platform/schemas';
import { withPeriods } from '$lib/server/scenarios/block-periods';

const Cells = z.strictObject({
	scenario: Known,
	department: Known,
	edits: z
		.array(
			z.strictObject({
				account: Known,
				/** Where it is not the one above. */
				department: Known.optional(),
				period: PeriodText,
				before: Amount,
				value: Amount
			})
		)
		.min(1)
		.max(MOST_CELLS)
});

export const POST = takes(
	{ may: 'plan figures', body: Cells, size: CELLS_SIZE },
	async ({ context, input: { scenario, department, edits } }) => {
		const read = await withPeriods(context, scenario, ACCOUNTS_BLOCK, edits);
		const cells = read.map((e) => ({ department, ...e }));
		const batch = newBatch();
		return { saved: await saveInDepartments(context, scenario, cells, { kind: 'plan', batch }), batch };
	}
);
