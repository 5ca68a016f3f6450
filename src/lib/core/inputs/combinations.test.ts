/** Combination rules against their meaning, word for word. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../calendar/calendar';
import type { CombinationRule, MemberSet } from './schema';
import { blockingOf, membersAt, membersOf, ruleFaults } from './combinations';
import { buildStructure, treeOf } from '../company/structure';

const member = (code: string, parent: string | null = null) => ({
	code,
	name: code,
	parent,
	retired: false,
	attributes: {}
});
const structure = buildStructure(
	monthCalendar(1),
	[],
	[
		{ code: 'all', name: 'All', parent: null, entity: 'e' },
		{ code: 'd1', name: 'D1', parent: 'all', entity: 'e' },
		{ code: 'd2', name: 'D2', parent: 'all', entity: 'e' }
	],
	[
		{
			code: 'product',
			name: 'Product',
			members: [member('g'), member('a', 'g'), member('b', 'g'), member('c')]
		},
		{ code: 'region', name: 'Region', members: [member('n'), member('s')] }
	],
	'GBP'
);
const codes: Record<string, string[]> = {
	product: ['g', 'a', 'b', 'c'],
	region: ['n', 's'],
	department: ['all', 'd1', 'd2']
};
const setOf = (dimension: string): fc.Arbitrary<MemberSet> =>
	fc.record({
		dimension: fc.constant(dimension),
		under: fc.subarray(codes[dimension], { minLength: 1 }),
		except: fc.subarray(codes[dimension])
	});
const ruleOf = fc
	.shuffledSubarray(['product', 'region', 'department'], { minLength: 2 })
	.chain(([lead, ...others]) =>
		fc.record({
			code: fc.constant('r'),
			name: fc.constant('R'),
			on: fc.boolean(),
			effect: fc.constantFrom('block' as const, 'allow' as const),
			lead: setOf(lead),
			others: fc.tuple(...others.map(setOf))
		})
	);
const holds = (set: MemberSet, code: string): boolean => {
	const tree = treeOf(structure, set.dimension)!;
	const under = (list: readonly string[]) => list.some((u) => tree.within(code, u));
	return under(set.under) && !under(set.except);
};
const meant = (rule: CombinationRule, members: Record<string, string>): boolean => {
	if (!rule.on || [rule.lead, ...rule.others].some((s) => members[s.dimension] === undefined)) return false;
	if (!holds(rule.lead, members[rule.lead.dimension])) return false;
	const together = rule.others.every((o) => holds(o, members[o.dimension]));
	return rule.effect === 'block' ? together : !together;
};

describe('combination rules', () => {
	it('block what they mean, for any members, also where a dimension is missing', () => {
		const members = fc.record(
			{
				product: fc.constantFrom(...codes.product),
				region: fc.constantFrom(...codes.region),
				department: fc.constantFrom(...codes.department)
			},
			{ requiredKeys: ['product'] }
		);
		fc.assert(
			fc.property(fc.array(ruleOf, { maxLength: 3 }), members, (rules, at) => {
				const found = blockingOf(rules, structure)(at);
				const first = rules.find((r) => meant(r, at as Record<string, string>)) ?? null;
				expect(found).toBe(first);
			}),
			{ numRuns: 400 }
		);
	});
	it('know members by subtree, and rows by their dimensions', () => {
		expect(membersOf({ dimension: 'product', under: ['g', 'c'], except: ['b'] }, structure)).toEqual(
			new Set(['g', 'a', 'c'])
		);
		expect(membersAt(['product', 'region'], ['a', 'n'])).toEqual({ product: 'a', region: 'n' });
		expect(membersAt([], [])).toEqual({});
	});
	it('have no faults where all members are there and each dimension stands once', () => {
		fc.assert(
			fc.property(ruleOf, (rule) => {
				expect(ruleFaults(rule, (d) => treeOf(structure, d))).toEqual([]);
				const lost = { ...rule, lead: { ...rule.lead, except: ['nobody'] } };
				expect(ruleFaults(lost, (d) => treeOf(structure, d))).toEqual([
					`“nobody” is no member of ${rule.lead.dimension}.`
				]);
			})
		);
	});
});
