/**
 * Pages are made one after the other, and step by step: between the steps what is quick, a save or a figure, has its turn.
 * All of it is the work of one thread.
 */
import { setImmediate } from 'node:timers/promises';

/** What takes longer, because it waits for something itself, keeps no page waiting (milliseconds). */
const LONGEST_TURN = 100;

let last: Promise<void> = Promise.resolve();
/** What is quick and under way. */
let quick = 0;

/** Does the work, and calls `end` when it is done or has taken too long. */
async function turn<T>(work: () => Promise<T>, end: () => void): Promise<T> {
	let over = false;
	const once = () => {
		if (!over) end();
		over = true;
	};
	const timer = setTimeout(once, LONGEST_TURN);
	try {
		return await work();
	} finally {
		clearTimeout(timer);
		once();
	}
}

/** Does what is no page, before the next step of any page. */
export function beforePages<T>(work: () => Promise<T>): Promise<T> {
	quick++;
	return turn(work, () => quick--);
}

/** Between two steps of a page: what is quick, and what has come in meanwhile, is done first. */
export async function giveWay(): Promise<void> {
	const latest = performance.now() + LONGEST_TURN;
	do await setImmediate();
	while (quick > 0 && performance.now() < latest);
}

/** Makes a page when those before it are made. */
export async function inTurn<T>(make: () => Promise<T>): Promise<T> {
	const before = last;
	let end = () => {};
	last = new Promise((done) => (end = done));
	await before;
	await giveWay();
	return turn(make, end);
}
