import { redirect } from '@sveltejs/kit';
import { stagesFor } from '$lib/server/doors/frame';
import { page } from '$lib/server/doors/http';
import { companyState } from '$lib/server/company/structure';

/** The start leads to where each role works; where no month is loaded there is nothing to compare, and planning comes first. */
export const load = async ({ locals }) => {
	const role = locals.user!.role;
	const to = await page({ locals }, async (context) => {
		const { structure, actuals } = await companyState(context.db);
		const stages = await stagesFor(context, structure.departments);
		const reads = role === 'viewer' || role === 'analyst';
		if (reads && actuals.last < 0) {
			const first = structure.departmentRows[0].code;
			return role === 'analyst' ? `/plan?department=${encodeURIComponent(first)}` : '/plan';
		}
		const start = reads ? '/compare' : role === 'reviewer' ? '/collect' : '/plan';
		return stages.find((s) => s.href === start)?.href ?? stages[0].href;
	});
	redirect(303, to);
};
