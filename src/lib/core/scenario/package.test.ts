import { describe, expect, it } from 'vitest';
import { packageFromBytes, packageToBytes, type ScenarioPackage } from './package';

/** A parcel is plain data; what is in it is of no concern to the journey. */
const journey = (data: unknown) =>
	packageFromBytes(packageToBytes({ currency: 'GBP', data } as unknown as ScenarioPackage))
		.data as unknown as Record<string, never>;

describe('a scenario as bytes', () => {
	it('arrives as it was, to the last bit', () => {
		const data = {
			name: 'Łódź – “plan” 😀',
			none: null,
			yes: true,
			doubles: Float64Array.of(0.1 + 0.2, -0, NaN, 5e-324, Infinity, 1e300),
			empty: new Float64Array(0),
			bytes: Uint8Array.of(0, 255, 7),
			rows: [{ values: Float64Array.of(1, 2) }, { values: Float64Array.of(3) }, { marks: Uint8Array.of(9) }],
			map: new Map<string, unknown>([['a', new Map([['b', Float64Array.of(4)]])]])
		};
		expect(journey(data)).toEqual(data);
		expect(Object.is(journey(data).doubles[1], -0)).toBe(true);
	});
	it('keeps arrays apart: what is changed in one stays there', () => {
		const bytes = packageToBytes({
			data: { a: Float64Array.of(1, 2), b: Float64Array.of(3, 4) }
		} as unknown as ScenarioPackage);
		const read = packageFromBytes(bytes).data as unknown as { a: Float64Array; b: Float64Array };
		read.a.fill(9);
		expect([...read.b]).toEqual([3, 4]);
		expect(packageFromBytes(bytes).data).toMatchObject({ a: Float64Array.of(1, 2) });
	});
});
