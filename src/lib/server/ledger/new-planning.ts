/** Planning accounts that are made on the spot for ledger accounts, and take them in. */
import { z } from 'zod';
import type { Account, AccountType } from '../../core/company/schema';
import type { Tree } from '../../core/company/tree';
import { mapInto } from './map';
import { asOne, type Context } from '../platform/context';
import { notFound, Refusal } from '../platform/refusal';
import { Known } from '../platform/schemas';
import { companyFor } from '../company/structure';
import { addAccounts } from '../setup/chart';
import { Label } from '../setup/tree';

export const NewPlanning = z.strictObject({
	accounts: z
		.array(
			z.strictObject({
				name: Label,
				/** The heading that it lies under. */
				heading: Known,
				/** Ledger accounts that are folded into it. */
				ledgers: z.array(Known).min(1).max(5000)
			})
		)
		.min(1, 'no account is named')
		.max(5000)
});

/**
 * Makes planning accounts under headings, each of the kind that stands there, and folds ledger accounts into them. One
 * that is made for a single ledger account has its code, where that is free.
 * @returns those made, in the order asked
 * @throws Refusal 404, 409, 422; then nothing is made and nothing folded
 */
export async function foldIntoNew(
	context: Context,
	{ accounts: wanted }: z.output<typeof NewPlanning>
): Promise<Account[]> {
	return asOne(context, async (within) => {
		const { structure } = await companyFor(within, 'map ledger accounts');
		const { accounts } = structure;
		const codes = new Set<string>();
		const under = new Map<string, { line: string; at: number }[]>();
		wanted.forEach(({ name, heading, ledgers }, at) => {
			if (!accounts.get(heading)) throw notFound(`The account “${heading}”`);
			if (accounts.isLeaf(heading))
				throw new Refusal(422, `“${accounts.get(heading)!.name}” takes figures itself: choose a heading.`);
			const [code] = ledgers;
			const own = ledgers.length === 1 && /\d/.test(code) && !accounts.get(code) && !codes.has(code);
			if (own) codes.add(code);
			const line = { line: own ? `${code} ${name}` : name, at };
			under.set(heading, [...(under.get(heading) ?? []), line]);
		});
		const made: Account[] = [];
		for (const [heading, lines] of under) {
			const outline = lines.map((l) => l.line).join('\n');
			const type = typeUnder(accounts, heading);
			const added = await addAccounts(within, { parent: heading, outline, type, dry: false });
			lines.forEach(({ at }, i) => (made[at] = added[i]));
		}
		for (const [at, { ledgers }] of wanted.entries()) await mapInto(within, ledgers, made[at].code);
		return made;
	});
}

/** The type that most of what stands under a heading has; its own where the two are even. */
export function typeUnder(accounts: Tree<Account>, heading: string): AccountType {
	const own = accounts.get(heading)!.type;
	const count = new Map<AccountType, number>([[own, 0.5]]);
	for (const { type } of accounts.children(heading)) count.set(type, (count.get(type) ?? 0) + 1);
	return [...count].reduce((most, each) => (each[1] > most[1] ? each : most))[0];
}
