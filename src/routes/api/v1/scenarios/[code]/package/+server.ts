import { packageToJson } from '$lib/core/scenario/package';
import { api } from '$lib/server/doors/http';
import { scenarioPackage } from '$lib/server/scenarios/plans';

/** All that is needed to calculate a scenario elsewhere. */
export const GET = api(async ({ context, event }) => {
	const parcel = await scenarioPackage(context, event.params.code!);
	return new Response(packageToJson(parcel), { headers: { 'content-type': 'application/json' } });
});
