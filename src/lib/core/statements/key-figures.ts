/** Figures that a profit and loss is judged by, made of its accounts: margins, and what of the result is cash. */
import type { AccountType } from '../company/schema';
import { signInParent } from '../company/sign';

/** Accounts in the order of their tree, parents first. */
export interface KeyAccount {
	code: string;
	name: string;
	depth: number;
	type: AccountType;
	leaf: boolean;
	/** It is never paid: depreciation, bad debts. */
	nonCash: boolean;
}

/** Accounts under one, itself left out. */
function under<T extends KeyAccount>(accounts: readonly T[], at: number): T[] {
	const end = accounts.findIndex((a, i) => i > at && a.depth <= accounts[at].depth);
	return accounts.slice(at + 1, end < 0 ? undefined : end);
}

/** The first account at the top that holds a result: profit. */
export const resultAccount = <T extends KeyAccount>(accounts: readonly T[]): T | undefined =>
	accounts.find((a) => a.depth === 0 && a.type === 'revenue');

/** The first group that holds revenue and nothing else; margins are shares of it. */
export const revenueAccount = <T extends KeyAccount>(accounts: readonly T[]): T | undefined =>
	accounts.find((a, i) => {
		const parts = under(accounts, i);
		return a.type === 'revenue' && parts.length > 0 && parts.every((p) => p.type === 'revenue');
	});

/** Results: groups of revenue from which expenses are taken. */
export const resultGroups = <T extends KeyAccount>(accounts: readonly T[]): T[] =>
	accounts.filter(
		(a, i) => !a.leaf && a.type === 'revenue' && under(accounts, i).some((p) => p.type === 'expense')
	);

/** Groups of the profit and loss down to a depth, parts before their totals. */
export function statementGroups<T extends KeyAccount>(accounts: readonly T[], depth: number): T[] {
	const groups = accounts.filter(
		(a) => !a.leaf && a.depth < depth && (a.type === 'revenue' || a.type === 'expense')
	);
	const place = (from: number, level: number): T[] => {
		const found: T[] = [];
		for (let i = from; i < groups.length && groups[i].depth >= level; i++)
			if (groups[i].depth === level) found.push(...place(i + 1, level + 1), groups[i]);
		return found;
	};
	return place(0, 0);
}

/**
 * Codes of what a page about results watches before anybody chooses: the result, the groups that are shown, and besides these
 * what key figures are made of.
 */
export function watchedAtFirst(accounts: readonly KeyAccount[]): {
	result: string | null;
	shown: string[];
	asked: string[];
} {
	const shown = statementGroups(accounts, 4).map((a) => a.code);
	const result = resultAccount(accounts)?.code ?? null;
	const asked = [...shown, ...nonCashParts(accounts).map((p) => p.account.code)];
	return { result, shown, asked: [...new Set(asked)] };
}

/**
 * What is taken out of the result for what of it is cash, before changes of working capital (IAS 7, indirect method):
 * the topmost accounts that are never paid with all under them, with the sign in which they stand in the result.
 */
export function nonCashParts<T extends KeyAccount>(accounts: readonly T[]): { account: T; sign: 1 | -1 }[] {
	const result = resultAccount(accounts);
	if (!result) return [];
	const parts: { account: T; sign: 1 | -1 }[] = [];
	let inside = Infinity;
	for (const account of under(accounts, accounts.indexOf(result))) {
		if (account.depth > inside) continue;
		const none = account.nonCash && under(accounts, accounts.indexOf(account)).every((a) => a.nonCash);
		inside = none ? account.depth : Infinity;
		if (none) parts.push({ account, sign: signInParent(account.type, result.type) });
	}
	return parts;
}

/**
 * The cash-relevant part of a result (money): the result without its non-cash parts.
 * @param value of each of `parts`, in their order; blank counts as nothing
 */
export const cashRelevant = (
	result: number,
	parts: readonly { sign: 1 | -1 }[],
	value: readonly number[]
): number => parts.reduce((sum, { sign }, i) => sum - sign * value[i], result);
