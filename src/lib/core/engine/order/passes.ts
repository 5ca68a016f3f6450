/**
 * The order of calculation. Components of one block that read each other row by row are put into one pass and
 * computed tile by tile together, so that what one writes is still in the processor's cache when the next reads it.
 */
import { orderComponents, type Component, type Edge } from './graph';
import type { Network, Node } from '../network';
import type { Read } from '../instructions';
import { runsMeet } from './regions';

export interface Pass {
	components: Component[];
	/** Whether rows are independent of each other, so that it can be run tile by tile. */
	tiled: boolean;
	block: string;
}

interface Link extends Edge {
	sameRows: boolean;
}

/** @throws CycleError when nodes need their own result */
export function planPasses(network: Network): Pass[] {
	const links = network.nodes.map((node) => linksOf(network, node));
	const components = orderComponents(links);
	const componentOf = new Int32Array(network.nodes.length);
	components.forEach((c, i) => c.nodes.forEach((n) => (componentOf[n] = i)));
	const passes: Pass[] = [];
	const passOf = new Int32Array(components.length);
	const passesOfBlock = new Map<string, number[]>();

	components.forEach((component, c) => {
		const nodes = component.nodes.map((n) => network.nodes[n]);
		const { block } = nodes[0];
		const inner = component.nodes.flatMap((n) => links[n].filter((e) => componentOf[e.to] === c));
		const tiled =
			nodes.every((n) => n.kind === 'program' && n.block === block) && inner.every((e) => e.sameRows);
		let earliest = 0;
		for (const n of component.nodes)
			for (const edge of links[n]) {
				const d = componentOf[edge.to];
				if (d === c) continue;
				const pass = passOf[d];
				const together =
					tiled && edge.sameRows && edge.lag >= 0 && passes[pass].tiled && passes[pass].block === block;
				earliest = Math.max(earliest, together ? pass : pass + 1);
			}
		const own = passesOfBlock.get(block) ?? [];
		let place = tiled ? own.find((p) => p >= earliest) : undefined;
		if (place === undefined) {
			place = passes.length;
			passes.push({ components: [], tiled, block });
			if (tiled) passesOfBlock.set(block, [...own, place]);
		}
		passes[place].components.push(component);
		passOf[c] = place;
	});
	return passes;
}

function linksOf(network: Network, node: Node): Link[] {
	const links: Link[] = [];
	const { open } = network.axes[node.axis];
	for (const read of network.readsOf(node))
		for (const w of network.writers[read.line]) {
			const writer = network.nodes[w];
			if (read.sameRows && !runsMeet(writer.runs, node.runs)) continue;
			const column = network.lines[read.line].matrix.timeless === true;
			const lag = lagBetween(node, writer, column ? { ...read, reach: 'all' } : read, open);
			if (lag !== null) links.push({ to: w, lag, sameRows: read.sameRows });
		}
	return links;
}

/** At least so many periods lie between; less than 0 when later ones are needed, null when the writer is not read. */
function lagBetween(reader: Node, writer: Node, { reach }: Read, open: number): number | null {
	switch (reach) {
		case 'all':
			return -1;
		case 'past':
			return writer.from < reader.to ? 0 : null;
		case 'closed':
			if (writer.from >= open) return null;
			return reader.from >= open ? 1 : -1;
		default:
			if (typeof reach === 'object')
				return writer.from < reach.to && reach.from < writer.to ? reach.lag : null;
			return writer.from < reader.to - reach && reader.from - reach < writer.to ? reach : null;
	}
}
