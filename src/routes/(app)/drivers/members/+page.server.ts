import { page } from '$lib/server/doors/http';
import { readDimensions } from '$lib/server/models/members';

export const load = ({ locals }) =>
	page({ locals }, async (context) => ({ dimensions: await readDimensions(context) }));
