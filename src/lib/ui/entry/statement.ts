/** Lays accounts out as a statement: parts first, their total below; groups fold. */
export interface StatementItem {
	account: string;
	parent: string | null;
	leaf: boolean;
}
export interface Placed<T> {
	item: T;
	kind: 'heading' | 'leaf' | 'total';
	depth: number;
	folded: boolean;
}

/**
 * @param items parents first
 * @param folded groups that show their total alone
 * @param shown whether a leaf is shown; a group without shown leaves is left out
 * @param summed whether a group has a total
 */
export function layOut<T extends StatementItem>(
	items: readonly T[],
	folded: ReadonlySet<string>,
	shown: (item: T) => boolean,
	summed: (item: T) => boolean = () => true
): Placed<T>[] {
	const known = new Set(items.map((i) => i.account));
	const children = new Map<string | null, T[]>();
	for (const item of items) {
		const parent = item.parent !== null && known.has(item.parent) ? item.parent : null;
		const list = children.get(parent);
		if (list) list.push(item);
		else children.set(parent, [item]);
	}
	const place = (item: T, depth: number): Placed<T>[] => {
		if (item.leaf) return shown(item) ? [{ item, kind: 'leaf', depth, folded: false }] : [];
		const parts = children.get(item.account) ?? [];
		const isFolded = folded.has(item.account);
		// A group of accounts gets a heading above them; a group of groups is said by its total alone.
		const headed = parts.some((p) => p.leaf);
		const inner = parts.flatMap((p) => place(p, headed ? depth + 1 : depth));
		if (!inner.length) return [];
		if (isFolded) return [{ item, kind: 'total', depth, folded: true }];
		return [
			...(headed ? [{ item, kind: 'heading' as const, depth, folded: false }] : []),
			...inner,
			...(summed(item) ? [{ item, kind: 'total' as const, depth, folded: false }] : [])
		];
	};
	return (children.get(null) ?? []).flatMap((root) => place(root, 0));
}
