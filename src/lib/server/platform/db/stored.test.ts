/** Rows of the database are believed only as far as they are what they should be. */
import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { openDatabase } from './connect';
import * as stored from './stored';

const Round = z.object({ code: stored.text, due: stored.textOrNone, open: stored.flag, size: stored.whole });
const found = (...rows: object[]) => Promise.resolve(rows);

describe('what comes from the database', () => {
	it('is read by its shape, with the columns that it names', async () => {
		const row = { code: 'a', due: null, open: 1, size: 3, position: 7 };
		expect(await stored.rows(Round, found(row))).toEqual([{ code: 'a', due: null, open: true, size: 3 }]);
		expect(await stored.row(Round, Promise.resolve(undefined))).toBeUndefined();
		await expect(stored.one(Round, Promise.resolve(undefined))).rejects.toThrow(/a row/);
	});
	it.each([
		[{ code: null, due: null, open: 0, size: 1 }, '0.code'],
		[{ code: 'a', due: null, open: 2, size: 1 }, '0.open'],
		[{ code: 'a', due: null, open: 0, size: 1.5 }, '0.size'],
		[{ code: 'a', open: 0, size: 1 }, '0.due']
	])('is told with its place when it is something else: %j', async (row, place) => {
		await expect(stored.rows(Round, found(row))).rejects.toThrow(
			`The database holds something else than expected at ${place}`
		);
	});
	it('is JSON only where it can be read, and of its shape', async () => {
		const Row = z.object({ steps: stored.json(z.array(z.number())) });
		expect(await stored.rows(Row, found({ steps: '[1,2]' }))).toEqual([{ steps: [1, 2] }]);
		await expect(stored.rows(Row, found({ steps: '[1,' }))).rejects.toThrow(/0\.steps: is no JSON/);
		await expect(stored.rows(Row, found({ steps: '["1"]' }))).rejects.toThrow(/0\.steps\.0/);
	});
	it('keeps the order of keys where JSON is known by its text', async () => {
		const Kept = stored.jsonAsItStands(z.strictObject({ code: z.string(), name: z.string() }));
		const text = '{"name":"b","code":"a"}';
		expect(JSON.stringify(Kept.parse(text))).toBe(text);
		expect(() => Kept.parse('{"name":"b","code":1}')).toThrow(/another shape/);
	});
	it('is looked at in every row, also where there are very many', async () => {
		const many = Array.from({ length: 5000 }, (_, i) => ({ name: `n${i}`, at: i, data: new Uint8Array(8) }));
		const columns = { name: 'text', at: 'number', data: 'bytes' } as const;
		expect(await stored.many(columns, Promise.resolve(many))).toHaveLength(5000);
		for (const [i, bad] of [
			[4999, { name: 1, at: 0, data: new Uint8Array() }],
			[17, { name: '', at: null, data: new Uint8Array() }],
			[0, { name: '', at: 0, data: 'text' }]
		] as const)
			await expect(stored.many(columns, found(...many.with(i, bad as never)))).rejects.toThrow(`at ${i}.`);
	});
	it('is what SQLite hands out for counts, sums over nothing and blobs', async () => {
		const db = await openDatabase(':memory:');
		expect(await stored.one(stored.counted, db('scenario').count({ n: '*' }).first())).toEqual({ n: 0 });
		expect(await stored.one(stored.lastPlace, db('scenario').max({ position: 'position' }).first())).toEqual({
			position: null
		});
		const [{ b }] = await stored.rows(z.object({ b: stored.bytes }), db.select(db.raw("x'0102' as b")));
		expect([...b]).toEqual([1, 2]);
		await db.destroy();
	});
});
