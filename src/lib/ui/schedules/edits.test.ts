/** What is typed into a schedule's grid, as it is sent. */
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../../core/calendar/calendar';
import { cellKey } from '../entry/cell-key';
import { EditBatch } from '../grid/editing/edits.svelte';
import type { Entered } from '../grid/entered';
import { freshIds, PRESENCE, sentOf } from './edits';

const calendar = monthCalendar(4);
const sent = (batch: EditBatch<Entered>, after: [string, string | null][] = []) =>
	sentOf('staff', calendar, batch.list, new Map(after));
const cell = (row: string, column: string, before: Entered, value: Entered) => ({
	row,
	column,
	before,
	value
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
	it('calls new rows by the next number', () => {
		expect(freshIds(['E008', 'E009', 'X'], 'person', 2)).toEqual(['E010', 'E011']);
		expect(freshIds(['a', 'b'], 'fixed asset', 2)).toEqual(['fixed asset-1', 'fixed asset-2']);
		expect(freshIds([], 'person/post', 1)).toEqual(['person post-1']);
		expect(freshIds(['p2', 'q9', 'p10'], 'p', 1)).toEqual(['p11']);
	});
});
