/** Where an arrow key takes an item of a tree. */
import type { Move } from '../../core/company/move';
import { buildTree, type TreeItem } from '../../core/company/tree';

/** @returns null where the key is no arrow, or there is no further place that way */
export function stepOf(key: string, code: string, items: readonly TreeItem[]): Move | null {
	const tree = buildTree(items);
	const item = tree.get(code)!;
	const { parent } = item;
	const siblings = parent === null ? tree.roots : tree.children(parent);
	const at = siblings.indexOf(item);
	switch (key) {
		case 'ArrowUp':
			return at > 0 ? { parent, before: siblings[at - 1].code } : null;
		case 'ArrowDown':
			return at < siblings.length - 1 ? { parent, before: siblings[at + 2]?.code ?? null } : null;
		case 'ArrowRight':
			return at > 0 ? { parent: siblings[at - 1].code, before: null } : null;
		case 'ArrowLeft': {
			const above = parent === null ? undefined : tree.get(parent)!;
			if (!above) return null;
			const around = above.parent === null ? tree.roots : tree.children(above.parent);
			return { parent: above.parent, before: around[around.indexOf(above) + 1]?.code ?? null };
		}
		default:
			return null;
	}
}

/** Where on a row something is dropped: on its upper or lower edge, or in the middle of it. */
export type Edge = 'before' | 'under' | 'after';

/**
 * Where a row is dropped on, from how far down it is (0 to 1). One that can take others has a middle, to lie under it;
 * of one that cannot, each half is an edge.
 */
export const edgeAt = (down: number, takes: boolean): Edge =>
	takes ? (down < 0.28 ? 'before' : down > 0.72 ? 'after' : 'under') : down < 0.5 ? 'before' : 'after';

/** Where an item goes that is dropped on another; null where it stands there already, or would lie under itself. */
export function droppedAt(code: string, on: string, edge: Edge, items: readonly TreeItem[]): Move | null {
	const tree = buildTree(items);
	if (tree.within(on, code)) return null;
	const siblings = (parent: string | null) => (parent === null ? tree.roots : tree.children(parent));
	const item = tree.get(code)!;
	const target = tree.get(on)!;
	const parent = edge === 'under' ? on : target.parent;
	// Without the one that moves: it is before none of them.
	const others = siblings(parent).filter((s) => s !== item);
	const at = edge === 'under' ? others.length : others.indexOf(target) + (edge === 'after' ? 1 : 0);
	const before = others[at]?.code ?? null;
	const now = siblings(item.parent);
	const stays = parent === item.parent && before === (now[now.indexOf(item) + 1]?.code ?? null);
	return stays ? null : { parent, before };
}

/** Those of a tree that an item can lie under: not under itself. */
export function notUnder<T extends TreeItem>(
	places: readonly T[],
	code: string,
	items: readonly TreeItem[]
): T[] {
	const tree = buildTree(items);
	return places.filter((p) => !tree.within(p.code, code));
}
