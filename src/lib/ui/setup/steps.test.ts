/** Where the items of a tree go by keys and by hand. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { moved } from '../../core/company/move';
import { buildTree, type TreeItem } from '../../core/company/tree';
import { droppedAt, edgeAt, type Edge } from './steps';

const item = (code: string, parent: string | null): TreeItem => ({ code, name: code, parent });
const TREE = [
	item('a', null),
	item('b', 'a'),
	item('c', 'a'),
	item('d', 'c'),
	item('e', 'a'),
	item('f', null)
];

describe('what is dropped', () => {
	it('goes before, after or under the one that it is dropped on', () => {
		expect(droppedAt('f', 'c', 'before', TREE)).toEqual({ parent: 'a', before: 'c' });
		expect(droppedAt('f', 'c', 'after', TREE)).toEqual({ parent: 'a', before: 'e' });
		expect(droppedAt('f', 'e', 'after', TREE)).toEqual({ parent: 'a', before: null });
		expect(droppedAt('f', 'c', 'under', TREE)).toEqual({ parent: 'c', before: null });
		expect(droppedAt('b', 'e', 'after', TREE)).toEqual({ parent: 'a', before: null });
	});
	it('goes nowhere where it stands already, or would lie under itself', () => {
		expect(droppedAt('c', 'b', 'after', TREE)).toBeNull();
		expect(droppedAt('c', 'e', 'before', TREE)).toBeNull();
		expect(droppedAt('d', 'c', 'under', TREE)).toBeNull();
		expect(droppedAt('a', 'd', 'after', TREE)).toBeNull();
		expect(droppedAt('a', 'a', 'under', TREE)).toBeNull();
	});
	it('leaves every tree a tree with the same items, each where it was dropped', () => {
		fc.assert(
			fc.property(
				fc.array(fc.nat(30), { minLength: 1, maxLength: 14 }),
				fc.nat(),
				fc.nat(),
				fc.constantFrom<Edge>('before', 'under', 'after'),
				(parents, a, b, edge) => {
					const list = parents.map((p, i) => item(`i${i}`, p % (i + 1) === i ? null : `i${p % (i + 1)}`));
					const items = buildTree(list).all;
					const [code, on] = [a, b].map((n) => items[n % items.length].code);
					const to = droppedAt(code, on, edge, items);
					if (!to) return;
					const { all, get, roots, children } = buildTree(moved(items, code, to));
					expect(all.map((i) => i.code).sort()).toEqual(items.map((i) => i.code).sort());
					const beside = to.parent === null ? roots : children(to.parent);
					const place = beside.indexOf(get(code)!);
					if (edge === 'under') expect([to.parent, place]).toEqual([on, beside.length - 1]);
					else expect(beside[place + (edge === 'before' ? 1 : -1)].code).toBe(on);
				}
			)
		);
	});
	it('lies under one only in the middle of its row, and only if it takes others', () => {
		expect([0.1, 0.5, 0.9].map((d) => edgeAt(d, true))).toEqual(['before', 'under', 'after']);
		expect([0.1, 0.49, 0.9].map((d) => edgeAt(d, false))).toEqual(['before', 'before', 'after']);
	});
});
