/** Combination rules in words. */
import type { CombinationRule, MemberSet } from '../../../core/inputs/schema';
import type { DesignDimension } from './design';

const list = (names: readonly string[], last: string) =>
	names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} ${last} ${names.at(-1)}`;

/** “Kayaks without Eider 10”. */
export function setWords(set: MemberSet, dimensions: readonly DesignDimension[], last = 'and'): string {
	const dimension = dimensions.find((d) => d.code === set.dimension);
	const name = (code: string) => dimension?.members.find((m) => m.code === code)?.name ?? code;
	const except = set.except.length ? ` without ${list(set.except.map(name), 'and')}` : '';
	return list(set.under.map(name), last) + except;
}

/** “Dinghies never with Web”, “Direct only with South Coast, Lakes or Islands”. */
export function ruleWords(rule: CombinationRule, dimensions: readonly DesignDimension[]): string {
	const lead = setWords(rule.lead, dimensions);
	const others = rule.others.map((o) => setWords(o, dimensions, 'or')).join(' together with ');
	return `${lead} ${rule.effect === 'block' ? 'never with' : 'only with'} ${others}`;
}
