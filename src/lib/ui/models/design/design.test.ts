/** Helpers of designing: codes from labels, targets, moving lines, expected figures, rules in words. */
import { describe, expect, it } from 'vitest';
import { ModelDefinition } from '../../../core/blocks/driver-model/schema';
import {
	codeOf,
	inTreeOrder,
	newLine,
	readExpected,
	targetFrom,
	targetText,
	withoutLine,
	withPostings,
	writeExpected
} from './design';
import { moved, omit } from '../../design/lists';
import { ruleWords } from './rule-words';

const definition = ModelDefinition.parse({
	code: 'm',
	name: 'M',
	lines: [
		{ code: 'a', label: 'A' },
		{ code: 'b', label: 'B' }
	],
	postings: [
		{ line: 'a', account: { code: '1' }, department: { code: 'x' } },
		{ line: 'b', account: { code: '2' }, department: { attribute: 'channel.department' } }
	],
	proofs: [
		{ name: 'P', line: 'a', first: '2026-04', expected: [1] },
		{ name: 'Q', line: 'b', first: '2026-04', expected: [2] }
	]
});

describe('names in formulas', () => {
	it('come from labels, are usable and free', () => {
		expect(codeOf('Hours a job', [])).toBe('hours_a_job');
		expect(codeOf('2nd Größe (net)', [])).toBe('nd_gro_e_net');
		expect(codeOf('—', [])).toBe('line');
		expect(codeOf('Units', ['units', 'units_2'])).toBe('units_3');
		for (const label of ['Hours a job', '2nd Größe (net)', '—', 'Units'])
			expect(
				ModelDefinition.safeParse({ code: 'm', name: 'M', lines: [newLine(codeOf(label, []), label)] })
					.success
			).toBe(true);
	});
});

describe('changing a definition', () => {
	it('takes a line out with its postings and proofs, and nothing of others', () => {
		const left = withoutLine(definition, 'a');
		expect(left.lines.map((l) => l.code)).toEqual(['b']);
		expect(left.postings.map((p) => p.line)).toEqual(['b']);
		expect(left.proofs!.map((p) => p.name)).toEqual(['Q']);
		expect(definition.lines).toHaveLength(2);
	});
	it('puts other postings in the place of a line’s own', () => {
		const own = { ...definition.postings[0], account: { code: '9' } };
		expect(withPostings(definition, 'a', [own]).postings).toEqual([definition.postings[1], own]);
		expect(withPostings(definition, 'a', []).postings).toEqual([definition.postings[1]]);
	});
	it('moves entries and leaves the list as it was', () => {
		const list = ['a', 'b', 'c'];
		expect(moved(list, 0, 2)).toEqual(['b', 'c', 'a']);
		expect(moved(list, 2, 0)).toEqual(['c', 'a', 'b']);
		expect(list).toEqual(['a', 'b', 'c']);
		expect(omit({ a: 1, b: 2 }, 'a')).toEqual({ b: 2 });
	});
	it('writes targets of postings as one text, and back', () => {
		for (const { account, department } of definition.postings)
			for (const target of [account, department]) expect(targetFrom(targetText(target))).toEqual(target);
	});
	it('lists members in tree order with their depth', () => {
		const items = [
			{ code: 'x', name: 'X', parent: 'g' },
			{ code: 'g', name: 'G', parent: null }
		];
		expect(inTreeOrder(items).map((m) => [m.code, m.depth])).toEqual([
			['g', 0],
			['x', 1]
		]);
	});
});

describe('expected figures', () => {
	it('are read from a row or a column, as a spreadsheet gives them', () => {
		expect(readExpected('1,200.50\t(30)\t\t7', 'money')).toEqual([1200.5, -30, null, 7]);
		expect(readExpected('5%\n6.5\n', 'percent')).toEqual([0.05, 0.065]);
		expect(readExpected('12k', 'number')).toEqual([12000]);
	});
	it('are refused with what is no number, or when there is none', () => {
		expect(readExpected('1\nabc', 'money')).toBe('“abc” is no number.');
		expect(readExpected('  \n', 'money')).toBe('Type or paste at least one figure.');
	});
	it('are written so that they are read as the same', () => {
		for (const format of ['money', 'percent', 'number'] as const) {
			const expected = [0.5, null, -1234.25];
			expect(readExpected(writeExpected(expected, format), format)).toEqual(expected);
		}
	});
});

describe('a combination rule in words', () => {
	const dimensions = [
		{
			code: 'product',
			name: 'Product',
			attributes: [],
			members: [
				{ code: 'k', name: 'Kayaks', depth: 0, offered: true },
				{ code: 'e', name: 'Eider 10', depth: 1, offered: true },
				{ code: 'd', name: 'Dinghies', depth: 0, offered: true }
			]
		},
		{
			code: 'region',
			name: 'Region',
			attributes: [],
			members: [
				{ code: 'l', name: 'Lakes', depth: 0, offered: true },
				{ code: 's', name: 'South', depth: 0, offered: true }
			]
		}
	];
	it('says who leads, with exceptions, and with whom never or only', () => {
		const rule = {
			code: 'r',
			name: 'R',
			on: true,
			effect: 'block' as const,
			lead: { dimension: 'product', under: ['k', 'd'], except: ['e'] },
			others: [{ dimension: 'region', under: ['l', 's'], except: [] }]
		};
		expect(ruleWords(rule, dimensions)).toBe(
			'Kayaks and Dinghies without Eider 10 never with Lakes or South'
		);
		expect(ruleWords({ ...rule, effect: 'allow' }, dimensions)).toMatch(/Eider 10 only with Lakes or South/);
	});
});
