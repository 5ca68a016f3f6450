import { api } from '$lib/server/doors/http';
import { endToken } from '$lib/server/platform/auth/tokens';

export const DELETE = api(({ context, event }) => endToken(context, Number(event.params.id)));
