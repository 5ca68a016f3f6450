/** Rows that are put in, called something else, and taken out again before they are saved. */
import { describe, expect, it } from 'vitest';
import { ScheduleDefinition } from '../../core/blocks/schedule/schema';
import { monthCalendar } from '../../core/calendar/calendar';
import { cellKey } from '../entry/cell-key';
import { RowBatch } from './row-batch.svelte';

const definition = ScheduleDefinition.parse({
	code: 'staff',
	name: 'Staff',
	one: 'person',
	named: 'name',
	columns: [
		{ code: 'name', label: 'Name', kind: 'text', required: true },
		{ code: 'home', label: 'Department', kind: 'department', required: true }
	],
	lines: [{ code: 'raise', label: 'Raise', format: 'percent' }],
	postings: []
});
const batchOf = (ids: string[], lastId: string | null) =>
	new RowBatch({
		definition,
		calendar: monthCalendar(4),
		list: new Map(ids.map((id) => [id, { id, values: {} }])),
		lastId,
		department: 'yard'
	});
const raise = (id: string) => ({
	row: cellKey('raise', id),
	column: '2027-07',
	before: null,
	value: 0.04
});

describe('rows that are put in', () => {
	it('are called after the last of all rows, and begin in the department that is looked at', () => {
		const batch = batchOf(['K001'], 'K091');
		expect(batch.add(2, 'K001')).toEqual(['K092', 'K093']);
		expect(batch.standing('K092', 'home')).toBe('yard');
		expect(batch.lacking.map((l) => [l.id, l.columns.map((c) => c.code)])).toEqual([
			['K092', ['name']],
			['K093', ['name']]
		]);
	});
	it('leave nothing behind when they are taken out, nor in their months', () => {
		const batch = batchOf(['K001'], 'K001');
		const [id] = batch.add(1, null);
		batch.edits.apply([raise(id), raise('K001')]);
		batch.remove([id]);
		expect(batch.sent.changes).toEqual([]);
		expect(batch.sent.edits.map((e) => e.row)).toEqual(['K001']);
	});
	it('take another identifier with all that is typed in them, and those that follow them', () => {
		const batch = batchOf(['K001'], 'K001');
		const [one] = batch.add(1, 'K001');
		const [two] = batch.add(1, one);
		batch.edits.apply([raise(one)]);
		expect(batch.nameFault(one, 'K001')).toBe('there is a person “K001” already');
		expect(batch.nameFault(one, two)).toBe(`there is a person “${two}” already`);
		expect(batch.nameFault(one, 'a|b')).toMatch(/is no identifier/);
		expect(batch.nameFault(one, 'HR-7')).toBe(null);
		batch.rename(one, 'HR-7');
		expect(batch.sent.changes.map((c) => c.kind === 'add' && [c.row.id, c.after])).toEqual([
			['HR-7', 'K001'],
			[two, 'HR-7']
		]);
		expect(batch.sent.edits.map((e) => e.row)).toEqual(['HR-7']);
	});
});
