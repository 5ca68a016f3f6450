import { describe, expect, it } from 'vitest';
import { NotCsv, readCsv } from './csv';

describe('CSV', () => {
	it('keeps what stands in quotation marks as one cell: delimiters, line breaks, doubled marks', () => {
		expect(readCsv('a,b\n"x, y","say ""so""\nand on"\n').records).toEqual([
			['a', 'b'],
			['x, y', 'say "so"\nand on']
		]);
	});
	it.each([
		['\n', ''],
		['\r\n', ''],
		['\r', ''],
		['\n', '\ufeff']
	])('ends lines with %j, after %j', (end, mark) => {
		expect(readCsv(`${mark}a;b${end}1;2${end}`, ';').records).toEqual([
			['a', 'b'],
			['1', '2']
		]);
	});
	it('leaves empty lines out and counts them, as a spreadsheet does', () => {
		expect(readCsv('a,b\n\n1,2\n\n\n3\n,\n')).toEqual({
			records: [['a', 'b'], ['1', '2'], ['3'], ['', '']],
			rows: [1, 3, 6, 7]
		});
		expect(readCsv('')).toEqual({ records: [], rows: [] });
	});
	it.each([
		['a,b\n1,2\n"3,4\n', 3, /opens a cell that none closes/],
		['a,b\n\n"3"x,4\n', 3, /stands behind the quotation mark/]
	])('%j is none', (content, row, why) => {
		let wrong: unknown;
		try {
			readCsv(content);
		} catch (e) {
			wrong = e;
		}
		expect(wrong).toBeInstanceOf(NotCsv);
		expect(wrong).toMatchObject({ row, message: expect.stringMatching(why) });
	});
});
