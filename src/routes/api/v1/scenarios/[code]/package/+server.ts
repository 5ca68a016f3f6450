import { packageToBytes } from '$lib/core/scenario/package';
import { api } from '$lib/server/doors/http';
import { scenarioPackage } from '$lib/server/scenarios/plans';

/** All that is needed to calculate a scenario, or one model of it, elsewhere. */
export const GET = api(async ({ context, event }) => {
	const model = event.url.searchParams.get('model');
	const parcel = await scenarioPackage(context, event.params.code!, model);
	return new Response(packageToBytes(parcel), { headers: { 'content-type': 'application/octet-stream' } });
});
