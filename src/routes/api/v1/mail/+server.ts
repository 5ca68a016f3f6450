import { api } from '$lib/server/doors/http';
import { readOutbox } from '$lib/server/people/outbox';

/** What mail has gone out, or waits to be read here. */
export const GET = api(({ context }) => readOutbox(context));
