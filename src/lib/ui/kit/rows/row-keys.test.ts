import { describe, expect, it } from 'vitest';
import { rowStep } from './row-keys';

describe('keys among rows with buttons', () => {
	const at = { row: 3, button: 1 };
	it.each([
		['ArrowDown', { row: 4, button: 1 }],
		['ArrowUp', { row: 2, button: 1 }],
		['PageDown', { row: 9, button: 1 }],
		['PageUp', { row: 0, button: 1 }],
		['Home', { row: 0, button: 1 }],
		['End', { row: 9, button: 1 }],
		['ArrowRight', { row: 3, button: 2 }],
		['ArrowLeft', { row: 3, button: 0 }],
		['Enter', null],
		['a', null]
	])('%s', (key, to) => expect(rowStep(key, at, 10, 3)).toEqual(to));
	it('stop at the ends', () => {
		expect(rowStep('ArrowDown', { row: 9, button: 0 }, 10, 3)).toEqual({ row: 9, button: 0 });
		expect(rowStep('ArrowLeft', { row: 0, button: 0 }, 10, 3)).toEqual({ row: 0, button: 0 });
		expect(rowStep('ArrowRight', { row: 0, button: 2 }, 10, 3)).toEqual({ row: 0, button: 2 });
	});
});
