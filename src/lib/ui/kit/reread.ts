/** Reading a page's figures anew, without losing the page when that cannot be done. */
import { invalidateAll } from '$app/navigation';
import { ApiError, get } from './api';
import { notices } from './notices.svelte';

/** Whether the server answers, and answers this user; says it when not, after these words. */
async function reachable(before: string): Promise<boolean> {
	try {
		await get('me');
		return true;
	} catch (e) {
		if (!(e instanceof ApiError)) throw e;
		notices.say(`${before}${e.message}`, true);
		return false;
	}
}

let rereading = 0;
/** Between two attempts (milliseconds). */
const PAUSE = 700;

/**
 * Reads the page anew. While the server cannot be reached, or the session has ended, the page stays as it is: one that
 * could not be read would be replaced, and what is typed and not saved would be gone with it.
 * @param before what is said first where it cannot be read
 * @returns whether it was read
 */
export async function reread(before = ''): Promise<boolean> {
	if (!(await reachable(before))) return false;
	rereading++;
	try {
		await invalidateAll();
	} finally {
		rereading--;
	}
	return true;
}

/** A page that is read anew asks until it is answered; the application's own reading goes through here. */
export function askPatiently(ask: typeof fetch): typeof fetch {
	return async (input, init) => {
		const patient = rereading > 0 && String(input).includes('/__data.json');
		for (let told = false; ; await new Promise((r) => setTimeout(r, PAUSE)))
			try {
				return await ask(input, init);
			} catch (e) {
				if (!patient) throw e;
				if (!told) notices.say('The server cannot be reached. The page follows when it is back.', true);
				told = true;
			}
	};
}
