/** What must hold of the chart of accounts, and which accounts can be planned. */
import { isBalance } from './sign';
import type { Account, AccountType } from './schema';
import { treeFaults, type Tree, type TreeFault } from './tree';

const isMoney = (type: AccountType) => type !== 'statistical' && type !== 'rate';

/**
 * Everything that is wrong with a chart, by account: what is no tree, and statistics or rates under a heading of money,
 * or money under one of statistics, whose sum would say nothing.
 */
export function chartFaults(accounts: readonly Account[]): TreeFault[] {
	const byCode = new Map(accounts.map((a) => [a.code, a]));
	const mixed = accounts.flatMap((account): TreeFault[] => {
		const parent = account.parent === null ? undefined : byCode.get(account.parent);
		if (!parent || isMoney(parent.type) === isMoney(account.type)) return [];
		const [what, where] = isMoney(account.type)
			? [`money (${account.type})`, `a heading of statistics (${parent.type})`]
			: [account.type === 'rate' ? 'a rate' : 'a statistic', `a heading of money (${parent.type})`];
		return [
			{
				code: account.code,
				column: 'type',
				message: `“${account.name}” is ${what}, and “${parent.name}” above it is ${where}: the two do not add up. Give it a heading of its own kind.`
			}
		];
	});
	const headings = new Set(accounts.map((a) => a.parent));
	const translating = accounts.filter((a) => a.translation);
	const misplaced = translating.flatMap((a, i): TreeFault[] => {
		const message =
			i > 0
				? `translation differences stand in “${translating[0].name}” already; they have one account.`
				: a.type !== 'equity'
					? `“${a.name}” is no equity, and translation differences are.`
					: headings.has(a.code)
						? `“${a.name}” is a total of the accounts under it; translation differences need an account.`
						: null;
		return message === null ? [] : [{ code: a.code, column: 'translation', message }];
	});
	return [...treeFaults(accounts), ...mixed, ...misplaced];
}

/** Why nothing can be posted to an account, as a sentence; null where it can. */
export function postingFault(accounts: Tree<Account>, code: string): string | null {
	const account = accounts.get(code);
	if (!account) return `“${code}” is no planning account.`;
	return accounts.isLeaf(code)
		? null
		: `“${account.name}” is a total of the accounts under it and takes no figures.`;
}

/** Why no plan can be typed for an account, as a sentence; null where it can. */
export function planFault(accounts: Tree<Account>, code: string): string | null {
	const fault = postingFault(accounts, code);
	const account = accounts.get(code);
	if (fault !== null || !account || !isBalance(account.type)) return fault;
	return `“${account.name}” is a balance (${account.type}). Balances are not typed; they come from the ledger, and from what schedules post to them.`;
}

/**
 * Accounts whose totals may be others in another chart, where the figures of all that have nothing under them are the
 * same: those that are made of others, or elsewise, and all above them in either.
 */
export function resummed(before: Tree<Account>, after: Tree<Account>): Set<string> {
	const madeOf = (tree: Tree<Account>, { code, type, translation }: Account) =>
		JSON.stringify([
			type,
			translation ?? false,
			tree
				.children(code)
				.map((c) => [c.code, c.type].join())
				.sort()
		]);
	const found = new Set<string>();
	for (const account of after.all) {
		const was = before.get(account.code);
		if (was && madeOf(before, was) === madeOf(after, account)) continue;
		for (const tree of was ? [before, after] : [after])
			for (const { code } of tree.ancestors(account.code)) found.add(code);
	}
	return found;
}
