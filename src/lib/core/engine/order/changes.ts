/** What has to be computed again after inputs have changed: for each node from which period on, and in which rows. */
import type { Component } from './graph';
import type { Read } from '../instructions';
import type { Network, Node } from '../network';
import type { Pass } from './passes';

/** Cells from a period on, in rows lo (included) to hi (excluded). */
export interface Dirt {
	from: number;
	lo: number;
	hi: number;
}

export function join(a: Dirt | undefined, b: Dirt): Dirt {
	return a ? { from: Math.min(a.from, b.from), lo: Math.min(a.lo, b.lo), hi: Math.max(a.hi, b.hi) } : b;
}

/**
 * @param changed by line
 * @returns for each component that is touched, its dirt; nothing else can have changed
 */
export function spreadChanges(
	network: Network,
	passes: readonly Pass[],
	changed: ReadonlyMap<number, Dirt>
): Map<Component, Dirt> {
	const dirtOfLine = new Map(changed);
	const found = new Map<Component, Dirt>();
	for (const { components, tiled } of passes)
		for (const component of components) {
			let dirt: Dirt | undefined;
			for (const n of component.nodes) {
				const node = network.nodes[n];
				// Computed cells of a line that has been written to.
				const own = changed.get(node.target);
				if (own && own.from < node.to) dirt = join(dirt, own);
				for (const read of network.readsOf(node)) {
					const source = dirtOfLine.get(read.line);
					const reached = source && reachedBy(network, node, read, source);
					if (reached) dirt = join(dirt, reached);
				}
			}
			if (!dirt) continue;
			// Where rows feed other rows and these feed back, all of them are touched.
			if (!tiled && component.nodes.length > 1) dirt = { from: dirt.from, lo: 0, hi: Infinity };
			found.set(component, dirt);
			for (const n of component.nodes) {
				const { target } = network.nodes[n];
				dirtOfLine.set(target, join(dirtOfLine.get(target), dirt));
			}
		}
	return found;
}

function reachedBy(network: Network, node: Node, read: Read, source: Dirt): Dirt | null {
	const { open } = network.axes[node.axis];
	const column = network.lines[read.line].matrix.timeless === true;
	const from = column ? node.from : firstReached(node, read, source.from, open);
	if (from === null || from >= node.to) return null;
	const rows = rowsReached(network, node, read, source);
	return rows && { from, ...rows };
}

function firstReached(node: Node, { reach }: Read, changedFrom: number, open: number): number | null {
	switch (reach) {
		case 'all':
			return node.from;
		case 'past':
			return Math.max(node.from, changedFrom);
		case 'closed':
			return changedFrom < open ? node.from : null;
		default:
			if (typeof reach === 'object')
				return changedFrom < reach.to ? Math.max(node.from, reach.reaches[changedFrom]) : null;
			return Math.max(node.from, changedFrom + reach);
	}
}

function rowsReached(
	network: Network,
	node: Node,
	read: Read,
	dirt: Dirt
): { lo: number; hi: number } | null {
	const lo = dirt.lo;
	const hi = Math.min(dirt.hi, network.lines[read.line].matrix.rows);
	if (read.sameRows) return { lo, hi };
	let first = Infinity;
	let last = -1;
	const take = (r: number) => {
		if (r < first) first = r;
		if (r > last) last = r;
	};
	if (node.kind === 'inflow') {
		for (const { line, rows, into } of node.sources)
			if (line === read.line)
				for (let k = 0; k < rows.length; k++) if (rows[k] >= lo && rows[k] < hi) take(into[k]);
	} else if (read.index) {
		for (let r = 0; r < read.index.length; r++) if (read.index[r] >= lo && read.index[r] < hi) take(r);
	} else return { lo: 0, hi: network.lines[node.target].matrix.rows };
	return last < 0 ? null : { lo: first, hi: last + 1 };
}
