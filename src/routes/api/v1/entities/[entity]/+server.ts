import { takes } from '$lib/server/doors/http';
import { EntityName, renameEntity } from '$lib/server/setup/departments';

export const PATCH = takes({ may: 'change departments', body: EntityName }, ({ context, event, input }) =>
	renameEntity(context, event.params.entity!, input)
);
