import { page } from '$lib/server/doors/http';
import { readDepartmentsOf } from '$lib/server/setup/departments';

export const load = ({ locals }) =>
	page({ locals }, async (context) => {
		const { departments: tree, entities } = await readDepartmentsOf(context);
		return { tree, entities };
	});
