import { z } from 'zod';
import { Code } from '$lib/core/model/schema';
import { api, body } from '$lib/server/http';
import { addMember } from '$lib/server/members';
import { MemberAttributes } from '$lib/server/schemas';

const NewMember = z.strictObject({
	code: Code.optional(),
	name: z.string().trim().min(1).max(120),
	parent: z.string().nullable().default(null),
	attributes: MemberAttributes.default({}),
	like: z
		.strictObject({
			member: z.string(),
			scenarios: z.array(z.string()).max(50),
			lines: z
				.array(
					z.strictObject({
						model: z.string(),
						line: z.string(),
						factor: z.number().min(-1000).max(1000).default(1)
					})
				)
				.max(200)
		})
		.optional()
});

export const POST = api(async ({ db, user, event }) =>
	addMember(db, user, { ...(await body(event, NewMember)), dimension: event.params.dimension! })
);
