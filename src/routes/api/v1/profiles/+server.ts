import type { z } from 'zod';
import { Profile } from '$lib/core/model/schema';
import { readProfiles } from '$lib/server/db/rows';
import { api, body } from '$lib/server/http';
import { putProfile, type ProfileInput } from '$lib/server/profiles';

export const GET = api(async ({ db }) => ({ profiles: await readProfiles(db) }));

const Input = Profile.extend({ code: Profile.shape.code.nullable() });

export const POST = api(async ({ db, user, event }) => ({
	code: await putProfile(db, user, await body(event, Input as z.ZodType<ProfileInput>))
}));
