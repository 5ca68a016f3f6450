/** Work that nobody waits for yet. */

/** At the latest after so long (milliseconds). */
const AT_THE_LATEST = 1000;

/**
 * Begins once the page has nothing else to do: what has to be painted first is not held up.
 * @returns calls it off
 */
export function whenIdle(work: () => void): () => void {
	if (typeof requestIdleCallback === 'function') {
		const id = requestIdleCallback(work, { timeout: AT_THE_LATEST });
		return () => cancelIdleCallback(id);
	}
	const id = setTimeout(work, AT_THE_LATEST / 5);
	return () => clearTimeout(id);
}
