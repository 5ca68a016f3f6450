/** What is typed into a schedule's grid, as it is sent. */
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../../core/calendar/calendar';
import { cellKey } from '../entry/cell-key';
import { EditBatch } from '../grid/editing/edits.svelte';
import type { Entered } from '../grid/entered';
import { ScheduleDefinition } from '../../core/blocks/schedule/schema';
import type { ScheduleViewRow } from '../../core/views/schedule-view';
import type { GridRow } from '../grid/types';
import { isOf, lackingIn, PRESENCE, renamed, sentOf } from './edits';
import { postedTo } from './posted-to';
import { gridRows, type RowsSource } from './rows';

const calendar = monthCalendar(4);
const sent = (batch: EditBatch<Entered>, after: [string, string | null][] = []) =>
	sentOf('staff', calendar, batch.list, new Map(after));
const cell = (row: string, column: string, before: Entered, value: Entered) => ({
	row,
	column,
	before,
	value
});

describe('a row that is put in', () => {
	const form = ScheduleDefinition.parse({
		code: 'lease',
		name: 'Leases',
		one: 'lease',
		named: 'what',
		columns: [
			{ code: 'what', label: 'What', kind: 'text', required: true },
			{ code: 'end', label: 'End', kind: 'date' },
			{ code: 'goes_to', label: 'Goes to', kind: 'account', required: true }
		],
		lines: [],
		postings: []
	});
	it('still needs what is required and blank, and nothing else', () => {
		const typed = new Map<string, Entered>([
			['a.what', 'Press'],
			['b.what', 'Van'],
			['b.goes_to', '6050']
		]);
		const standing = (id: string, column: string) => typed.get(`${id}.${column}`) ?? null;
		const lacking = lackingIn(form, ['a', 'b', 'c'], standing);
		expect(lacking.map((l) => [l.id, l.columns.map((c) => c.label)])).toEqual([
			['a', ['Goes to']],
			['c', ['What', 'Goes to']]
		]);
	});
});

describe('what is typed into a list', () => {
	it('is sent as values of rows, and as months of lines', () => {
		const batch = new EditBatch<Entered>();
		batch.apply([cell('p1', 'start', '2027-04-01', '2027-06-01')]);
		batch.apply([cell(cellKey('raise', 'p1'), '2027-07', null, 0.04)]);
		batch.apply([cell(cellKey('share', 'p2|club'), '2027-07', 0.5, 0.6)]);
		expect(sent(batch)).toEqual({
			changes: [{ kind: 'set', id: 'p1', column: 'start', before: '2027-04-01', value: '2027-06-01' }],
			edits: [
				{ block: 'staff', line: 'raise', row: 'p1', period: '2027-07', before: null, value: 0.04 },
				{ block: 'staff_shares', line: 'share', row: 'p2|club', period: '2027-07', before: 0.5, value: 0.6 }
			]
		});
	});
	it('puts in a row with all that is typed in it, and takes one out without what was', () => {
		const batch = new EditBatch<Entered>();
		batch.apply([cell('p3', PRESENCE, null, true), cell('p3', 'open', null, true)]);
		batch.apply([cell('p3', 'shares', null, 'club;yard'), cell('p3', 'name', null, 'Ann')]);
		batch.apply([cell('p1', 'start', '2027-04-01', '2027-06-01')]);
		batch.apply([cell(cellKey('raise', 'p1'), '2027-07', null, 0.04)]);
		batch.apply([cell('p1', PRESENCE, true, null)]);
		expect(sent(batch, [['p3', 'p2']])).toEqual({
			changes: [
				{
					kind: 'add',
					after: 'p2',
					row: { id: 'p3', values: { open: true, name: 'Ann' }, shares: ['club', 'yard'] }
				},
				{ kind: 'remove', id: 'p1' }
			],
			edits: []
		});
		batch.undo();
		expect(sent(batch).changes.at(-1)).toMatchObject({ kind: 'set', id: 'p1', value: '2027-06-01' });
	});
	it('goes along with a new row that is called anew, in its months and shares too', () => {
		const batch = new EditBatch<Entered>();
		batch.apply([
			cell('p3', PRESENCE, null, true),
			cell('p3', 'name', null, 'Ann'),
			cell('p30', 'name', 'Bo', 'Bob'),
			cell(cellKey('raise', 'p3'), '2027-07', null, 0.04),
			cell(cellKey('share', 'p3|club'), '2027-07', null, 0.6)
		]);
		batch.apply(renamed(batch.list, 'p3', 'E-7', calendar));
		expect(sent(batch)).toEqual({
			changes: [
				{ kind: 'add', row: { id: 'E-7', values: { name: 'Ann' } } },
				{ kind: 'set', id: 'p30', column: 'name', before: 'Bo', value: 'Bob' }
			],
			edits: [
				{ block: 'staff', line: 'raise', row: 'E-7', period: '2027-07', before: null, value: 0.04 },
				{ block: 'staff_shares', line: 'share', row: 'E-7|club', period: '2027-07', before: null, value: 0.6 }
			]
		});
		batch.undo();
		expect(sent(batch).changes[0]).toMatchObject({ kind: 'add', row: { id: 'p3' } });
		// Taken out again, nothing of it stays behind.
		const own = batch.list.filter((e) => isOf(e, 'p3', calendar));
		expect([own.length, batch.list.length]).toEqual([4, 5]);
	});
});

