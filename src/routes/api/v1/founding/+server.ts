import { takesWithKey } from '$lib/server/doors/setting-up';
import { foundCompany, Founding } from '$lib/server/founding/found';
import { spendKey } from '$lib/server/founding/key';
import { enter } from '$lib/server/doors/entering';

/** Sets up the company of an empty installation, and signs its first analyst in. */
export const POST = takesWithKey(Founding, async ({ db, event, answers }) => {
	const { analyst, department } = await foundCompany(db, answers);
	spendKey();
	await enter(db, analyst.email, event);
	return { department };
});
