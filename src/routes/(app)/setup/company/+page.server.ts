import { page } from '$lib/server/doors/http';
import { companyFor } from '$lib/server/company/structure';

export const load = ({ locals }) =>
	page({ locals }, async (context) => void (await companyFor(context, 'take the company')));
