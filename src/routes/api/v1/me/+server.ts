import { api } from '$lib/server/doors/http';

export const GET = api(async ({ context }) => context.user);
