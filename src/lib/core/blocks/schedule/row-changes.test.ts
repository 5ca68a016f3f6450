/** Changing rows: what comes out, where it stands, and what does not fit any more. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changeRows, DIVIDED, rowValue, type RowChange } from './row-changes';
import type { ScheduleRow } from './schema';

const row = (id: string, values: ScheduleRow['values'] = {}, shares?: string[]): ScheduleRow => ({
	id,
	values,
	...(shares ? { shares } : {})
});
const ids = (rows: readonly ScheduleRow[]) => rows.map((r) => r.id).join('');
const rows = [row('a', { pay: 1 }), row('b', { pay: 2, open: true }, ['x', 'y']), row('c')];
const add = (id: string, after?: string | null): RowChange => ({
	kind: 'add',
	row: { id, values: {} },
	...(after === undefined ? {} : { after })
});
const set = (id: string, column: string, before: string | number | boolean | null, value: typeof before) =>
	({ kind: 'set', id, column, before, value }) satisfies RowChange;

describe('changes of rows', () => {
	it('put rows where they are wanted, and take them out', () => {
		const of = (...changes: RowChange[]) => ids(changeRows(rows, changes).rows);
		expect(of(add('d'))).toBe('abcd');
		expect(of(add('d', null))).toBe('dabc');
		expect(of(add('d', 'a'), add('e', 'd'))).toBe('adebc');
		// The last one put in behind a row stands first; what follows nothing that is there stands at the end.
		expect(of(add('d', 'a'), add('e', 'a'))).toBe('aedbc');
		expect(of(add('d', 'z'))).toBe('abcd');
		expect(of({ kind: 'remove', id: 'b' }, add('d', 'c'))).toBe('acd');
		// Taken out and put in again in one go it stands where it is wanted.
		expect(of({ kind: 'remove', id: 'a' }, add('a', 'c'))).toBe('bca');
	});
	it('change values, and leave other rows the very same', () => {
		const { rows: next } = changeRows(rows, [
			set('a', 'pay', 1, 5),
			set('b', 'open', true, null),
			set('b', DIVIDED, 'x;y', 'y; z'),
			set('a', 'name', null, 'Ann')
		]);
		expect(next).toEqual([row('a', { pay: 5, name: 'Ann' }), row('b', { pay: 2 }, ['y', 'z']), row('c')]);
		expect(next[2]).toBe(rows[2]);
		expect(changeRows(rows, [set('b', DIVIDED, 'x;y', null)]).rows[1]).toEqual(
			row('b', { pay: 2, open: true })
		);
	});
	it('say what is other than it was when they were made', () => {
		const conflicts = (...changes: RowChange[]) => changeRows(rows, changes).conflicts;
		const differing = set('a', 'pay', 3, 4);
		expect(conflicts(differing)).toEqual([{ kind: 'differs', change: differing, theirs: 1 }]);
		// Where it is as it should be already, nobody minds.
		expect(conflicts(set('a', 'pay', 3, 1))).toEqual([]);
		expect(conflicts(set('z', 'pay', null, 1), { kind: 'remove', id: 'y' })).toEqual([
			{ kind: 'gone', id: 'z' },
			{ kind: 'gone', id: 'y' }
		]);
		expect(conflicts(add('a'))).toEqual([{ kind: 'taken', id: 'a' }]);
		expect(conflicts(set('c', 'toString', null, 'x'))).toEqual([]);
	});
	it('lose and double no row, and are taken back by their opposites', () => {
		const value = fc.constantFrom<(string | number | boolean | null)[]>(null, 1, 'x', true);
		const change = fc.oneof(
			fc.record({ kind: fc.constant('remove' as const), id: fc.constantFrom(...'abcdef') }),
			fc
				.record({ id: fc.constantFrom(...'abcdef'), after: fc.constantFrom(null, ...'abcdef') })
				.map(({ id, after }) => add(id, after)),
			fc
				.record({ id: fc.constantFrom(...'abc'), column: fc.constantFrom('pay', 'open'), value })
				.map(({ id, column, value }) => {
					const own = rows.find((r) => r.id === id)!;
					return set(id, column, rowValue(own, column), value);
				})
		);
		fc.assert(
			fc.property(fc.array(change, { maxLength: 8 }), (changes) => {
				const there = new Set(rows.map((r) => r.id));
				for (const c of changes) {
					if (c.kind === 'remove') there.delete(c.id);
					if (c.kind === 'add') there.add(c.row.id);
				}
				const next = changeRows(rows, changes).rows;
				expect(new Set(next.map((r) => r.id))).toEqual(there);
				expect(next).toHaveLength(there.size);
			})
		);
	});
});
