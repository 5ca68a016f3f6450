/** The clock by which changes are stamped. */
import { afterEach, expect, it, vi } from 'vitest';
import { timestamp, today } from './settings';

afterEach(() => vi.unstubAllEnvs());

it('stamps with the day that is set, at the time of day it is, and goes on to the next', () => {
	vi.stubEnv('YARDSTAVE_TODAY', '2028-02-28');
	const evening = Date.parse('2030-07-01T23:59:30.000Z');
	expect(timestamp(evening)).toBe('2028-02-28T23:59:30.000Z');
	expect(timestamp(evening + 60_000)).toBe('2028-02-29T00:00:30.000Z');
});
it('is the real one where none is set', () => {
	vi.stubEnv('YARDSTAVE_TODAY', undefined);
	const real = Date.parse('2030-07-01T12:00:00.000Z');
	expect(timestamp(real)).toBe('2030-07-01T12:00:00.000Z');
	expect(Math.abs(Date.parse(today()) - Date.now())).toBeLessThan(2 * 24 * 3_600_000);
});
