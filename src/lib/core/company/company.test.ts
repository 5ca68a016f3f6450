import { describe, expect, it } from 'vitest';
import { checkRollups } from '../blocks/driver-model/check';
import { ModelDefinition } from '../blocks/driver-model/schema';
import { naturalFromDebit, signInParent } from './sign';
import { suggestAccount } from './suggest';
import { buildTree, TreeError } from './tree';

const node = (code: string, parent: string | null) => ({ code, name: code, parent });

describe('trees', () => {
	const tree = buildTree([node('a', null), node('b', 'a'), node('c', 'a'), node('d', 'b'), node('e', 'b')]);
	it('knows leaves, subtrees and ancestors in order', () => {
		expect(tree.leaves('a').map((n) => n.code)).toEqual(['d', 'e', 'c']);
		expect(tree.subtree('b').map((n) => n.code)).toEqual(['b', 'd', 'e']);
		expect(tree.ancestors('d').map((n) => n.code)).toEqual(['d', 'b', 'a']);
		expect(tree.within('d', 'a')).toBe(true);
		expect(tree.within('c', 'b')).toBe(false);
		expect(tree.depth('d')).toBe(2);
	});
	it('refuses what is no tree, naming the place', () => {
		expect(() => buildTree([node('a', null), node('a', null)])).toThrow(/“a” stands twice/);
		expect(() => buildTree([node('a', 'x')])).toThrow(/the parent “x” of “a” does not exist/);
		expect(() => buildTree([node('a', 'b'), node('b', 'a')])).toThrow(TreeError);
	});
});

describe('signs', () => {
	it('subtracts expense from revenue, and adds like to like', () => {
		expect(signInParent('expense', 'revenue')).toBe(-1);
		expect(signInParent('revenue', 'revenue')).toBe(1);
		expect(signInParent('expense', 'expense')).toBe(1);
		expect(signInParent('liability', 'asset')).toBe(-1);
		expect(signInParent('statistical', 'statistical')).toBe(1);
	});
	it('turns debits into natural amounts', () => {
		expect([
			naturalFromDebit('revenue'),
			naturalFromDebit('expense'),
			naturalFromDebit('asset'),
			naturalFromDebit('liability')
		]).toEqual([-1, 1, 1, -1]);
	});
});

describe('suggestions for unmapped ledger accounts', () => {
	const accounts = ['6200 Online marketing', '6300 Software', '5050 Freight out'].map((t) => ({
		code: t.slice(0, 4),
		name: t.slice(5),
		parent: null,
		type: 'expense' as const,
		rollup: 'sum' as const,
		format: 'money' as const
	}));
	const mapped = [
		{ code: '620010', name: 'Search advertising', account: '6200' },
		{ code: '630010', name: 'Design software', account: '6300' }
	];
	it('go by likeness of name, then by number, then not at all', () => {
		expect(suggestAccount({ code: '999', name: 'Video advertising' }, mapped, accounts)).toMatchObject({
			account: '6200',
			reason: { kind: 'name' }
		});
		expect(suggestAccount({ code: '999', name: 'Freight, outbound' }, mapped, accounts)).toMatchObject({
			account: '5050'
		});
		expect(suggestAccount({ code: '630090', name: 'Zzz' }, mapped, accounts)).toEqual({
			account: '6300',
			reason: { kind: 'number', next: '630010' }
		});
		expect(suggestAccount({ code: 'X', name: 'Zzz' }, mapped, accounts)).toBeNull();
	});
});

describe('definitions of driver models', () => {
	const line = {
		code: 'price',
		label: 'Price',
		formula: 'revenue / units',
		rollup: { time: 'formula', members: 'formula' }
	};
	const model = (lines: unknown[]) => ModelDefinition.parse({ code: 'm', name: 'M', lines });
	const plain = [
		{ code: 'units', label: 'Units' },
		{ code: 'revenue', label: 'Revenue' }
	];
	it('roll up by formula only where a total can be computed', () => {
		expect(checkRollups(model([...plain, line]))).toEqual([]);
		expect(checkRollups(model([...plain, { ...line, formula: 'lag(revenue, 1)' }]))[0].message).toMatch(
			/cannot use lag/
		);
		expect(checkRollups(model([...plain, { ...line, formula: 'other.revenue' }]))[0].message).toMatch(
			/this model alone/
		);
		expect(checkRollups(model([...plain, { ...line, formula: undefined }]))[0].message).toMatch(/no formula/);
		expect(
			checkRollups(model([...plain, { ...line, rollup: { members: 'weighted:heads' } }]))[0].message
		).toMatch(/“heads”/);
	});
	it('know no other fields than their own', () => {
		expect(() => model([{ code: 'units', label: 'Units', colour: 'red' }])).toThrow();
		expect(() => model([{ code: '1units', label: 'Units' }])).toThrow();
	});
});
