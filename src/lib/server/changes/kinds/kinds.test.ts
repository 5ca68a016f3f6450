/** What a change is called, kind by kind; also of entries that somebody has written by hand. */
import { expect, it } from 'vitest';
import { monthCalendar } from '../../../core/calendar/calendar';
import { CHANGE_KINDS, kindOf } from './kinds';
import type { What } from '../../company/changed';
import { entryOf, type Names } from './kind';

const names: Names = {
	calendar: monthCalendar(4),
	calendarOf: () => monthCalendar(4),
	account: (code) => `account ${code}`,
	department: (code) => `department ${code}`,
	model: (code) => `model ${code}`,
	line: (_, code) => `line ${code}`,
	row: (_, id) => `row ${id}`,
	named: (code) => `“${code}”`
};
const adjustment = JSON.stringify({
	place: 0,
	code: 'a',
	name: 'Dearer',
	on: true,
	adopted: null,
	steps: []
});
const words = (subject: string, before: string, after: string) => {
	const entry = entryOf({ subject, before, after });
	const w = kindOf(entry).words(entry, names);
	return `${w.place}: ${w.before} → ${w.after}`;
};

it.each([
	['accounts/6240/web/2026-10', '', '120.5', 'account 6240, department web, Oct 26: blank → 120.5'],
	[
		'boats/units/kay|dealer/2026-10',
		'0.30000000000000004',
		'3',
		'model boats: line units, row kay|dealer, Oct 26: 0.3 → 3'
	],
	['base/rise//2026-10', '1', '', 'model base: line rise, Oct 26: 1 → blank'],
	[
		'basis/6240/web',
		'{"kind":"typed"}',
		'{"kind":"last-year","percent":-0.03}',
		'account 6240, department web: typed → last year −3 %'
	],
	[
		'basis/6240/web',
		'{"kind":"driver","driver":"boats.units","rate":2}',
		'{"kind":"percent-of","percent":0.2,"account":"4010"}',
		'account 6240, department web: line units × 2 → 20 % of account 4010'
	],
	['formula/boats/revenue', 'units', 'units * 2', 'model boats: line revenue: units → units * 2'],
	['model/boats', 'abc', 'def', 'model boats:  → '],
	[
		'row/staff/p1',
		'',
		'{"row":{"id":"p1","values":{}},"after":null}',
		'model staff: row p1: not there → there'
	],
	['staff/start/p1/', '', '"2027-02-01"', 'model staff: row p1, line start: blank → “2027-02-01”'],
	['staff/open/p1/', 'true', '0.5', 'model staff: row p1, line open: yes → 0.5'],
	['staff/shares/p1/', '"a;b"', '', 'model staff: row p1, divided with: “a;b” → blank'],
	['adjustment/a', '', adjustment, 'adjustment a: not there → Dearer, on'],
	['note/accounts/6240/web/2026-10', '', 'Late', 'account 6240, department web, Oct 26: blank → Late'],
	['close/2026-10', 'f6', 'f7', 'October 2026: f6 → f7'],
	['name', 'A', 'B', 'name: A → B'],
	// Written by hand.
	['basis/6240/web', 'typed', '{"kind":"other"}', 'account 6240, department web: typed → {"kind":"other"}'],
	['adjustment/a', 'x', '{}', 'adjustment a: x → {}'],
	['accounts/6240/web/soon', '1', '2', 'account 6240, department web, soon: 1 → 2']
])('%s, %s → %s', (subject, before, after, expected) => {
	expect(words(subject, before, after)).toBe(expected);
});

it('each change is of one kind, and what a copy holds can be taken back in it too', () => {
	const all = CHANGE_KINDS.flatMap((k) => k.what);
	expect(new Set(all).size).toBe(all.length);
	const every: Record<What, true> = {
		...{
			cell: true,
			note: true,
			items: true,
			attachment: true,
			basis: true,
			adjustment: true,
			formula: true
		},
		...{
			model: true,
			rows: true,
			close: true,
			feed: true,
			map: true,
			profile: true,
			rule: true,
			member: true,
			person: true,
			account: true,
			department: true,
			entity: true,
			rates: true,
			module: true,
			schedule: true,
			row: true,
			column: true
		},
		scenario: true
	};
	expect(all.toSorted()).toEqual(Object.keys(every).sort());
	for (const kind of CHANGE_KINDS) expect(Boolean(kind.undo)).toBe(Boolean(kind.rewind));
});
