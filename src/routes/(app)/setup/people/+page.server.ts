import { page } from '$lib/server/doors/http';
import { listPeople } from '$lib/server/people/people';

export const load = ({ locals }) =>
	page({ locals }, async (context) => ({ people: await listPeople(context), me: context.user.email }));
