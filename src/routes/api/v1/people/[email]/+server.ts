import { takes } from '$lib/server/doors/http';
import { endSession } from '$lib/server/doors/live';
import { changePerson, PersonChange } from '$lib/server/people/people';

/** Changes what somebody is; their open pages are asked anew what they may see. */
export const PATCH = takes(
	{ may: 'manage people', body: PersonChange },
	async ({ context, event, input }) => {
		for (const hash of await changePerson(context, event.params.email!, input)) endSession(hash);
	}
);
