import { z } from 'zod';
import { api, takes } from '$lib/server/doors/http';
import { Preferences, preferencesOf, setPreferences } from '$lib/server/platform/preferences';

const Change = z.strictObject({
	decimal: Preferences.shape.decimal.unwrap().optional(),
	negative: Preferences.shape.negative.unwrap().optional(),
	density: Preferences.shape.density.unwrap().optional()
});

export const GET = api(({ context }) => preferencesOf(context));

export const POST = takes({ body: Change, size: 1024 }, ({ context, input }) =>
	setPreferences(context, input)
);
