import { takes } from '$lib/server/doors/http';
import { importMembers, MemberList } from '$lib/server/models/members-import';

export const POST = takes(
	{ may: 'change driver models', body: MemberList, size: 8 * 1024 * 1024 },
	({ context, event, input }) => importMembers(context, event.params.dimension!, input)
);
