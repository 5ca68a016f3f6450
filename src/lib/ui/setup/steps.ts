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

/** Those of a tree that an item can lie under: not under itself. */
export function notUnder<T extends TreeItem>(
	places: readonly T[],
	code: string,
	items: readonly TreeItem[]
): T[] {
	const tree = buildTree(items);
	return places.filter((p) => !tree.within(p.code, code));
}
