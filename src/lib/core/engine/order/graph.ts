/** Order of calculation over nodes that read each other. */
export interface Edge {
	to: number;
	/** How many periods back is read, at the least; 0 is the same period, less is a look ahead. */
	lag: number;
}

export interface Component {
	/** In an order in which each is ready when the next reads it in the same period. */
	nodes: number[];
	/**
	 * The nodes look at their own past: they are calculated together, this many periods at a time, the shortest
	 * look back among them. Infinity where they do not.
	 */
	step: number;
}

/** Nodes that need themselves in the same period or ahead of it, first repeated at the end. */
export class CycleError extends Error {
	constructor(readonly path: number[]) {
		super('A calculation needs its own result.');
	}
}

/**
 * Strongly connected components in order of calculation (Tarjan's algorithm, iterative).
 * @param reads for each node, the nodes it reads
 * @throws CycleError when a same-period cycle exists
 */
export function orderComponents(reads: readonly (readonly Edge[])[]): Component[] {
	const n = reads.length;
	const index = new Int32Array(n).fill(-1);
	const low = new Int32Array(n);
	const onStack = new Uint8Array(n);
	const stack: number[] = [];
	const components: Component[] = [];
	let counter = 0;

	for (let start = 0; start < n; start++) {
		if (index[start] !== -1) continue;
		const work: [node: number, edge: number][] = [[start, 0]];
		while (work.length) {
			const frame = work[work.length - 1];
			const [node, edge] = frame;
			if (edge === 0) {
				index[node] = low[node] = counter++;
				stack.push(node);
				onStack[node] = 1;
			}
			if (edge < reads[node].length) {
				frame[1]++;
				const to = reads[node][edge].to;
				if (index[to] === -1) work.push([to, 0]);
				else if (onStack[to]) low[node] = Math.min(low[node], index[to]);
				continue;
			}
			work.pop();
			if (work.length) {
				const parent = work[work.length - 1][0];
				low[parent] = Math.min(low[parent], low[node]);
			}
			if (low[node] === index[node]) {
				const members: number[] = [];
				let last: number;
				do {
					last = stack.pop()!;
					onStack[last] = 0;
					members.push(last);
				} while (last !== node);
				components.push(toComponent(members, reads));
			}
		}
	}
	return components;
}

function toComponent(members: number[], reads: readonly (readonly Edge[])[]): Component {
	const [only] = members;
	if (members.length === 1 && !reads[only].some((e) => e.to === only))
		return { nodes: members, step: Infinity };
	const inside = new Set(members);
	for (const m of members)
		for (const { to, lag } of reads[m])
			if (lag < 0 && inside.has(to)) throw new CycleError([m, ...pathBetween(to, m, reads, inside)]);
	const lags = members.flatMap((m) =>
		reads[m].filter((e) => inside.has(e.to) && e.lag > 0).map((e) => e.lag)
	);
	return { nodes: orderWithinPeriod(members, reads), step: Math.min(...lags) };
}

/** Depth-first order over the edges of the same period; a node met while still open closes a cycle. */
function orderWithinPeriod(members: number[], reads: readonly (readonly Edge[])[]): number[] {
	const inside = new Set(members);
	const state = new Map<number, 'open' | 'done'>();
	const order: number[] = [];
	for (const start of [...members].sort((a, b) => a - b)) {
		if (state.has(start)) continue;
		const path: [node: number, edge: number][] = [[start, 0]];
		state.set(start, 'open');
		while (path.length) {
			const frame = path[path.length - 1];
			const [node, edge] = frame;
			if (edge >= reads[node].length) {
				path.pop();
				state.set(node, 'done');
				order.push(node);
				continue;
			}
			frame[1]++;
			const { to, lag } = reads[node][edge];
			if (lag > 0 || !inside.has(to)) continue;
			if (state.get(to) === 'open') {
				const nodes = path.map(([p]) => p);
				throw new CycleError([...nodes.slice(nodes.indexOf(to)), to]);
			}
			if (!state.has(to)) {
				state.set(to, 'open');
				path.push([to, 0]);
			}
		}
	}
	return order;
}

/** Some way from one node to another inside a component, both included. */
function pathBetween(
	from: number,
	to: number,
	reads: readonly (readonly Edge[])[],
	inside: ReadonlySet<number>
): number[] {
	const cameFrom = new Map<number, number>([[from, -1]]);
	const queue = [from];
	for (const node of queue) {
		if (node === to) break;
		for (const edge of reads[node])
			if (inside.has(edge.to) && !cameFrom.has(edge.to)) {
				cameFrom.set(edge.to, node);
				queue.push(edge.to);
			}
	}
	const path: number[] = [];
	for (let node = to; node !== -1; node = cameFrom.get(node)!) path.unshift(node);
	return path;
}
