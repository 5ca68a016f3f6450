/** Rows beyond those that a page is sent with. */
import { ApiError, get } from '../kit/api';
import { whenIdle } from '../kit/idle';
import { notices } from '../kit/notices.svelte';

/** What is typed right after opening is answered first (milliseconds). */
const A_MOMENT = 150;

/**
 * Asks for all rows a moment after the page has come; says so where they cannot be read.
 * @param soon they are waited for: one of them is to be shown
 * @returns calls it off, as far as it has not begun
 */
export const readOutOfSight = <T>(path: string, take: (found: T) => void, soon = false): (() => void) =>
	whenIdle(
		() =>
			void get<T>(path).then(take, (e: unknown) =>
				notices.say(e instanceof ApiError ? e.message : 'The rows further down could not be read.', true)
			),
		soon ? 0 : A_MOMENT
	);
