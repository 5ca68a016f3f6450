import { page } from '$lib/server/doors/http';
import { rateSetsOf } from '$lib/server/setup/rates';

export const load = ({ locals }) => page({ locals, module: 'currencies' }, (context) => rateSetsOf(context));
