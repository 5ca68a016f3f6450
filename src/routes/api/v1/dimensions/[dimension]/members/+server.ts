import { z } from 'zod';
import { Code } from '$lib/core/company/schema';
import { takes } from '$lib/server/doors/http';
import { addMember } from '$lib/server/models/members';
import { Known, KnownList, MemberAttributes, Name } from '$lib/server/platform/schemas';

const NewMember = z.strictObject({
	code: Code.optional(),
	name: Name(120),
	parent: Known.nullable().default(null),
	attributes: MemberAttributes.default({}),
	like: z
		.strictObject({
			member: Known,
			scenarios: KnownList(50),
			lines: z
				.array(
					z.strictObject({
						model: Known,
						line: Known,
						factor: z.number().min(-1000).max(1000).default(1)
					})
				)
				.max(200)
				.refine(
					(list) => new Set(list.map((l) => `${l.model}.${l.line}`)).size === list.length,
					'each line once'
				)
		})
		.optional()
});

export const POST = takes({ may: 'change driver models', body: NewMember }, ({ context, event, input }) =>
	addMember(context, { ...input, dimension: event.params.dimension! })
);
