import { api } from '$lib/server/doors/http';
import { sendLink } from '$lib/server/people/people';

/** Sends an invitation once more, or a link for a new password. */
export const POST = api(({ context, event }) => sendLink(context, event.params.email!, event.url.origin));
