import { setImmediate } from 'node:timers/promises';
import { expect, it } from 'vitest';
import { beforePages, giveWay, inTurn } from './page-turns';

/** Work that ends when it is told to. */
function held() {
	let end = () => {};
	const ended = new Promise<void>((done) => (end = done));
	return { ended, end };
}
/** What is ready has had its turn. */
async function others() {
	for (let i = 0; i < 5; i++) await setImmediate();
}

it('makes pages one after the other, in the order in which they were asked for', async () => {
	const done: string[] = [];
	const first = held();
	const one = inTurn(async () => {
		done.push('one begins');
		await first.ended;
		done.push('one');
	});
	const two = inTurn(async () => void done.push('two'));
	await others();
	expect(done).toEqual(['one begins']);
	first.end();
	await Promise.all([one, two]);
	expect(done).toEqual(['one begins', 'one', 'two']);
});

it('lets what is quick go before a page, and before each of its steps', async () => {
	const done: string[] = [];
	const [save, figure] = [held(), held()];
	const quick = [beforePages(() => save.ended.then(() => void done.push('save')))];
	const page = inTurn(async () => {
		done.push('data');
		quick.push(beforePages(() => figure.ended.then(() => void done.push('figure'))));
		await giveWay();
		done.push('drawing');
	});
	await others();
	expect(done).toEqual([]);
	save.end();
	await others();
	expect(done).toEqual(['save', 'data']);
	figure.end();
	await Promise.all([...quick, page]);
	expect(done).toEqual(['save', 'data', 'figure', 'drawing']);
});

it('goes on after what fails', async () => {
	const failing = () => Promise.reject(new Error('no'));
	await expect(beforePages(failing)).rejects.toThrow('no');
	await expect(inTurn(failing)).rejects.toThrow('no');
	expect(await inTurn(async () => 'a page')).toBe('a page');
});

it('waits for no work that takes long', async () => {
	const calculation = held();
	const long = beforePages(() => calculation.ended);
	expect(await inTurn(async () => 'a page')).toBe('a page');
	calculation.end();
	await long;
});
