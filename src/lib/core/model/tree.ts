/** Trees given as parent codes: accounts, departments, members. */
export interface TreeItem {
	code: string;
	name: string;
	parent: string | null;
}

export interface Tree<T extends TreeItem> {
	roots: T[];
	get(code: string): T | undefined;
	children(code: string): T[];
	isLeaf(code: string): boolean;
	/** Leaves under a node, itself when it is one; in tree order. */
	leaves(code: string): T[];
	/** The node and all under it, parents first. */
	subtree(code: string): T[];
	/** From the node up to its root. */
	ancestors(code: string): T[];
	/** Whether `code` is `root` or lies under it. */
	within(code: string, root: string): boolean;
	/** All nodes, parents first, in tree order. */
	all: T[];
	depth(code: string): number;
}

/** A place where the parents do not make a tree. */
export class TreeError extends Error {
	constructor(
		readonly code: string,
		message: string
	) {
		super(message);
	}
}

/** Builds the tree; throws TreeError on a double code, a missing parent or a loop. */
export function buildTree<T extends TreeItem>(items: readonly T[]): Tree<T> {
	const byCode = new Map<string, T>();
	for (const item of items) {
		if (byCode.has(item.code)) throw new TreeError(item.code, `“${item.code}” stands twice.`);
		byCode.set(item.code, item);
	}
	const childrenOf = new Map<string, T[]>();
	const roots: T[] = [];
	for (const item of items) {
		if (item.parent === null) roots.push(item);
		else if (!byCode.has(item.parent))
			throw new TreeError(item.code, `the parent “${item.parent}” of “${item.code}” does not exist.`);
		else {
			const list = childrenOf.get(item.parent);
			if (list) list.push(item);
			else childrenOf.set(item.parent, [item]);
		}
	}
	const all: T[] = [];
	const depths = new Map<string, number>();
	const walk = (item: T, depth: number) => {
		all.push(item);
		depths.set(item.code, depth);
		for (const child of childrenOf.get(item.code) ?? []) walk(child, depth + 1);
	};
	for (const root of roots) walk(root, 0);
	if (all.length < items.length) {
		const lost = items.find((item) => !depths.has(item.code))!;
		throw new TreeError(lost.code, `“${lost.code}” is its own ancestor.`);
	}
	const subtree = (code: string): T[] => {
		const item = byCode.get(code);
		return item ? [item, ...(childrenOf.get(code) ?? []).flatMap((child) => subtree(child.code))] : [];
	};
	const ancestors = (code: string): T[] => {
		const path: T[] = [];
		for (let item = byCode.get(code); item; item = item.parent === null ? undefined : byCode.get(item.parent))
			path.push(item);
		return path;
	};
	return {
		roots,
		all,
		get: (code) => byCode.get(code),
		children: (code) => childrenOf.get(code) ?? [],
		isLeaf: (code) => !childrenOf.has(code),
		leaves: (code) => subtree(code).filter((item) => !childrenOf.has(item.code)),
		subtree,
		ancestors,
		within: (code, root) => ancestors(code).some((item) => item.code === root),
		depth: (code) => depths.get(code) ?? 0
	};
}
