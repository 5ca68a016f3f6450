/** Accounts of a company's own, made from those of its ledger and laid under the headings of a chart. */
import { codeFor } from './code';
import { isBalance, naturalFromDebit } from './sign';
import type { Account, AccountType } from './schema';
import { ALIKE, likeness, wordsOf } from './suggest';

/** A ledger account with what stands in it. */
export interface LedgerLine {
	code: string;
	name: string;
	/** Debit positive. */
	amount: number;
}

/** Where an account can lie: a heading of the chart, and as what. */
export interface Place {
	key: string;
	heading: string;
	type: AccountType;
	/** In words, for a list to choose from. */
	label: string;
}

/** Why an account was laid where it is: a name like its own, the account next to it by number, or its sign alone. */
export type Reason = 'name' | 'number' | 'sign';
export interface Laid extends LedgerLine {
	/** Key of a place. */
	place: string;
	reason: Reason;
}

const isMoney = ({ type }: Account) => type !== 'statistical' && type !== 'rate';
const keyOf = ({ parent, type }: Account) => `${parent}:${type}`;
/** What accounts of a type are called among others of their heading. */
const KIND: Partial<Record<AccountType, string>> = { revenue: 'income', expense: 'cost' };

/** An account of the chart with the words of its name. */
interface Leaf extends Account {
	words: ReadonlySet<string>;
}
/** Accounts of money that take figures, by the chart; those without a heading are no place for others. */
function leavesOf(chart: readonly Account[]): Leaf[] {
	const headings = new Set(chart.map((a) => a.parent));
	return chart
		.filter((a) => isMoney(a) && a.parent !== null && !headings.has(a.code))
		.map((a) => ({ ...a, words: wordsOf(a.name) }));
}

/** Every heading that holds accounts of money, once for each type under it, in the chart's order. */
export function placesOf(chart: readonly Account[]): Place[] {
	const names = new Map(chart.map((a) => [a.code, a.name]));
	const leaves = leavesOf(chart);
	const types = new Map<string, Set<AccountType>>();
	for (const { parent, type } of leaves) types.set(parent!, (types.get(parent!) ?? new Set()).add(type));
	const places = new Map<string, Place>();
	for (const leaf of leaves) {
		const { parent, type } = leaf;
		const name = names.get(parent!) ?? parent!;
		const label = types.get(parent!)!.size > 1 ? `${name}, ${KIND[type] ?? type}` : name;
		places.set(keyOf(leaf), { key: keyOf(leaf), heading: parent!, type, label });
	}
	return [...places.values()];
}

/** Whether a type usually has amounts of this sign. */
const agrees = (type: AccountType, amount: number) => amount === 0 || naturalFromDebit(type) * amount > 0;

/** How much a name has to be alike: more where a balance goes against its sign, as a provision does. Cost is no income. */
const SURELY_ALIKE = 0.75;
const enough = (type: AccountType, amount: number) =>
	agrees(type, amount) ? ALIKE : isBalance(type) ? SURELY_ALIKE : Infinity;

/** The account of the chart that a name is like; of two alike, the one of the amount's sign, or of its class by number. */
function alike({ code, name, amount }: LedgerLine, leaves: readonly Leaf[]): Leaf | null {
	let best: Leaf | null = null;
	let score = ALIKE;
	const words = wordsOf(name);
	for (const leaf of leaves) {
		const like = likeness(words, leaf.words);
		if (like <= enough(leaf.type, amount)) continue;
		const own = like + (agrees(leaf.type, amount) ? 0.1 : 0) + (leaf.code[0] === code[0] ? 0.05 : 0);
		if (own > score) [best, score] = [leaf, own];
	}
	return best;
}

/** So many of the nearest by number say whether an account is a balance, if all but one agree. */
const NEIGHBOURS = 5;

/** Finds those nearest to an account by number, the nearest first; what has no number has none. */
function byNumber(lines: Iterable<LedgerLine>): (line: LedgerLine, most: number) => LedgerLine[] {
	const sorted = [...lines]
		.map((line) => ({ line, number: Number(line.code) }))
		.filter((l) => Number.isFinite(l.number))
		.sort((a, b) => a.number - b.number);
	return (line, most) => {
		const number = Number(line.code);
		if (!Number.isFinite(number)) return [];
		let [low, high] = [0, sorted.length];
		while (low < high) {
			const middle = (low + high) >> 1;
			if (sorted[middle].number < number) low = middle + 1;
			else high = middle;
		}
		return sorted
			.slice(Math.max(0, low - most - 1), low + most + 1)
			.filter((l) => l.line !== line)
			.sort((a, b) => Math.abs(a.number - number) - Math.abs(b.number - number))
			.slice(0, most)
			.map((l) => l.line);
	};
}

