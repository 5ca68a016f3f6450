import { page } from '$lib/server/doors/http';
import { readMap } from '$lib/server/ledger/map';

export const load = ({ locals }) => page({ locals }, async (context) => readMap(context));
