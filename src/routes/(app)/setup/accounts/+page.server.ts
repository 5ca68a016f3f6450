import { page } from '$lib/server/doors/http';
import { readChartOf } from '$lib/server/setup/chart';

export const load = ({ locals }) =>
	page({ locals }, async (context) => ({ accounts: await readChartOf(context) }));
