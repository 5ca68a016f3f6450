/** Suggests a planning account for a ledger account that is not mapped yet. */
import type { Account, LedgerAccount } from '../../company/schema';

export interface Suggestion {
	account: string;
	/** Why, as data: a near name, or the neighbour by number. */
	reason: { kind: 'name'; like: string } | { kind: 'number'; next: string };
}

const words = (name: string) =>
	new Set(
		name
			.toLowerCase()
			.split(/[^\p{L}\p{N}]+/u)
			.filter((w) => w.length > 2)
	);

/** Share of words two names have in common (Dice), 0 to 1. */
function likeness(a: string, b: string): number {
	const wa = words(a);
	const wb = words(b);
	if (!wa.size || !wb.size) return 0;
	let common = 0;
	for (const w of wa) if (wb.has(w)) common++;
	return (2 * common) / (wa.size + wb.size);
}

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
	let score = 0.34;
	const consider = (name: string, account: string) => {
		const s = likeness(ledger.name, name);
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
