import { z } from 'zod';
import { api, body } from '$lib/server/http';
import { changeMember, removeMember } from '$lib/server/members';
import { MemberAttributes } from '$lib/server/schemas';

const Change = z.strictObject({
	name: z.string().trim().min(1).max(120).optional(),
	parent: z.string().nullable().optional(),
	attributes: MemberAttributes.optional()
});

export const PATCH = api(async ({ db, user, event }) => {
	const { dimension, member } = event.params;
	await changeMember(db, user, dimension!, member!, await body(event, Change));
});

export const DELETE = api(async ({ db, user, event }) => {
	await removeMember(db, user, event.params.dimension!, event.params.member!);
});
