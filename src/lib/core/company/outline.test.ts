import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MOST_LINES, readOutline } from './outline';
import { MOST_LEVELS, treeFaults } from './tree';

const read = (text: string) => readOutline(text, 'department');
/** Each name with the one it lies under. */
const tree = (text: string) => {
	const { items } = read(text);
	return items.map((i) => `${i.name} < ${items.find((p) => p.code === i.parent)?.name ?? ''}`);
};

describe('an outline', () => {
	it('is a tree by how far its lines are indented, with spaces, tabs or both', () => {
		const wanted = ['Sales < ', 'Dealers < Sales', 'Web < Sales', 'Ads < Web', 'Finance < '];
		expect(tree('Sales\n  Dealers\n  Web\n     Ads\nFinance')).toEqual(wanted);
		expect(tree('Sales\r\n\tDealers\r\n\tWeb\r\n\t\tAds\r\nFinance\r\n')).toEqual(wanted);
		expect(tree('Sales\n    Dealers\n\tWeb\n\t  Ads\n\nFinance\n')).toEqual(wanted);
	});
	it('may be a list with signs, and indented as a whole', () => {
		expect(tree('  - Sales\n    - Dealers\n  • Finance')).toEqual([
			'Sales < ',
			'Dealers < Sales',
			'Finance < '
		]);
		expect(tree('* Sales\n*Finance')).toEqual(['Sales < ', '*Finance < ']);
	});
	it('takes what is indented less than before, and more than what stands above, for a neighbour', () => {
		expect(tree('A\n      B\n   C\nD')).toEqual(['A < ', 'B < A', 'C < A', 'D < ']);
	});
	it('gives each a code of its own, made from the name', () => {
		const { items } = readOutline('Müller & Söhne\nSales\n  North\nService\n  North\n研究', 'department', [
			'sales'
		]);
		expect(items.map((i) => i.code)).toEqual([
			'muller-sohne',
			'sales-2',
			'north',
			'service',
			'north-2',
			'department'
		]);
	});
	it('says line by line what cannot be', () => {
		const deep = Array.from({ length: MOST_LEVELS + 1 }, (_, i) => `${' '.repeat(i)}L${i}`).join('\n');
		expect(read(deep).faults).toEqual([
			{ line: MOST_LEVELS + 1, message: expect.stringMatching(/levels deep/) }
		]);
		expect(read('A\n\nB\na\n').faults).toEqual([{ line: 4, message: '“a” stands twice in the same place' }]);
		expect(read(`A\n${'x'.repeat(121)}`).faults[0]).toEqual({
			line: 2,
			message: 'has 121 characters; a name has at most 120'
		});
		expect(read('A\nB\u200bC').faults[0]).toMatchObject({
			line: 2,
			message: expect.stringMatching(/U\+200B/)
		});
		const long = read('x\n'.repeat(MOST_LINES + 1));
		expect([long.items.length, long.faults.length]).toEqual([0, 1]);
	});
	it('is always a tree, whatever is pasted', () => {
		const line = fc.tuple(fc.integer({ min: 0, max: 9 }), fc.string({ maxLength: 6 }));
		fc.assert(
			fc.property(fc.array(line, { maxLength: 40 }), (lines) => {
				const { items, faults } = read(lines.map(([n, name]) => ' '.repeat(n) + name).join('\n'));
				expect(treeFaults(items)).toEqual([]);
				expect(items.length + faults.length).toBeLessThanOrEqual(
					lines.reduce((n, [, name]) => n + name.split(/\r\n?|\n/).length, 0)
				);
			})
		);
	});
});
