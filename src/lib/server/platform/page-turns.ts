/** Pages are made one after the other: what is quick, a save or a figure, waits for one of them at most. */
import { setImmediate } from 'node:timers/promises';

/** A page that takes longer, because it waits for something itself, keeps no other waiting (milliseconds). */
const LONGEST_TURN = 100;

let last: Promise<void> = Promise.resolve();

/** Makes a page when those before it are made, and what has come in meanwhile has had its turn. */
export async function inTurn<T>(make: () => Promise<T>): Promise<T> {
	const before = last;
	let end = () => {};
	last = new Promise((done) => (end = done));
	await before;
	await setImmediate();
	const timer = setTimeout(end, LONGEST_TURN);
	try {
		return await make();
	} finally {
		clearTimeout(timer);
		end();
	}
}
