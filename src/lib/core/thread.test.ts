/** Calls of a thread, through a channel that stands in its place. */
import { expose } from 'comlink';
import { describe, expect, it } from 'vitest';
import { CalledOff, Thread } from './thread';

/** Threads that can be watched: how many were started and ended, and breaking the last. */
function watched() {
	const seen = { started: 0, ended: 0, fail: (() => {}) as (why: Error) => void };
	const release: (() => void)[] = [];
	const work = () => {
		let asked = 0;
		return {
			double: (n: number) => 2 * n,
			asked: () => ++asked,
			refuse: () => {
				throw new RangeError('There is no such month.');
			},
			/** Answers when it is released. */
			wait: () => new Promise<string>((done) => release.push(() => done('done')))
		};
	};
	const thread = new Thread<ReturnType<typeof work>>(() => {
		seen.started++;
		const { port1, port2 } = new MessageChannel();
		expose(work(), port2);
		port2.start();
		port1.start();
		return {
			endpoint: port1,
			end() {
				seen.ended++;
				port1.close();
				port2.close();
			},
			failed(hear) {
				seen.fail = hear;
			}
		};
	});
	return { thread, seen, release };
}

describe('a thread', () => {
	it('is started by the first question and answers several at a time', async () => {
		const { thread, seen } = watched();
		expect(thread.running).toBe(false);
		expect(await Promise.all([thread.ask((w) => w.double(4)), thread.ask((w) => w.double(5))])).toEqual([
			8, 10
		]);
		expect([seen.started, thread.running]).toEqual([1, true]);
		thread.end();
	});
	it('refuses in its own words and goes on', async () => {
		const { thread, seen } = watched();
		await expect(thread.ask((w) => w.refuse())).rejects.toThrow('There is no such month.');
		expect(await thread.ask((w) => w.double(3))).toBe(6);
		expect(seen).toMatchObject({ started: 1, ended: 0 });
		thread.end();
	});
	it('is ended by whoever calls off, for all who wait, and starts anew with nothing held', async () => {
		const { thread, seen } = watched();
		expect(await thread.ask((w) => w.asked())).toBe(1);
		const controller = new AbortController();
		const first = thread.ask((w) => w.wait(), { signal: controller.signal });
		const second = thread.ask((w) => w.wait());
		controller.abort();
		await expect(first).rejects.toMatchObject({ reason: 'called-off' });
		await expect(second).rejects.toBeInstanceOf(CalledOff);
		expect(seen).toMatchObject({ started: 1, ended: 1 });
		expect(await thread.ask((w) => w.asked())).toBe(1);
		expect(seen.started).toBe(2);
		thread.end();
	});
	it('is not asked at all by who has called off before', async () => {
		const { thread, seen } = watched();
		await expect(thread.ask((w) => w.double(1), { signal: AbortSignal.abort() })).rejects.toBeInstanceOf(
			CalledOff
		);
		expect(seen.started).toBe(0);
	});
	it('is ended when it takes too long', async () => {
		const { thread, seen } = watched();
		await expect(thread.ask((w) => w.wait(), { longest: 5 })).rejects.toMatchObject({ reason: 'too-long' });
		expect(seen.ended).toBe(1);
	});
	it('is not ended by the limits of a question that has been answered', async () => {
		const { thread, seen, release } = watched();
		const controller = new AbortController();
		await thread.ask((w) => w.double(1), { signal: controller.signal, longest: 60_000 });
		const other = thread.ask((w) => w.wait());
		controller.abort();
		await thread.ask((w) => w.double(1));
		release[0]();
		expect(await other).toBe('done');
		expect(seen.ended).toBe(0);
		thread.end();
	});
	it('tells whoever waits when it breaks, and starts anew; one that has gone is not heard', async () => {
		const { thread, seen } = watched();
		const waits = thread.ask((w) => w.wait());
		const { fail } = seen;
		fail(new Error('It ran out of memory.'));
		await expect(waits).rejects.toThrow('It ran out of memory.');
		expect(await thread.ask((w) => w.double(2))).toBe(4);
		fail(new Error('Much later.'));
		expect([seen.started, thread.running]).toEqual([2, true]);
		thread.end();
	});
});
