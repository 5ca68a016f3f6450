import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { moved } from './move';
import { buildTree, type TreeItem } from './tree';

const item = (code: string, parent: string | null): TreeItem => ({ code, name: code.toUpperCase(), parent });
/** a holds b and c; c holds d; e stands alone. */
const ITEMS = [item('a', null), item('b', 'a'), item('c', 'a'), item('d', 'c'), item('e', null)];
const order = (items: readonly TreeItem[]) =>
	items.map((i) => `${'.'.repeat(buildTree(items).depth(i.code))}${i.code}`).join(' ');

describe('an item of a tree', () => {
	it.each([
		['c', { parent: 'a', before: 'b' }, 'a .c ..d .b e'],
		['c', { parent: null, before: 'a' }, 'c .d a .b e'],
		['c', { parent: null, before: null }, 'a .b e c .d'],
		['e', { parent: 'c', before: 'd' }, 'a .b .c ..e ..d'],
		['e', { parent: 'b', before: null }, 'a .b ..e .c ..d'],
		['b', { parent: 'a', before: null }, 'a .c ..d .b e'],
		['b', { parent: 'a', before: 'b' }, 'a .b .c ..d e']
	] as const)('%s goes to %o with all under it', (code, to, expected) => {
		expect(order(moved(ITEMS, code, to))).toBe(expected);
	});
	it('cannot lie under itself, nor before what lies elsewhere', () => {
		expect(() => moved(ITEMS, 'a', { parent: 'd', before: null })).toThrow('“A” cannot lie under itself.');
		expect(() => moved(ITEMS, 'a', { parent: 'a', before: null })).toThrow(RangeError);
		expect(() => moved(ITEMS, 'e', { parent: 'a', before: 'd' })).toThrow(/does not lie where/);
		expect(() => moved(ITEMS, 'x', { parent: null, before: null })).toThrow(/no “x”/);
	});
	it('is lost never, and neither is any other, wherever it goes', () => {
		const codes = ITEMS.map((i) => i.code);
		const place = fc.option(fc.constantFrom(...codes), { nil: null });
		fc.assert(
			fc.property(fc.array(fc.tuple(fc.constantFrom(...codes), place, place), { maxLength: 12 }), (moves) => {
				let items: TreeItem[] = ITEMS;
				for (const [code, parent, before] of moves)
					try {
						items = moved(items, code, { parent, before });
					} catch (e) {
						expect(e).toBeInstanceOf(RangeError);
					}
				expect(items.map((i) => i.code).sort()).toEqual(codes);
				expect(buildTree(items).all.map((i) => i.code)).toEqual(items.map((i) => i.code));
			})
		);
	});
});
