/** The part of a network that has to be calculated while inputs of nothing but some blocks change. */
import type { Line, Network } from '../network';

export interface Part {
	/** Those blocks, and all others by way of which what changes in them comes back to them. */
	blocks: ReadonlySet<string>;
	/** Lines of blocks that are not among these, but read by them: no change reaches them. */
	given: readonly Line[];
	/** All that the given lines are made of, themselves among it. */
	behind: readonly Line[];
}

/** @param own blocks of which inputs change, and which are to be seen */
export function partAround(network: Network, own: ReadonlySet<string>): Part {
	const { lines, nodes, writers } = network;
	const readers: number[][] = lines.map(() => []);
	for (const { line, target } of reads(network)) readers[line].push(target);
	const operands = (line: number): number[] =>
		writers[line].flatMap((n) => network.readsOf(nodes[n]).map((read) => read.line));
	const seen = [...lines.keys()].filter((line) => own.has(lines[line].block));
	const reached = closure(seen, (line) => readers[line]);
	const leading = closure(seen, operands);

	const blocks = new Set(own);
	for (const line of leading) if (reached.has(line) && !isMade(lines[line])) blocks.add(lines[line].block);
	const within = (line: number) => isMade(lines[line]) || blocks.has(lines[line].block);
	const whole = [...lines.keys()].filter((line) => blocks.has(lines[line].block));
	const read = closure(whole, (line) => (within(line) ? operands(line) : []));
	const given = [...read].filter((line) => !within(line));
	const named = (places: Iterable<number>) => [...places].map((line) => lines[line]);
	return { blocks, given: named(given), behind: named(closure(given, operands)) };
}

/** A line that the network makes of others, not one of the blocks that it was made from. */
const isMade = ({ block }: Line): boolean => block.includes('#');

function* reads(network: Network): Iterable<{ line: number; target: number }> {
	for (const node of network.nodes)
		for (const { line } of network.readsOf(node)) yield { line, target: node.target };
}

function closure(start: readonly number[], next: (line: number) => readonly number[]): ReadonlySet<number> {
	// What is added to a set while it is gone through is gone through as well.
	const found = new Set(start);
	for (const line of found) for (const other of next(line)) found.add(other);
	return found;
}