describe('rows of the grid', () => {
	const row = (key: string, more: Partial<ScheduleViewRow> = {}): ScheduleViewRow => ({
		key,
		kind: 'row',
		id: key,
		label: key,
		line: 'pay',
		count: 1,
		open: false,
		cells: [],
		target: null,
		...more
	});
	const keys = (rows: readonly GridRow[]): unknown[] =>
		rows.map((r) => (r.rows ? [r.key, keys(r.rows)] : r.key));
	const of = (saved: ScheduleViewRow[], more: Partial<RowsSource> = {}) =>
		keys(
			gridRows(
				{ saved, changed: new Map(), added: [], after: new Map(), removed: new Set(), ...more },
				(key) => ({ key, label: key, kind: 'leaf', format: 'money' })
			)
		);
	it('stand as they are saved, without those taken out, with new ones where they are wanted', () => {
		const saved = [row('a'), row('a|pay', { kind: 'line', id: 'a' }), row('b')];
		expect(of(saved)).toEqual([['a', ['a|pay']], 'b']);
		const added = ['n1', 'n2', 'n3'];
		const after = new Map<string, string | null>([
			['n1', 'a'],
			['n2', 'n1'],
			['n3', 'gone']
		]);
		expect(of(saved, { added, after })).toEqual([['a', ['a|pay']], 'n1', 'n2', 'b', 'n3']);
		expect(of(saved, { added, after, removed: new Set(['a']) })).toEqual(['n1', 'n2', 'b', 'n3']);
	});
	it('stand under their headings', () => {
		const saved = [
			row('g1', { kind: 'group', id: '' }),
			row('a'),
			row('g2', { kind: 'group', id: '' }),
			row('b')
		];
		expect(of(saved, { added: ['n'], after: new Map([['n', 'a']]) })).toEqual([
			['g1', ['a', 'n']],
			['g2', ['b']]
		]);
	});
	it('lead to the account to which their line is posted', () => {
		const definition = ScheduleDefinition.parse({
			code: 'leases',
			name: 'Leases',
			named: 'what',
			columns: [
				{ code: 'what', label: 'What', kind: 'text' },
				{ code: 'home', label: 'Department', kind: 'department', required: true },
				{ code: 'account', label: 'Account', kind: 'account', required: true }
			],
			lines: [{ code: 'pay', label: 'Fee' }],
			postings: [{ line: 'pay', account: { column: 'account' } }]
		});
		const held = { id: 'a', values: { home: 'yard', account: '6240' } };
		const ref = { kind: 'line' as const, model: 'leases', line: 'pay', row: 'a', period: 7 };
		const to = (target: string, line = 'pay') =>
			postedTo(
				{ definition, accountsBy: {} },
				{ line, target: { block: 'leases', line, row: target } },
				held,
				ref
			);
		const account = { kind: 'account', account: '6240', from: 7, to: 7 };
		expect(to('a')).toEqual({ ...account, department: 'yard' });
		expect(to('a|club')).toEqual({ ...account, department: 'club' });
		expect(to('a', 'other')).toBeNull();
	});
});
