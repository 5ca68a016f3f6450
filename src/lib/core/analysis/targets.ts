/** Top-down targets: on which lines they are set, and how far a plan is from them. */
import { variance, type Verdict } from './variance';
import type { Cell } from '../engine/values';
import type { Account, AccountType } from '../company/schema';
import { isBalance } from '../company/sign';
import type { Tree } from '../company/tree';

export interface TargetLine {
	account: string;
	name: string;
	type: AccountType;
	/** Whether a total can be spread into the accounts under it: they are all of one kind. */
	spreads: boolean;
}

/**
 * The lines of money that targets are set on: the largest groups of revenue or of expense, and after them the results
 * that mix the two.
 */
export function targetLines(accounts: Tree<Account>): TargetLine[] {
	const lines: TargetLine[] = [];
	const results: TargetLine[] = [];
	const visit = (account: Account) => {
		if (isBalance(account.type) || account.format !== 'money') return;
		const leaves = accounts.leaves(account.code);
		const spreads = leaves.every(
			(l) => l.type === leaves[0].type && l.rollup === 'sum' && l.format === 'money'
		);
		const line = { account: account.code, name: account.name, type: account.type, spreads };
		if (spreads) return void lines.push(line);
		if (account.parent === null) results.push(line);
		accounts.children(account.code).forEach(visit);
	};
	accounts.roots.forEach(visit);
	return [...lines, ...results];
}

export interface Gap {
	/** Plan less target, in natural amounts; blank without a target. */
	gap: Cell;
	/** As a share of the target; null without one. */
	percent: number | null;
	verdict: Verdict;
}

/** How far a plan is from its target. A plan that holds nothing is as far from it as the target is large. */
export function gapTo(plan: Cell, target: Cell, type: AccountType): Gap {
	if (target === null) return { gap: null, percent: null, verdict: 'neutral' };
	const { difference, percent, verdict } = variance(plan, target, type);
	return { gap: difference, percent, verdict };
}
