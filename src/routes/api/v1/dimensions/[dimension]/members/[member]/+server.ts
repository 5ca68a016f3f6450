import { z } from 'zod';
import { api, takes } from '$lib/server/doors/http';
import { changeMember, removeMember } from '$lib/server/models/members';
import { Known, MemberAttributes, Name } from '$lib/server/platform/schemas';

const Change = z.strictObject({
	name: Name(120).optional(),
	parent: Known.nullable().optional(),
	before: Known.nullable().optional(),
	retired: z.boolean().optional(),
	attributes: MemberAttributes.optional()
});

export const PATCH = takes(
	{ may: 'change driver models', body: Change },
	async ({ context, event, input }) => {
		const { dimension, member } = event.params;
		await changeMember(context, dimension!, member!, input);
	}
);

export const DELETE = api(async ({ context, event }) => {
	await removeMember(context, event.params.dimension!, event.params.member!);
});
