/** Rows of the grid that stay what they are while figures change. */
import { describe, expect, it } from 'vitest';
import type { GridRow } from '../grid/types';
import type { ScheduleViewRow } from '../../core/views/schedule-view';
import { laid, staysLaid, steadyRows } from './rows';

const row = (key: string, more: Partial<GridRow> = {}): GridRow => ({
	key,
	label: key,
	kind: 'leaf',
	format: 'money',
	...more
});
const copy = (rows: GridRow[]): GridRow[] => structuredClone(rows);

describe('rows made again', () => {
	const before = [row('a', { rows: [row('a1'), row('a2')], mark: 'Shares' }), row('b'), row('c')];
	it('are the very list of before where nothing of them is other', () => {
		expect(steadyRows(before, copy(before))).toBe(before);
		expect(steadyRows([], [])).toEqual([]);
	});
	it('are new where they are other, and the former ones elsewhere', () => {
		const next = copy(before);
		next[1].mark = 'New';
		const rows = steadyRows(before, next);
		expect(rows).toEqual(next);
		expect([rows[0] === before[0], rows[1] === before[1], rows[2] === before[2]]).toEqual([
			true,
			false,
			true
		]);
		const under = copy(before);
		under[0].rows![1].label = 'other';
		const deeper = steadyRows(before, under);
		expect(deeper).toEqual(under);
		expect(deeper[0]).not.toBe(before[0]);
		expect(deeper[0].rows![0]).toBe(before[0].rows![0]);
	});
	it('come, go and change places', () => {
		const next = [before[2], row('d'), before[0]].map((r) => structuredClone(r));
		const rows = steadyRows(before, next);
		expect(rows).toEqual(next);
		expect(rows[0]).toBe(before[2]);
		const without = copy(before);
		delete without[0].rows;
		expect(steadyRows(before, without)).toEqual(without);
		delete without[0].mark;
		expect(steadyRows(before, without)).toEqual(without);
	});
});

describe('rows with something typed', () => {
	const asSaved = laid([
		row('group', { rows: [row('a', { rows: [row('a|pay')], mark: 'Shares' })] }),
		row('b')
	]);
	/** Whether all stays as it lies when these rows would be so. */
	const stays = (...next: GridRow[]) =>
		staysLaid(asSaved, new Map(next.map((r) => [r.key, {} as ScheduleViewRow])), (key) =>
			next.find((r) => r.key === key)!
		);
	it('stay as they lie while figures alone are other, in groups and under rows too', () => {
		expect(stays()).toBe(true);
		expect(
			stays(row('a', { mark: 'Shares' }), row('a|pay'), row('b', { mark: undefined }), row('group'))
		).toBe(true);
	});
	it('do not with another label or mark, or one that was not there', () => {
		expect(stays(row('a|pay', { label: 'Pay' }))).toBe(false);
		expect(stays(row('a'))).toBe(false);
		expect(stays(row('b', { mark: 'Shares' }))).toBe(false);
		expect(stays(row('b|pay'))).toBe(false);
	});
});
