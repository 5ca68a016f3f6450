import type { z } from 'zod';
import { Profile } from '$lib/core/inputs/schema';
import { readProfiles } from '$lib/server/company/subjects/profiles';
import { api, takes } from '$lib/server/doors/http';
import { putProfile, type ProfileInput } from '$lib/server/accounts/profiles';

export const GET = api(async ({ context }) => ({ profiles: await readProfiles(context.db) }));

const Input = Profile.extend({ code: Profile.shape.code.nullable() });

export const POST = takes(
	{ module: 'seasonality', may: 'change driver models', body: Input as z.ZodType<ProfileInput> },
	async ({ context, input }) => ({ code: await putProfile(context, input) })
);
