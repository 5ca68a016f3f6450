import { page } from '$lib/server/doors/http';
import { readModules } from '$lib/server/company/modules';

export const load = ({ locals }) =>
	page({ locals }, async (context) => ({ modules: await readModules(context) }));
