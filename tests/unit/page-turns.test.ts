/** Pages are made one after the other, and none for ever. */
import { setImmediate } from 'node:timers/promises';
import { describe, expect, it } from 'vitest';
import { beforePages, giveWay, inTurn } from '../../src/lib/server/platform/page-turns';

/** A page that is made when it is told so. */
function page(name: string, told: string[]) {
	let end = () => {};
	const ready = new Promise<void>((done) => (end = done));
	const made = inTurn(async () => {
		told.push(`${name} begins`);
		await ready;
		told.push(`${name} ends`);
		return name;
	});
	return { made, end: () => end() };
}

/** What is ready has had its turn. */
async function others() {
	for (let i = 0; i < 5; i++) await setImmediate();
}

describe('what is quick', () => {
	/** Work that ends when it is told to. */
	function held() {
		let end = () => {};
		const ended = new Promise<void>((done) => (end = done));
		return { ended, end };
	}
	it('goes before a page, and before each of its steps', async () => {
		const told: string[] = [];
		const [save, figure] = [held(), held()];
		const quick = [beforePages(() => save.ended.then(() => void told.push('save')))];
		const made = inTurn(async () => {
			told.push('data');
			quick.push(beforePages(() => figure.ended.then(() => void told.push('figure'))));
			await giveWay();
			told.push('drawing');
		});
		await others();
		expect(told).toEqual([]);
		save.end();
		await others();
		expect(told).toEqual(['save', 'data']);
		figure.end();
		await Promise.all([...quick, made]);
		expect(told).toEqual(['save', 'data', 'figure', 'drawing']);
	});
	it('is no longer waited for when it fails, or takes long', async () => {
		await expect(beforePages(() => Promise.reject(new Error('no')))).rejects.toThrow('no');
		const calculation = held();
		const long = beforePages(() => calculation.ended);
		expect(await inTurn(async () => 'a page')).toBe('a page');
		calculation.end();
		await long;
	});
});

describe('pages that are asked for at once', () => {
	it('begin in their order, each when the one before it has ended', async () => {
		const told: string[] = [];
		const pages = ['first', 'second', 'third'].map((name) => page(name, told));
		await others();
		expect(told).toEqual(['first begins']);
		pages[2].end();
		pages[1].end();
		pages[0].end();
		expect(await Promise.all(pages.map((p) => p.made))).toEqual(['first', 'second', 'third']);
		expect(told).toEqual(['first', 'second', 'third'].flatMap((n) => [`${n} begins`, `${n} ends`]));
	});
	it('let what has come in meanwhile go first', async () => {
		const told: string[] = [];
		// It comes in while the first page is made, and has its turn once that lets others have theirs.
		void inTurn(async () => {
			void setImmediate().then(() => told.push('a save'));
		});
		const next = page('next page', told);
		next.end();
		await next.made;
		expect(told).toEqual(['a save', 'next page begins', 'next page ends']);
	});
	it('go on after one that fails, and do not wait for one that waits itself', async () => {
		const told: string[] = [];
		const failing = inTurn(async () => {
			throw new Error('no page');
		});
		const waiting = page('waiting', told);
		const next = page('next', told);
		next.end();
		await expect(failing).rejects.toThrow('no page');
		expect(await next.made).toBe('next');
		expect(told).toEqual(['waiting begins', 'next begins', 'next ends']);
		waiting.end();
		await waiting.made;
	});
});
