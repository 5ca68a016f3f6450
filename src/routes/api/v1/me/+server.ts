import { api } from '$lib/server/doors/http';

export const GET = api(async ({ user }) => user);
