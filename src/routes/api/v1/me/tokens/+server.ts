import { api, takes } from '$lib/server/doors/http';
import { listTokens, makeToken, NewToken } from '$lib/server/platform/auth/tokens';

export const GET = api(({ context }) => listTokens(context));

/** Makes an access token of the user's own: this answer alone holds it. */
export const POST = takes({ body: NewToken }, async ({ context, input }) => ({
	token: await makeToken(context, input)
}));
