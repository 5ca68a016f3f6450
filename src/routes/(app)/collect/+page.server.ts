import { page } from '$lib/server/http';
import { today } from '$lib/server/settings';
import { listRounds } from '$lib/server/submissions';

export const load = ({ locals }) =>
	page({ locals }, async (db, user) => ({ rounds: await listRounds(db, user, today()) }));
