import { api, takes } from '$lib/server/doors/http';
import { invite, listPeople, NewPerson } from '$lib/server/people/people';

export const GET = api(({ context }) => listPeople(context));

/** Adds somebody and sends them an invitation. */
export const POST = takes({ may: 'manage people', body: NewPerson }, ({ context, event, input }) =>
	invite(context, input, event.url.origin)
);
