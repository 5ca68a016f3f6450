import { z } from 'zod';
import { hasCompany } from '$lib/server/company/subjects/company';
import { takesFromAnyone } from '$lib/server/doors/http';
import { foundCompany, Founding } from '$lib/server/founding/found';
import { mustHaveKey, spendKey } from '$lib/server/founding/key';
import { enter } from '$lib/server/doors/entering';
import { check } from '$lib/server/platform/check';
import { Refusal } from '$lib/server/platform/refusal';

const Keyed = z.looseObject({ key: z.string().max(100).default('') });

/** Sets up the company of an empty installation, and signs its first analyst in. */
export const POST = takesFromAnyone(512 * 1024, async ({ db, event, body }) => {
	if (await hasCompany(db)) throw new Refusal(409, 'This installation has its company already. Sign in.');
	const { key, ...answers } = check(body, Keyed);
	mustHaveKey(key, event.getClientAddress());
	const { analyst, department } = await foundCompany(db, check(answers, Founding));
	spendKey();
	await enter(db, analyst.email, event);
	return { department };
});
