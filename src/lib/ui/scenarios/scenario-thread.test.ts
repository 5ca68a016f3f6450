/** Who answers what is asked of a scenario that a thread is only about to take. */
import { expose } from 'comlink';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { CalledOff } from '../../core/thread';
import { ScenarioThread } from './scenario-thread';

const work = {
	load(): void {},
	twice: (n: number) => 2 * n
};
/** What stands in for workers, those that have been started. */
let workers: MessagePort[];
function startWorker(): Worker {
	const { port1, port2 } = new MessageChannel();
	expose(work, port2);
	workers.push(port1, port2);
	return Object.assign(port1, { terminate: () => port1.close() }) as unknown as Worker;
}
const PLAN = { scenario: 'plan' };
let thread: ScenarioThread<typeof work>;
/** Asks for twice 3. */
const ask = (version: unknown, meanwhile: () => Promise<number | null>) =>
	thread.askOnceReady(PLAN, version, (w) => w.twice(3), meanwhile);
const never = () => Promise.reject(new Error('is not asked'));

beforeEach(() => {
	workers = [];
	thread = new ScenarioThread(startWorker);
	vi.stubGlobal('fetch', async () => new Response(new ArrayBuffer(8)));
});
afterEach(() => {
	thread.close();
	for (const port of workers) port.close();
	vi.unstubAllGlobals();
});

describe('a question about a scenario', () => {
	it('is answered by somebody else until the thread has answered one about it, then by the thread', async () => {
		expect(await ask(1, async () => 60)).toBe(60);
		// The thread has been made ready beside it.
		await vi.waitFor(async () => expect(await ask(1, async () => 61)).toBe(6));
		expect(await ask(1, async () => 62)).toBe(6);
		expect(await ask(2, async () => 63)).toBe(63);
	});
	it('waits for the thread where nobody else says it', async () => {
		expect(await ask(1, async () => null)).toBe(6);
		expect(await ask(2, never)).toBe(6);
		expect(workers).toHaveLength(4);
	});
	it('starts no thread once whoever asked has left', async () => {
		let answer: (n: number) => void = () => {};
		const asked = ask(1, () => new Promise((resolve) => (answer = resolve)));
		thread.close();
		answer(60);
		await expect(asked).rejects.toBeInstanceOf(CalledOff);
		expect(workers).toHaveLength(0);
	});
	it('is asked anew of the thread after the scenario could not be had', async () => {
		vi.stubGlobal('fetch', async () => Promise.reject(new TypeError('no network')));
		await expect(ask(1, never)).rejects.toThrow();
		vi.stubGlobal('fetch', async () => new Response(new ArrayBuffer(8)));
		expect(await ask(1, never)).toBe(6);
	});
});
