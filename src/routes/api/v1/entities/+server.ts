import { takes } from '$lib/server/doors/http';
import { addEntity, EntityName } from '$lib/server/setup/departments';

export const POST = takes({ may: 'change departments', body: EntityName }, ({ context, input }) =>
	addEntity(context, input)
);
