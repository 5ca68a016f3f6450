/**
 * The blocks of a scenario, of every kind there is. A new kind of block is put in here, and where its forms are kept;
 * nowhere else.
 */
import type { Structure } from '../company/structure';
import type { BasisEntry } from '../inputs/basis';
import { accountsBlock, type AccountsBlock } from './accounts/accounts';
import type { History } from './accounts/schema';
import type { Block, Inflow, Inflows } from './block';
import { driverModelBlock } from './driver-model/driver-model';
import { formulasOf, type ScenarioModel } from './driver-model/schema';
import { scheduleBlocks } from './schedule/schedule';
import { formulasOfSchedule, type ScenarioSchedule } from './schedule/schema';

/** What a scenario has of each kind that posts, in the form in which it is kept. */
export interface Forms {
	readonly models: readonly ScenarioModel[];
	readonly schedules: readonly ScenarioSchedule[];
}
interface Kind<Form> {
	blocks(form: Form, structure: Structure): Block[];
	/** The code of its block, and all that is written in its formulas. */
	formulas(form: Form): { block: string; texts: string[] };
}
const KINDS: { [K in keyof Forms]: Kind<Forms[K][number]> } = {
	models: {
		blocks: (model, structure) => [driverModelBlock(model, structure)],
		formulas: ({ definition }) => ({ block: definition.code, texts: definition.lines.flatMap(formulasOf) })
	},
	schedules: {
		blocks: scheduleBlocks,
		formulas: ({ definition }) => ({ block: definition.code, texts: formulasOfSchedule(definition) })
	}
};
export const formNames = Object.keys(KINDS) as (keyof Forms)[];

/** What a scenario has of each kind. */
export interface BlockData extends Partial<Omit<Forms, 'models'>>, Pick<Forms, 'models'> {
	bases: readonly BasisEntry[];
	history: History;
}

export interface Blocks {
	all: ReadonlyMap<string, Block>;
	accounts: AccountsBlock;
}

/** Whether blocks are formed from the very same. */
export const sameForms = (a: Partial<Forms>, b: Partial<Forms>): boolean =>
	formNames.every((kind) => a[kind] === b[kind]);

/** Planned accounts stand last, for they are posted to; one that leads nowhere is refused once they are calculated. */
export function openBlocks(structure: Structure, data: BlockData): Blocks {
	const posting = postingBlocks(structure, data);
	let inflows: Inflows | null = null;
	const byCode = new Map(posting.map((b) => [b.code, b]));
	const accounts = accountsBlock(
		structure,
		data.bases,
		() => (inflows ??= together(posting)),
		data.history,
		(block, line) => byCode.get(block)?.currencyOf(line) ?? null
	);
	return { all: new Map([...posting, accounts].map((b) => [b.code, b])), accounts };
}

/** The same before anything is known of a scenario but its forms: what they are, not where they post. */
export function blocksOf(structure: Structure, forms: Partial<Forms>): ReadonlyMap<string, Block> {
	const accounts = accountsBlock(structure, [], () => NONE, { first: 0, accounts: new Map() });
	return new Map([...postingBlocks(structure, forms), accounts].map((b) => [b.code, b]));
}

const postingBlocks = (structure: Structure, forms: Partial<Forms>): Block[] =>
	formNames.flatMap((kind) => blocksOfKind(kind, forms[kind] ?? [], structure));

const blocksOfKind = <K extends keyof Forms>(kind: K, forms: Forms[K], structure: Structure): Block[] =>
	forms.flatMap((form) => (KINDS[kind] as Kind<Forms[K][number]>).blocks(form, structure));

/** What the formulas of these forms say, block by block. */
export const formulasIn = (forms: Partial<Forms>): { block: string; texts: string[] }[] =>
	formNames.flatMap((kind) => formulasOfKind(kind, forms[kind] ?? []));

const formulasOfKind = <K extends keyof Forms>(kind: K, forms: Forms[K]) =>
	forms.map((form) => (KINDS[kind] as Kind<Forms[K][number]>).formulas(form));

const NONE: Inflows = new Map();
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
