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

/** Where a node stands in tree order, and where what is under it ends. */
interface Place {
	depth: number;
	first: number;
	end: number;
	firstLeaf: number;
	endLeaf: number;
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

export interface TreeFault {
	code: string;
	column: 'code' | 'parent' | 'type' | 'translation';
	message: string;
}

/** Deeper than this nothing is nested. */
export const MOST_LEVELS = 30;

/** Everything because of which items make no tree: codes that stand twice, parents that are not there, circles, depth. */
export function treeFaults(items: readonly TreeItem[]): TreeFault[] {
	const faults: TreeFault[] = [];
	const byCode = new Map<string, TreeItem>();
	for (const item of items) {
		if (byCode.has(item.code))
			faults.push({ code: item.code, column: 'code', message: `“${item.code}” stands twice.` });
		byCode.set(item.code, item);
	}
	for (const item of byCode.values()) {
		if (item.parent === null) continue;
		if (!byCode.has(item.parent)) {
			const message = `the parent “${item.parent}” of “${item.code}” does not exist.`;
			faults.push({ code: item.code, column: 'parent', message });
			continue;
		}
		const seen = new Set<string>();
		let above: TreeItem | undefined = item;
		while (above && !seen.has(above.code) && seen.size <= MOST_LEVELS) {
			seen.add(above.code);
			above = above.parent === null ? undefined : byCode.get(above.parent);
		}
		if (above?.code === item.code && seen.size <= MOST_LEVELS)
			faults.push({ code: item.code, column: 'parent', message: `“${item.code}” is its own ancestor.` });
		else if (seen.size > MOST_LEVELS)
			faults.push({
				code: item.code,
				column: 'parent',
				message: `“${item.code}” lies more than ${MOST_LEVELS} levels deep.`
			});
	}
	return faults;
}

/** Builds the tree; throws TreeError on a double code, a missing parent, a loop or too many levels. */
export function buildTree<T extends TreeItem>(items: readonly T[]): Tree<T> {
	const [fault] = treeFaults(items);
	if (fault) throw new TreeError(fault.code, fault.message);
	const byCode = new Map(items.map((item) => [item.code, item]));
	const childrenOf = new Map<string, T[]>();
	const roots: T[] = [];
	for (const item of items) {
		if (item.parent === null) roots.push(item);
		else {
			const list = childrenOf.get(item.parent);
			if (list) list.push(item);
			else childrenOf.set(item.parent, [item]);
		}
	}
	const all: T[] = [];
	const leaves: T[] = [];
	// In tree order all that is under a node stands right behind it, among all nodes and among leaves.
	const places = new Map<string, Place>();
	const walk = (item: T, depth: number) => {
		const place = { depth, first: all.length, end: 0, firstLeaf: leaves.length, endLeaf: 0 };
		places.set(item.code, place);
		all.push(item);
		const children = childrenOf.get(item.code);
		if (children) for (const child of children) walk(child, depth + 1);
		else leaves.push(item);
		place.end = all.length;
		place.endLeaf = leaves.length;
	};
	for (const root of roots) walk(root, 0);
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
		leaves(code) {
			const place = places.get(code);
			return place ? leaves.slice(place.firstLeaf, place.endLeaf) : [];
		},
		subtree(code) {
			const place = places.get(code);
			return place ? all.slice(place.first, place.end) : [];
		},
		ancestors,
		within(code, root) {
			const [own, top] = [places.get(code), places.get(root)];
			return own !== undefined && top !== undefined && top.first <= own.first && own.first < top.end;
		},
		depth: (code) => places.get(code)?.depth ?? 0
	};
}
