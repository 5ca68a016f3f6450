/** Suggests a planning account for a ledger account that is not mapped yet. */
import type { Account, LedgerAccount } from './schema';

export interface Suggestion {
	account: string;
	/** Why, as data: a near name, or the neighbour by number. */
	reason: { kind: 'name'; like: string } | { kind: 'number'; next: string };
}

/** Words that say nothing of what an account holds. */
const FILLING = new Set(['and', 'the', 'for', 'from', 'with', 'other']);
/** What different books call the same; each stands for the first. */
const MEANS = new Map(
	[
		['salary', 'wage', 'payroll'],
		['receivable', 'debtor'],
		['payable', 'creditor'],
		['sale', 'turnover'],
		['energy', 'electricity', 'gas', 'heating', 'power', 'utility'],
		['vehicle', 'car', 'van', 'truck'],
		['advertising', 'marketing', 'publicity'],
		['inventory', 'stock'],
		['telephone', 'phone', 'mobile'],
		['pension', 'retirement', 'superannuation'],
		['software', 'licence', 'license'],
		['audit', 'auditor', 'accountancy', 'accounting'],
		['equipment', 'machine', 'machinery', 'furniture', 'computer'],
		['loan', 'mortgage', 'borrowing']
	].flatMap(([first, ...others]) => others.map((word) => [word, first]))
);

/** What a word is without its ending of many, and among those that mean the same. */
const plainly = (word: string): string => {
	const one = word.replace(/ies$/, 'y').replace(/([^s])s$/, '$1');
	return MEANS.get(one) ?? one;
};
/** The words of a name that tell what it is. */
export const wordsOf = (name: string): ReadonlySet<string> =>
	new Set(
		name
			.toLowerCase()
			.split(/[^\p{L}\p{N}]+/u)
			.filter((w) => w.length > 2 && !FILLING.has(w))
			.map(plainly)
	);

/** Share of their words that two names have in common (Dice), 0 to 1. */
export function likeness(a: ReadonlySet<string>, b: ReadonlySet<string>): number {
	if (!a.size || !b.size) return 0;
	let common = 0;
	for (const w of a) if (b.has(w)) common++;
	return (2 * common) / (a.size + b.size);
}
/** Names that are less alike have no more than chance in common. */
export const ALIKE = 0.34;

/**
 * By likeness of names to planning accounts and to ledger accounts already mapped; failing that, as the mapped
 * ledger account next to it by number. Null when nothing is mapped.
 */
export function suggestAccount(
	ledger: { code: string; name: string },
	mapped: readonly LedgerAccount[],
	accounts: readonly Account[]
): Suggestion | null {
	let best: Suggestion | null = null;
	let score = ALIKE;
	const own = wordsOf(ledger.name);
	const consider = (name: string, account: string) => {
		const s = likeness(own, wordsOf(name));
		if (s > score) {
			score = s;
			best = { account, reason: { kind: 'name', like: name } };
		}
	};
	for (const a of accounts) consider(a.name, a.code);
	for (const l of mapped) if (l.account !== null) consider(l.name, l.account);
	if (best) return best;
	const byNumber = mapped
		.filter((l) => l.account !== null)
		.map((l) => ({ l, gap: Math.abs(Number(l.code) - Number(ledger.code)) }))
		.filter(({ gap }) => Number.isFinite(gap))
		.sort((a, b) => a.gap - b.gap)[0];
	return byNumber
		? { account: byNumber.l.account!, reason: { kind: 'number', next: byNumber.l.code } }
		: null;
}
