import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../../core/calendar/calendar';
import { buildStructure } from '../../core/company/structure';
import { guessOptions, readDate, readSheet } from './columns';

const calendar = monthCalendar(1);
const structure = buildStructure(
	calendar,
	[],
	[{ code: 'd', name: 'D', parent: null, entity: 'e' }],
	[{ code: 'region', name: 'Sales region', members: [] }],
	'GBP'
);
const guess = (content: string) => guessOptions(readSheet('f.csv', content), structure);

describe('a ledger file', () => {
	it.each([
		[
			'Posting date,Account,Account name,Department,Amount\n',
			{ date: 0, ledger_account: 1, ledger_account_name: 2, department: 3, amount: 4 }
		],
		[
			'Dr;Cr;Nominal code;Cost centre;Transaction date\n',
			{ debit: 0, credit: 1, ledger_account: 2, department: 3, date: 4 }
		],
		[
			'DATE\tACCOUNT NO.\tDEPT\tNet amount\tSupplier\tSALES REGION\n',
			{ date: 0, ledger_account: 1, department: 2, amount: 3, party: 4, region: 5 }
		],
		['colour,shape\n', {}]
	])('%s: its columns are recognised', (heading, columns) => {
		expect(guess(heading).columns).toEqual(columns);
	});
	it('tells its style of dates and decimals', () => {
		const dates = (d: string) => guess(`date,account,department,amount\n${d},1,d,1.50\n`).dates;
		expect(dates('2026-10-31')).toBe('year-first');
		expect(dates('31/10/2026')).toBe('day-first');
		expect(dates('10/31/2026')).toBe('month-first');
		expect(guess('date;account;department;amount\n31.10.2026;1;d;1.234,50\n').decimal).toBe(',');
		expect(guess('date,account,department,amount\n2026-10-31,1,d,1234\n').decimal).toBe('.');
	});
});

describe('dates', () => {
	it.each([
		['2026-1-5', 'year-first', '2026-01-05'],
		['5.1.2026', 'day-first', '2026-01-05'],
		['1/5/2026', 'month-first', '2026-01-05'],
		['2026-10-31T08:00', 'year-first', null],
		['2026-10-31 ', 'year-first', '2026-10-31'],
		['31.10.2026 8:00', 'day-first', null],
		['2026-10-311', 'year-first', null],
		['2026-10/31', 'year-first', null],
		['5.1.26', 'day-first', null],
		['soon', 'year-first', null]
	] as const)('%s, %s', (text, style, iso) => expect(readDate(text, style)).toBe(iso));
});
