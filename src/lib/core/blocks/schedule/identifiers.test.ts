import { describe, expect, it } from 'vitest';
import { freshIds, lastNumbered } from './identifiers';

describe('identifiers of new rows', () => {
	it('calls new rows by the next number', () => {
		expect(freshIds(['E008', 'E009', 'X'], 'person', 2)).toEqual(['E010', 'E011']);
		expect(freshIds(['a', 'b'], 'fixed asset', 2)).toEqual(['fixed asset-1', 'fixed asset-2']);
		expect(freshIds([], 'person/post', 1)).toEqual(['person post-1']);
		expect(freshIds(['p2', 'q9', 'p10'], 'p', 1)).toEqual(['p11']);
	});
	it('go on after the last of all, when only some of them are at hand', () => {
		const all = ['K001', 'K091', 'P06', 'head'];
		expect(lastNumbered(all)).toBe('K091');
		expect(lastNumbered(['head'])).toBe(null);
		expect(freshIds(['K001', lastNumbered(all)!], 'person', 1)).toEqual(['K092']);
	});
});
