import { takes } from '$lib/server/doors/http';
import { addEntity, NewEntity } from '$lib/server/setup/entities';

export const POST = takes({ may: 'change departments', body: NewEntity }, ({ context, input }) =>
	addEntity(context, input)
);
