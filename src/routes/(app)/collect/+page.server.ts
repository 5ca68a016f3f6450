import { page } from '$lib/server/doors/http';
import { today } from '$lib/server/platform/settings';
import { listRounds } from '$lib/server/rounds/submissions';

export const load = ({ locals }) =>
	page({ locals, module: 'collecting' }, async (context) => ({ rounds: await listRounds(context, today()) }));
