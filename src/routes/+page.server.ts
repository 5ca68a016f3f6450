import { redirect } from '@sveltejs/kit';
import { stagesFor } from '$lib/server/doors/frame';
import { page } from '$lib/server/doors/http';
import { companyState } from '$lib/server/company/structure';

/** The start leads to where each role works. */
export const load = async ({ locals }) => {
	const stages = await page({ locals }, async (context) =>
		stagesFor(context, (await companyState(context.db)).structure.departments)
	);
	const role = locals.user!.role;
	const start =
		role === 'viewer' || role === 'analyst' ? '/compare' : role === 'reviewer' ? '/collect' : '/plan';
	redirect(303, stages.find((s) => s.href === start)?.href ?? stages[0].href);
};
