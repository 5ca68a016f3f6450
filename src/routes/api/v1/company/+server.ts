import { api, takes } from '$lib/server/doors/http';
import { ModuleChange, readModules, switchModule } from '$lib/server/company/modules';

/** Parts of the product, and which of them are on. */
export const GET = api(async ({ context }) => ({ modules: await readModules(context) }));

export const PATCH = takes({ may: 'change the company', body: ModuleChange }, async ({ context, input }) => {
	await switchModule(context, input);
});
