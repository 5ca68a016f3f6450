/** Where an item of a tree goes: under another parent, or elsewhere among those of its own. */
import { buildTree, type TreeItem } from './tree';

export interface Move {
	/** Null is the top. */
	parent: string | null;
	/** The one that it stands before; null is the last place. */
	before: string | null;
}

/**
 * The items with one of them, and all under it, moved.
 * @throws RangeError where it would lie under itself, or `before` is not under the parent
 */
export function moved<T extends TreeItem>(items: readonly T[], code: string, { parent, before }: Move): T[] {
	const tree = buildTree(items);
	const item = tree.get(code);
	if (!item) throw new RangeError(`There is no “${code}”.`);
	if (parent !== null && tree.within(parent, code))
		throw new RangeError(`“${item.name}” cannot lie under itself.`);
	if (before === code) return [...items];
	if (before !== null && (tree.get(before)?.parent ?? null) !== parent)
		throw new RangeError(`“${before}” does not lie where “${item.name}” is to go.`);
	const taken = new Set(tree.subtree(code).map((i) => i.code));
	const going = tree.subtree(code).map((i) => (i.code === code ? { ...i, parent } : i));
	const others = tree.all.filter((i) => !taken.has(i.code));
	const last =
		parent === null
			? undefined
			: tree
					.subtree(parent)
					.filter((i) => !taken.has(i.code))
					.at(-1);
	const at =
		before !== null
			? others.findIndex((i) => i.code === before)
			: last
				? others.findIndex((i) => i.code === last.code) + 1
				: others.length;
	return [...others.slice(0, at), ...going, ...others.slice(at)];
}
