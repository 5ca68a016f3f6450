import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../../core/calendar/calendar';
import type { AdjustmentStepDefinition } from '../../core/inputs/schema';
import { operationWords, scopeWords, type Adjustable } from './words';

const calendar = monthCalendar(4);
const scope = { lines: [{ block: 'sales', line: 'price' }], where: {} };
const adjustables: Adjustable[] = [
	{
		block: 'sales',
		name: 'Sales',
		dimensions: [
			{ code: 'product', name: 'Product', members: [{ code: 'kayaks', name: 'Kayaks', depth: 0 }] }
		],
		lines: [
			{ code: 'price', name: 'List price', format: 'price' },
			{ code: 'units', name: 'Units', format: 'number' }
		]
	}
];

describe('an adjustment in words', () => {
	it.each<[AdjustmentStepDefinition, string]>([
		[{ ...scope, operation: 'multiply', value: 1.05 }, '+5 %'],
		[{ ...scope, operation: 'multiply', value: 0.925 }, '−7.5 %'],
		[{ ...scope, operation: 'multiply', value: 1 }, '+0 %'],
		[{ ...scope, operation: 'add', value: 12_000 }, '+12,000'],
		[{ ...scope, operation: 'add', value: -12.5 }, '−12.50'],
		[{ ...scope, operation: 'set', value: 3 }, '= 3'],
		[{ ...scope, operation: 'shift', periods: 1 }, '1 month later'],
		[{ ...scope, operation: 'shift', periods: -2 }, '2 months earlier']
	])('%o is %s', (step, words) => expect(operationWords(step, calendar)).toBe(words));

	it('names lines, members and months', () => {
		const words = (more: Partial<AdjustmentStepDefinition>) =>
			scopeWords(
				{ ...scope, operation: 'multiply', value: 1, ...more } as AdjustmentStepDefinition,
				adjustables,
				calendar
			);
		expect(words({})).toBe('List price');
		expect(words({ where: { product: 'kayaks' }, from: '2027-03' })).toBe(
			'List price · Kayaks · from Mar 27'
		);
		expect(words({ from: '2027-03', to: '2027-05' })).toBe('List price · Mar 27 – May 27');
		expect(words({ from: '2027-03', to: '2027-03' })).toBe('List price · Mar 27');
		expect(words({ to: '2027-03' })).toBe('List price · to Mar 27');
		// What is no longer there keeps its code.
		expect(words({ lines: [{ block: 'gone', line: 'x' }], where: { product: 'y' } })).toBe('x · y');
	});
});
