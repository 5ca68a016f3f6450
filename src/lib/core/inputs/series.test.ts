/** Typed values over time. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { upTo, valueAt, withValues, type Run } from './series';

const run = (first: number, ...values: (number | null)[]): Run => ({
	first,
	values: Float64Array.from(values, (v) => v ?? NaN)
});
const plain = (r: Run | null) =>
	r && { first: r.first, values: [...r.values].map((v) => (Number.isNaN(v) ? null : v)) };

describe('a run of typed values', () => {
	it('grows to both sides with blanks between, and is cut where it begins or ends blank', () => {
		expect(plain(withValues(null, new Map([[5, 1]])))).toEqual({ first: 5, values: [1] });
		expect(plain(withValues(run(5, 1), new Map([[8, 4]])))).toEqual({ first: 5, values: [1, null, null, 4] });
		expect(plain(withValues(run(5, 1, 2), new Map([[3, 9]])))).toEqual({ first: 3, values: [9, null, 1, 2] });
		expect(plain(withValues(run(5, 1, 2, 3), new Map([[5, null]])))).toEqual({ first: 6, values: [2, 3] });
	});
	it('is nothing when its last value is taken away, and a zero is a value', () => {
		expect(withValues(run(5, 1), new Map([[5, null]]))).toBeNull();
		expect(withValues(null, new Map())).toBeNull();
		expect(plain(withValues(run(5, 1), new Map([[5, 0]])))).toEqual({ first: 5, values: [0] });
	});
	it('ends with a period', () => {
		expect(plain(upTo(run(5, 1, null, 3), 6))).toEqual({ first: 5, values: [1] });
		expect(upTo(run(5, 1), 4)).toBeNull();
		expect(plain(upTo(run(5, 1, 2), 99))).toEqual({ first: 5, values: [1, 2] });
	});
	it('holds what was typed last, whatever was typed before, and leaves what it was made from', () => {
		const typing = fc.array(fc.tuple(fc.integer({ min: -3, max: 9 }), fc.option(fc.integer())), {
			maxLength: 30
		});
		fc.assert(
			fc.property(fc.array(typing, { maxLength: 5 }), (saves) => {
				const expected = new Map<number, number>();
				let own: Run | null = null;
				for (const save of saves) {
					const before = plain(own);
					const next = withValues(own, new Map(save));
					expect(plain(own)).toEqual(before);
					own = next;
					for (const [p, v] of new Map(save)) {
						if (v === null) expected.delete(p);
						else expected.set(p, v);
					}
				}
				for (let p = -5; p <= 11; p++) expect(valueAt(own, p)).toBe(expected.get(p) ?? null);
				if (own) expect([valueAt(own, own.first), own.values.at(-1)]).not.toContain(null);
			})
		);
	});
});
