/** Work that nobody waits for gives way to what is asked, until somebody waits for it. */
import { setTimeout } from 'node:timers/promises';
import { describe, expect, it } from 'vitest';
import { Ahead, inSteps, request } from '../../src/lib/server/platform/quiet';

/** Each step takes so long that it is heard whether somebody asks something. */
function* long(done: string[], steps: number): Generator<void, string> {
	for (let i = 1; i <= steps; i++) {
		for (const end = performance.now() + 45; performance.now() < end;);
		done.push(`step ${i}`);
		yield;
	}
	return 'made';
}
/** A request under way, and what ends it. */
function asked(): { answer: () => Promise<void> } {
	let end = () => {};
	const answered = request(() => new Promise<void>((resolve) => (end = resolve)));
	return {
		answer() {
			end();
			return answered;
		}
	};
}

describe('work ahead', () => {
	it('is done at once where somebody waits for it', async () => {
		const done: string[] = [];
		const made = inSteps(long(done, 2), null);
		expect(done).toEqual(['step 1', 'step 2']);
		expect(await made).toBe('made');
	});
	it('waits after a step while anything else is under way', async () => {
		const done: string[] = [];
		// One that takes longer than it takes to hear of it.
		const answered = request(() => setTimeout(60)).then(() => done.push('answered'));
		const made = inSteps(long(done, 2), new Ahead()).then((value) => done.push(value));
		await Promise.all([answered, made]);
		expect(done).toEqual(['step 1', 'answered', 'step 2', 'made']);
	});
	it('goes on as soon as somebody waits for it, whatever else is under way', async () => {
		const done: string[] = [];
		const other = asked();
		const ahead = new Ahead();
		const made = inSteps(long(done, 2), ahead);
		ahead.waitFor();
		expect(await made).toBe('made');
		await other.answer();
	});
});