/** What each name is like, corrected by those around it: furniture among assets is not its repair. */
function byNames(lines: readonly LedgerLine[], leaves: readonly Leaf[]): Map<LedgerLine, Account> {
	const found = new Map<LedgerLine, Account>();
	for (const line of lines) {
		const like = alike(line, leaves);
		if (like) found.set(line, like);
	}
	const first = new Map(found);
	const near = byNumber(first.keys());
	for (const [line, like] of first) {
		const differs = (a: Account) => isBalance(a.type) !== isBalance(like.type);
		const beside = near(line, NEIGHBOURS).map((l) => first.get(l)!);
		if (beside.length < NEIGHBOURS || beside.filter(differs).length < NEIGHBOURS - 1) continue;
		const other = alike(line, leaves.filter(differs));
		if (other) found.set(line, other);
		else found.delete(line);
	}
	return found;
}

/**
 * Lays each ledger account under a heading: by a name like one of the chart's; failing that where the nearest such
 * account by number lies; failing that by its sign.
 */
export function layAccounts(chart: readonly Account[], lines: readonly LedgerLine[]): Laid[] {
	const leaves = leavesOf(chart);
	const places = placesOf(chart);
	const named = byNames(lines, leaves);
	const near = byNumber(named.keys());
	const nearest = (line: LedgerLine): Place | undefined => {
		const [next] = near(line, 1);
		const like = next && named.get(next)!;
		if (!like) return undefined;
		// Of a heading with income and cost, the one that the amount is.
		const beside = places.filter((p) => p.heading === like.parent);
		return beside.find((p) => agrees(p.type, line.amount)) ?? beside.find((p) => p.key === keyOf(like));
	};
	return lines.map((line): Laid => {
		const like = named.get(line);
		if (like) return { ...line, place: keyOf(like), reason: 'name' };
		const next = nearest(line);
		if (next) return { ...line, place: next.key, reason: 'number' };
		const flows = places.filter((p) => !isBalance(p.type));
		const signed = flows.find((p) => agrees(p.type, line.amount)) ?? places[0];
		return { ...line, place: signed.key, reason: 'sign' };
	});
}

/** A chart of a company's own, and the account of it that each ledger account is. */
export interface OwnChart {
	accounts: Account[];
	/** By the ledger account's code. */
	accountOf: Map<string, string>;
}

/**
 * The chart with an account for each ledger account. A heading that has some of them holds these alone; the others keep
 * what the chart has there. Statistics and rates stay as they are.
 * @param laid by the key of a place of this very chart
 * @throws RangeError for a place that the chart does not have
 */
export function ownChart(chart: readonly Account[], laid: readonly Laid[]): OwnChart {
	const leaves = leavesOf(chart);
	const places = new Map(placesOf(chart).map((p) => [p.key, p]));
	const under = new Map<string, { line: Laid; place: Place }[]>();
	for (const line of laid) {
		const place = places.get(line.place);
		if (!place) throw new RangeError(`“${line.place}” is no heading of the chart.`);
		const list = under.get(place.heading);
		if (list) list.push({ line, place });
		else under.set(place.heading, [{ line, place }]);
	}
	const own = new Set(laid.map((l) => l.code));
	const isLeaf = new Set(leaves.map((a) => a.code));
	// A heading under which nothing is left goes too, or it would take figures itself.
	const kept = (a: Account): boolean =>
		isLeaf.has(a.code)
			? !under.has(a.parent!) && !own.has(a.code)
			: !isMoney(a) || under.has(a.code) || chart.some((c) => c.parent === a.code && kept(c));
	const taken = new Set(chart.filter(kept).map((a) => a.code));
	const accountOf = new Map<string, string>();
	const madeOf = ({ line, place }: { line: Laid; place: Place }): Account => {
		const { heading, type } = place;
		const code = taken.has(line.code)
			? codeFor(`${line.code} ${line.name}`, '-', taken, 'account')
			: line.code;
		taken.add(code);
		accountOf.set(line.code, code);
		const like = alike(
			line,
			leaves.filter((a) => a.parent === heading)
		);
		return {
			code,
			name: line.name,
			parent: heading,
			type,
			rollup: isBalance(type) ? 'last' : 'sum',
			format: 'money',
			...(like?.cashFlow && { cashFlow: like.cashFlow })
		};
	};
	const made = new Map([...under].map(([heading, list]) => [heading, list.map(madeOf)]));
	// They stand where the first of the chart's own stood.
	const accounts = chart.flatMap((a) => {
		const here = isLeaf.has(a.code) ? made.get(a.parent!) : undefined;
		if (here) made.delete(a.parent!);
		return [...(here ?? []), ...(kept(a) ? [a] : [])];
	});
	return { accounts, accountOf };
}
