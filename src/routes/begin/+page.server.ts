import { error, redirect } from '@sveltejs/kit';
import { CURRENCIES } from '$lib/core/company/currency';
import { hasCompany } from '$lib/server/company/subjects/company';
import { CHARTS } from '$lib/server/founding/charts';
import { mustHaveKey } from '$lib/server/founding/key';
import { database } from '$lib/server/platform/database';
import { Refusal } from '$lib/server/platform/refusal';
import { today } from '$lib/server/platform/settings';

export const load = async ({ url, getClientAddress }) => {
	if (await hasCompany(await database())) redirect(303, '/signin');
	const key = url.searchParams.get('key') ?? '';
	try {
		mustHaveKey(key, getClientAddress());
	} catch (e) {
		if (e instanceof Refusal) error(e.status, e.message);
		throw e;
	}
	return { key, today: today(), currencies: CURRENCIES, charts: CHARTS };
};
