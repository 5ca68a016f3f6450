/** Work in steps, between which other work may be done. */

/** All steps at once. */
export function atOnce<T>(work: Generator<void, T>): T {
	let step = work.next();
	while (!step.done) step = work.next();
	return step.value;
}
