/** The practice with a schedule of rented things in its forecast. */
import { ScheduleDefinition } from '../../src/lib/core/blocks/schedule/schema';
import { readFolder } from '../../src/lib/server/transfer/folder';
import { PRAXIS } from './company';

export const F2 = 'f2';
export const RENTALS = ScheduleDefinition.parse({
	code: 'rentals',
	name: 'Rentals',
	one: 'rental',
	named: 'what',
	divided: true,
	columns: [
		{ code: 'what', label: 'What', kind: 'text', required: true },
		{ code: 'home', label: 'Department', kind: 'department', required: true },
		{ code: 'yearly', label: 'A year', kind: 'money', least: 0, required: true },
		{ code: 'start', label: 'From', kind: 'date', required: true },
		{ code: 'end', label: 'Until', kind: 'date', least: 'start' },
		{ code: 'payer', label: 'Paid by', kind: 'member', dimension: 'group' },
		{ code: 'indexed', label: 'Indexed', kind: 'yes-no' }
	],
	lines: [
		{ code: 'extra', label: 'Extra', format: 'money' },
		{ code: 'cost', label: 'Cost', formula: 'yearly / 12 * active(start, end) + extra' }
	],
	postings: [{ line: 'cost', account: { code: 'rent' } }]
});
export const ROWS = [
	'id,shares,what,home,yearly,start,end,payer,indexed',
	'r1,,Microscope,labor,1200,2026-01-01,,private,yes',
	'r2,praxis,X-ray room,labor,24000,2026-05-01,2026-12-31,,no'
];
/** @param change files in place of those */
export const rentalFiles = (change: Record<string, string> = {}) =>
	new Map([
		...readFolder(PRAXIS),
		['schedules.csv', 'code\nrentals\n'],
		['schedules/rentals.json', JSON.stringify(RENTALS)],
		['scenarios/f2/schedules/rentals.csv', ROWS.join('\n') + '\n'],
		...Object.entries(change)
	]);
