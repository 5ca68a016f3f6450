/** Combination rules: which members may hold data together. They stop what is written and change no figure. */
import type { CombinationRule, MemberSet } from './schema';
import { ownValue } from '../text';
import { treeOf, type Structure } from '../company/structure';

/** Members of a row or an entry, by dimension. */
export type Members = Readonly<Record<string, string>>;

/** The first rule that blocks a combination, or null. Rules speak only of what has all of their dimensions. */
export type Blocking = (members: Members) => CombinationRule | null;

/** Codes in a set: its subtrees without the excepted ones. */
export function membersOf({ dimension, under, except }: MemberSet, structure: Structure): Set<string> {
	const tree = treeOf(structure, dimension);
	const found = new Set(under.flatMap((code) => tree?.subtree(code).map((m) => m.code) ?? []));
	for (const code of except) for (const m of tree?.subtree(code) ?? []) found.delete(m.code);
	return found;
}

/** Rules that are off block nothing. */
export function blockingOf(rules: readonly CombinationRule[], structure: Structure): Blocking {
	const tests = rules
		.filter((r) => r.on)
		.map((rule) => {
			const lead = membersOf(rule.lead, structure);
			const others = rule.others.map((o) => ({ dimension: o.dimension, codes: membersOf(o, structure) }));
			return (members: Members): CombinationRule | null => {
				const led = ownValue(members, rule.lead.dimension);
				if (led === undefined || !lead.has(led)) return null;
				const theirs = others.map((o) => ownValue(members, o.dimension));
				if (theirs.includes(undefined)) return null;
				const together = others.every((o, i) => o.codes.has(theirs[i]!));
				return together === (rule.effect === 'block') ? rule : null;
			};
		});
	return (members) => {
		for (const test of tests) {
			const rule = test(members);
			if (rule) return rule;
		}
		return null;
	};
}

/** A row's members by dimension. */
export const membersAt = (dimensions: readonly string[], coordinate: readonly string[]): Members =>
	Object.fromEntries(dimensions.map((d, i) => [d, coordinate[i]]));

/** Why a rule cannot be: members that are not there, one dimension twice. Empty when it can. */
export function ruleFaults(
	rule: CombinationRule,
	treeFor: (dimension: string) => { get(code: string): unknown } | undefined
): string[] {
	const sets = [rule.lead, ...rule.others];
	const dimensions = sets.map((s) => s.dimension);
	const faults = dimensions.flatMap((d, i) =>
		treeFor(d) === undefined
			? [`There is no dimension “${d}”.`]
			: dimensions.indexOf(d) < i
				? [`“${d}” is named twice; a rule speaks of different dimensions.`]
				: []
	);
	for (const { dimension, under, except } of sets)
		for (const code of [...under, ...except])
			if (treeFor(dimension) && !treeFor(dimension)!.get(code))
				faults.push(`“${code}” is no member of ${dimension}.`);
	return faults;
}

/** What a rule does to one driver model. */
export interface RuleEffect {
	model: string;
	name: string;
	/** Rows that it blocks, of all. */
	blocked: number;
	rows: number;
	/** Blocked rows that hold typed figures, by scenario. */
	data: { scenario: string; scenarioName: string; row: string; rowName: string; cells: number }[];
}

export interface RuleView {
	rule: CombinationRule;
	effects: RuleEffect[];
	/** Ledger entries whose members may not stand together by it. */
	entries: number;
}
