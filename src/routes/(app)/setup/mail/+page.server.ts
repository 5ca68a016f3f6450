import { page } from '$lib/server/doors/http';
import { readOutbox } from '$lib/server/people/outbox';

export const load = ({ locals }) => page({ locals }, readOutbox);
