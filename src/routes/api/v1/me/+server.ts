import { api } from '$lib/server/http';

export const GET = api(async ({ user }) => user);
