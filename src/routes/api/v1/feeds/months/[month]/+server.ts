import { takeOutMonth } from '$lib/server/ledger/months';
import { companyState } from '$lib/server/company/structure';
import { api } from '$lib/server/doors/http';
import { check } from '$lib/server/platform/check';
import { Period } from '$lib/server/platform/schemas';

export const DELETE = api(async ({ context, event }) => ({
	entries: await takeOutMonth(
		context,
		check(event.params.month, Period((await companyState(context.db)).calendar))
	)
}));
