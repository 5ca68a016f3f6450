import { takes } from '$lib/server/doors/http';
import { changeEntity, EntityChange } from '$lib/server/setup/entities';

export const PATCH = takes({ may: 'change departments', body: EntityChange }, ({ context, event, input }) =>
	changeEntity(context, event.params.entity!, input)
);
