import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { calendarOf } from './calendar-of';
import { fromWriting, inWriting } from './writing';

const months = calendarOf({ kind: 'months', fiscalStart: 4, dayCount: 'actual' });
const weeks = calendarOf({
	kind: 'weeks',
	grouping: '4-4-5',
	fiscalStart: 9,
	endsOn: 6,
	rule: 'nearest'
});
const NAMES = ['from', 'to', 'period'] as const;

describe('periods in writing', () => {
	it('are texts in the fields that are named, at any depth, and nothing else is touched', () => {
		const oct = months.parse('2026-10')!;
		const answer = {
			from: oct,
			value: oct,
			cells: [oct, null, 'Error'],
			rows: [{ period: oct, to: null, note: 'x' }, null]
		};
		expect(inWriting(months, answer, NAMES)).toEqual({
			from: '2026-10',
			value: oct,
			cells: [oct, null, 'Error'],
			rows: [{ period: '2026-10', to: null, note: 'x' }, null]
		});
		// What was given is as it was.
		expect(answer.from).toBe(oct);
	});
	it('are read as what was written, in calendars of months and of weeks', () => {
		const cell = fc.oneof(fc.constant(null), fc.double({ noNaN: true }), fc.constantFrom('Error', 'n/m'));
		for (const calendar of [months, weeks]) {
			const period = fc.integer({
				min: calendar.parse(calendar === months ? '2024-04' : '2025-P01')!,
				max: 30_000
			});
			const leaf = fc.record({
				period: fc.option(period),
				from: period,
				other: fc.integer(),
				cells: fc.array(cell)
			});
			const tree = fc.record({ to: period, rows: fc.array(leaf, { maxLength: 3 }), only: fc.option(leaf) });
			fc.assert(
				fc.property(tree, (answer) => {
					const written = inWriting(calendar, answer, NAMES);
					expect(fromWriting(calendar, written as never, NAMES)).toEqual(answer);
				}),
				{ numRuns: 60 }
			);
		}
	});
	it('are not looked for in what is left alone: a dimension may be called as a period is', () => {
		const answer = { options: { columns: { period: 3, from: 1 } }, period: months.parse('2026-10')! };
		expect(inWriting(months, answer, NAMES, ['options'])).toEqual({ ...answer, period: '2026-10' });
	});
	it('leave a text that is no period as it is', () => {
		expect(fromWriting(months, { from: 'fy27-budget', to: '2026-10' } as never, NAMES)).toEqual({
			from: 'fy27-budget',
			to: months.parse('2026-10')
		});
	});
});
