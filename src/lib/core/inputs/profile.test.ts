/** Seasonal profiles: the shape of a year, and totals that are spread by one. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../calendar/calendar';
import { placeInYear, profileWeights, shapeOfYear } from './profile';
import { spread } from './spread';

const calendar = monthCalendar(4);
const APR27 = calendar.parse('2027-04')!;
const year = Array.from({ length: 12 }, (_, i) => APR27 + i);
const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0);

describe('the shape of a year', () => {
	it('begins with the fiscal year, wherever the figures begin', () => {
		expect(placeInYear(calendar, APR27)).toBe(0);
		expect(placeInYear(calendar, calendar.parse('2027-01')!)).toBe(9);
		const calendarYear = Array.from({ length: 12 }, (_, i) => calendar.parse('2027-01')! + i);
		const figures = [1, 1, 1, 4, 1, 1, 1, 1, 1, 1, 1, 6];
		const shape = shapeOfYear([figures], calendarYear, calendar)!;
		expect(shape[0]).toBe(0.2);
		expect(shape[8]).toBe(0.3);
		expect(shape[9]).toBe(0.05);
	});
	it('is that of all rows together, blanks as nothing', () => {
		const a = year.map((_, i) => (i === 0 ? 30 : null));
		const b = year.map((_, i) => (i === 1 ? 10 : null));
		expect(shapeOfYear([a, b], year, calendar)!.slice(0, 3)).toEqual([0.75, 0.25, 0]);
	});
	it('is none where a month is missing, negative, or all is nothing', () => {
		expect(shapeOfYear([Array(11).fill(1)], year.slice(1), calendar)).toBeNull();
		expect(shapeOfYear([[-1, ...Array<number>(11).fill(1)]], year, calendar)).toBeNull();
		expect(shapeOfYear([Array(12).fill(0)], year, calendar)).toBeNull();
	});
});

describe('a spread by a profile', () => {
	it('ties to the cent, keeps the rows’ proportion, and gives each row the profile', () => {
		fc.assert(
			fc.property(
				fc
					.array(fc.integer({ min: 0, max: 1000 }), { minLength: 12, maxLength: 12 })
					.filter((w) => sum(w) > 0),
				fc.array(fc.integer({ min: 1, max: 100_000 }), { minLength: 1, maxLength: 5 }),
				fc.integer({ min: 0, max: 100_000_000 }),
				(weights, rowTotals, cents) => {
					const rows = rowTotals.map((t) => year.map(() => t / 12));
					const cells = rows.flat().map((value) => ({ value, held: false }));
					const method = { kind: 'weights' as const, weights: profileWeights(rows, year, weights, calendar) };
					const result = spread(cells, cents / 100, method, 2);
					if (!result.ok) throw new Error(result.message);
					expect(sum(result.values.map((v) => Math.round(v * 100)))).toBe(cents);
					result.values.forEach((v, i) => {
						const share = (rowTotals[Math.floor(i / 12)] / sum(rowTotals)) * (weights[i % 12] / sum(weights));
						expect(Math.abs(v - (cents / 100) * share)).toBeLessThan(0.011);
					});
				}
			),
			{ numRuns: 100 }
		);
	});
	it('counts rows alike that hold nothing yet', () => {
		const weights = profileWeights(
			[
				[null, null],
				[0, 0]
			],
			year.slice(0, 2),
			[3, 1],
			calendar
		);
		expect(weights).toEqual([3, 1, 3, 1]);
	});
});
