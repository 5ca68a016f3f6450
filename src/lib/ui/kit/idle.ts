/** Work that nobody waits for yet. */

/** At the latest so long after its time (milliseconds). */
const AT_THE_LATEST = 1000;
/** Who has not gone on to another page after so long stays for a while (milliseconds). */
export const STAYS = 300;

/**
 * Begins once the page has nothing else to do: what has to be painted first is not held up.
 * @param after so many milliseconds from now at the earliest
 * @returns calls it off
 */
export function whenIdle(work: () => void, after = 0): () => void {
	let callOff = () => {};
	const begin = () => {
		if (typeof requestIdleCallback !== 'function') return work();
		const id = requestIdleCallback(work, { timeout: AT_THE_LATEST });
		callOff = () => cancelIdleCallback(id);
	};
	const timer = setTimeout(begin, after);
	return () => {
		clearTimeout(timer);
		callOff();
	};
}
