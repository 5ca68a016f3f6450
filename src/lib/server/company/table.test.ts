import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Fault } from '../platform/refusal';
import * as cell from './table';
import { monthCalendar } from '../../core/calendar/calendar';
import { MOST_AMOUNT } from '../../core/company/schema';
import { readTable, writeTable } from './table';

const columns = { code: cell.code, amount: cell.decimal, note: cell.text };
function read(content: string) {
	const faults: Fault[] = [];
	const rows = readTable('t.csv', content, columns, faults, monthCalendar(4));
	return { rows, faults: faults.map((f) => `${f.row}:${f.column ?? ''}: ${f.message}`) };
}

describe('tables', () => {
	it('are read by heading, in any order, with quotes and a byte order mark', () => {
		const { rows, faults } = read('\ufeffnote,code,amount\r\n"a ""b"", c",x1,-1.5e3\r\n');
		expect(faults).toEqual([]);
		expect(rows).toMatchObject([{ code: 'x1', amount: -1500, note: 'a "b", c', rowNumber: 2 }]);
	});
	it('report every fault with its row, and leave out only what is wrong', () => {
		const { rows, faults } = read('code,amount,note\nx,1,\n?,2,\ny,1.2.3,\nz,3\nw,4,\n');
		expect(rows.map((r) => r.code)).toEqual(['x', 'w']);
		expect(faults).toEqual([
			'3:code: “?” was found; a code of letters, digits, dot, dash and underscore was expected',
			'4:amount: “1.2.3” was found; a number such as 1234.56 was expected',
			'5:: has 2 cells; 3 were expected'
		]);
	});
	it('refuse headings that are missing, unknown or double', () => {
		expect(read('code,amount\n').faults).toEqual(['1:note: the column “note” is missing']);
		expect(read('code,amount,note,colour\n').faults[0]).toMatch(
			/“colour” is not known; expected code, amount, note/
		);
		expect(read('code,amount,note,code\n').faults[0]).toMatch(/stands twice/);
		expect(read('').faults[0]).toMatch(/is empty/);
		expect(read('code,"amount\n').faults[0]).toMatch(/not readable as CSV/);
	});
	it('come back as they were written, whatever is in them', () => {
		const note = fc.string().filter((s) => !s.includes('\r'));
		const amount = fc.double({ noNaN: true, min: -MOST_AMOUNT, max: MOST_AMOUNT });
		fc.assert(
			fc.property(fc.array(fc.tuple(note, amount), { minLength: 1, maxLength: 8 }), (list) => {
				const { rows, faults } = read(
					writeTable(
						['code', 'amount', 'note'],
						list.map(([n, a], i) => [`c${i}`, a, n])
					)
				);
				expect(faults).toEqual([]);
				expect(rows.map((r) => [r.note, r.amount])).toEqual(list.map(([n, a]) => [n, a + 0]));
			})
		);
	});
});
