import { page } from '$lib/server/http';
import { readDimensions } from '$lib/server/members';

export const load = ({ locals }) =>
	page({ locals }, async (db, user) => ({ dimensions: await readDimensions(db, user) }));
