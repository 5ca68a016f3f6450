import { z } from 'zod';
import { saveInDepartments } from '$lib/server/accounts/department-plan';
import { takes } from '$lib/server/doors/http';
import { newBatch } from '$lib/server/company/journal';
import { Amount, CELLS_SIZE, inCalendar, Known, MOST_CELLS, Period } from '$lib/server/platform/schemas';

const Cells = inCalendar((calendar) =>
	z.strictObject({
		scenario: Known,
		department: Known,
		edits: z
			.array(
				z.strictObject({
					account: Known,
					/** Where it is not the one above. */
					department: Known.optional(),
					period: Period(calendar),
					before: Amount,
					value: Amount
				})
			)
			.min(1)
			.max(MOST_CELLS)
	})
);

export const POST = takes(
	{ may: 'plan figures', body: Cells, size: CELLS_SIZE },
	async ({ db, user, input: { scenario, department, edits } }) => {
		const cells = edits.map((e) => ({ department, ...e }));
		const batch = newBatch();
		return { saved: await saveInDepartments(db, user, scenario, cells, { kind: 'plan', batch }), batch };
	}
);
