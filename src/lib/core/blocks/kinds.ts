/** The blocks of a scenario, of every kind there is. A new kind of block is put in here, and nowhere else. */
import type { Structure } from '../company/structure';
import type { BasisEntry } from '../inputs/basis';
import { accountsBlock, type AccountsBlock } from './accounts/accounts';
import type { History } from './accounts/schema';
import type { Block, Inflow, Inflows } from './block';
import { driverModelBlock } from './driver-model/driver-model';
import type { ScenarioModel } from './driver-model/schema';

/** What a scenario has of each kind. */
export interface BlockData {
	models: readonly ScenarioModel[];
	bases: readonly BasisEntry[];
	history: History;
}

export interface Blocks {
	all: ReadonlyMap<string, Block>;
	accounts: AccountsBlock;
	inflows: Inflows;
}

/**
 * Planned accounts stand last, for they are posted to.
 * @throws ModelError where a posting leads nowhere
 */
export function openBlocks(structure: Structure, { models, bases, history }: BlockData): Blocks {
	const posting = postingBlocks(structure, models);
	const inflows = together(posting);
	const accounts = accountsBlock(structure, bases, inflows, history);
	return { all: new Map([...posting, accounts].map((b) => [b.code, b])), accounts, inflows };
}

/** The same before anything is known of a scenario but its models: what they are, not where they post. */
export function blocksOf(structure: Structure, models: readonly ScenarioModel[]): ReadonlyMap<string, Block> {
	const accounts = accountsBlock(structure, [], new Map(), { first: 0, accounts: new Map() });
	return new Map([...postingBlocks(structure, models), accounts].map((b) => [b.code, b]));
}

const postingBlocks = (structure: Structure, models: readonly ScenarioModel[]): Block[] =>
	models.map((m) => driverModelBlock(m, structure));

function together(blocks: readonly Block[]): Inflows {
	const found = new Map<string, Inflow[]>();
	for (const block of blocks)
		for (const [account, inflows] of block.inflows()) {
			const list = found.get(account);
			if (list) list.push(...inflows);
			else found.set(account, [...inflows]);
		}
	return found;
}
