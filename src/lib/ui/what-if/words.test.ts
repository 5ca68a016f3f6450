import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../../core/calendar/calendar';
import type { AdjustmentStepDefinition } from '../../core/inputs/schema';
import { draftsOf, kindsOf, lineOf, stepOf, type Draft } from './draft';
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
	},
	{
		block: 'staff',
		name: 'Staff',
		dimensions: [{ code: 'open_post', name: 'Open post', members: [{ code: 'yes', name: 'Yes', depth: 0 }] }],
		lines: [
			{ code: 'start', name: 'Start', format: 'number', column: 'date' },
			{ code: 'annual', name: 'Annual pay', format: 'money', column: 'number' },
			{ code: 'raise', name: 'Raise', format: 'percent' },
			{
				code: 'leased',
				name: 'Leased',
				format: 'number',
				column: 'choice',
				choices: [
					{ value: true, name: 'Yes' },
					{ value: false, name: 'No' }
				]
			}
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
	it('moves and sets what stands in columns of a schedule in their own words', () => {
		const of = (line: string) => lineOf(adjustables, { block: 'staff', line });
		const words = (line: string, more: object) =>
			operationWords({ ...scope, ...more } as AdjustmentStepDefinition, calendar, of(line));
		expect(words('start', { operation: 'shift', periods: -1 })).toBe('1 month earlier');
		expect(words('start', { operation: 'add', value: 14 })).toBe('14 days later');
		expect(words('start', { operation: 'set', value: '2027-03-31' })).toBe('= 31 Mar 2027');
		expect(words('leased', { operation: 'set', value: false })).toBe('= no');
		expect(words('raise', { operation: 'add', value: 0.03 })).toBe('+3.00 %');
		const step = { ...scope, operation: 'shift', periods: 1, where: { open_post: 'yes' } } as const;
		expect(scopeWords({ ...step, lines: [{ block: 'staff', line: 'start' }] }, adjustables, calendar)).toBe(
			'Staff: Start · Open post: yes'
		);
	});
});

describe('a step of an adjustment in a form', () => {
	const draft = (more: Partial<Draft>): Draft => ({
		block: 'staff',
		line: 'annual',
		kind: 'percent',
		amount: '3',
		where: {},
		from: '',
		to: '',
		...more
	});
	const read = (more: Partial<Draft>) => {
		const own = draft(more);
		return stepOf(own, lineOf(adjustables, own), calendar, calendar);
	};
	it('offers what can be done to what stands there', () => {
		const kinds = (block: string, line: string) =>
			kindsOf(lineOf(adjustables, { block, line }), calendar).map((k) => k.value);
		expect(kinds('sales', 'price')).toEqual(['percent', 'add', 'multiply', 'set', 'shift']);
		expect(kinds('staff', 'annual')).toEqual(['percent', 'add', 'multiply', 'set']);
		expect(kinds('staff', 'start')).toEqual(['shift', 'add', 'set']);
		expect(kinds('staff', 'leased')).toEqual(['set']);
	});
	it('reads amounts, days, dates and choices, and says what is wrong with them', () => {
		expect(read({})).toMatchObject({ operation: 'multiply', value: 1.03 });
		// A percentage is a share where amounts are shares; what is the same in all months has no months.
		expect(read({ line: 'raise', kind: 'set', amount: '3 %', from: '2027-07' })).toMatchObject({
			value: 0.03,
			from: '2027-07'
		});
		expect(read({ from: '2027-07' })).not.toHaveProperty('from');
		expect(read({ line: 'start', kind: 'shift', amount: '−2' })).toMatchObject({ periods: -2 });
		expect(read({ line: 'start', kind: 'add', amount: '1.5' })).toBe('Days are a whole number here.');
		expect(read({ line: 'start', kind: 'set', amount: '1.4.2027' })).toMatchObject({ value: '2027-04-01' });
		expect(read({ line: 'start', kind: 'set', amount: '31.02.2027' })).toMatch(/is no date/);
		expect(read({ line: 'leased', kind: 'set', amount: 'false' })).toMatchObject({ value: false });
		expect(read({ line: 'leased', kind: 'set', amount: '' })).toBe('Choose what it is set to.');
		expect(read({ amount: 'much' })).toBe('“much” is no number.');
		expect(read({ block: 'sales', line: 'units', from: '2027-07', to: '2027-04' })).toMatch(
			/before the first/
		);
	});
	it.each<Partial<Draft>>([
		{},
		{ kind: 'add', amount: '-12.5' },
		{ line: 'raise', kind: 'add', amount: '3 %' },
		{ line: 'start', kind: 'set', amount: '15 Feb 2027' },
		{ line: 'start', kind: 'shift', amount: '2', where: { open_post: 'yes' } },
		{ line: 'leased', kind: 'set', amount: 'true' }
	])('is shown again as it was typed: %o', (more) => {
		const step = read(more);
		expect(typeof step).toBe('object');
		expect(draftsOf(step as AdjustmentStepDefinition, adjustables)).toEqual([draft(more)]);
	});
});
