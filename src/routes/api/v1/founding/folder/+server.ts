import { enter } from '$lib/server/doors/entering';
import { uploadsWithKey } from '$lib/server/doors/setting-up';
import { foundFromFolder, FromFolder } from '$lib/server/founding/from-folder';
import { spendKey } from '$lib/server/founding/key';

/** Sets up the company of an empty installation from a folder that was saved elsewhere, and signs an analyst in. */
export const POST = uploadsWithKey(FromFolder, async ({ db, event, answers, file }) => {
	const { email, assumed } = await foundFromFolder(db, file, answers);
	spendKey();
	await enter(db, email, event);
	return { assumed };
});
