import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { notices } from '../kit/notices.svelte';
import { readOutOfSight } from './rows-out-of-sight';

const asked = vi.fn<(path: string) => Promise<Response>>();
beforeEach(() => {
	vi.useFakeTimers();
	asked.mockReset().mockImplementation(async () => Response.json(['all rows']));
	vi.stubGlobal('fetch', asked);
	notices.list = [];
});
afterEach(() => {
	vi.useRealTimers();
	vi.unstubAllGlobals();
});

describe('rows that are out of sight', () => {
	it('come after what is asked right after opening', async () => {
		const taken = vi.fn();
		readOutOfSight('models/x?open=', taken);
		// A preview that is asked for a tenth of a second after the page goes before them.
		await vi.advanceTimersByTimeAsync(100);
		expect(asked).not.toHaveBeenCalled();
		await vi.runAllTimersAsync();
		expect(asked.mock.calls).toEqual([['/api/v1/models/x?open=']]);
		expect(taken).toHaveBeenCalledExactlyOnceWith(['all rows']);
	});
	it('come at once where one of them is to be shown', async () => {
		readOutOfSight('models/x', vi.fn(), true);
		await vi.advanceTimersByTimeAsync(0);
		expect(asked).toHaveBeenCalledOnce();
	});
	it('are not asked for by a page that has been left', async () => {
		readOutOfSight('models/x', vi.fn())();
		await vi.runAllTimersAsync();
		expect(asked).not.toHaveBeenCalled();
	});
	it('say why they do not come', async () => {
		const taken = vi.fn();
		asked.mockImplementation(async () =>
			Response.json({ error: { message: 'You may not see this scenario.' } }, { status: 403 })
		);
		readOutOfSight('models/x', taken);
		// Not so long that what is said has gone again.
		await vi.advanceTimersByTimeAsync(1000);
		expect(taken).not.toHaveBeenCalled();
		expect(notices.list.map(({ text, bad }) => ({ text, bad }))).toEqual([
			{ text: 'You may not see this scenario.', bad: true }
		]);
	});
});
