/** Which of a line's formulas applies in a cell, and where it is typed. */
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../../calendar/calendar';
import { ModelDefinition } from './schema';
import { isTypedCell, scopeAt, takesTyping } from './scope';
import { buildStructure } from '../../company/structure';

const calendar = monthCalendar(4);
const at = (month: string) => calendar.parse(month)!;
const structure = buildStructure(
	calendar,
	[],
	[{ code: 'a', name: 'A', parent: null, entity: 'e' }],
	[
		{
			code: 'product',
			name: 'Product',
			members: [
				{ code: 'boats', name: 'Boats', parent: null, retired: false, attributes: {} },
				{ code: 'kayak', name: 'Kayak', parent: 'boats', retired: false, attributes: {} },
				{ code: 'rope', name: 'Rope', parent: null, retired: false, attributes: {} }
			]
		}
	],
	'GBP'
);
const definition = ModelDefinition.parse({
	code: 'm',
	name: 'M',
	dimensions: ['product'],
	lines: [
		{ code: 'typed', label: 'Typed' },
		{ code: 'fixed', label: 'Fixed', formula: '1' },
		{
			code: 'mixed',
			label: 'Mixed',
			formula: '9',
			scoped: [
				{ where: { product: 'boats' }, from: '2026-06', to: '2026-07' },
				{ where: { product: 'kayak' }, formula: '2' },
				{ where: {}, to: '2026-04', formula: '3' }
			]
		},
		{ code: 'partly', label: 'Partly', scoped: [{ where: {}, from: '2026-10', formula: '5' }] }
	]
});
const line = (code: string) => definition.lines.find((l) => l.code === code)!;
const typed = (code: string, product: string, month: string) =>
	isTypedCell(line(code), definition, [product], at(month), structure);

describe('scoped formulas', () => {
	it('apply in their order, by members with all under them and by months', () => {
		const formula = (product: string, month: string) => {
			const scope = scopeAt(line('mixed'), at(month), calendar, (where) =>
				Object.values(where).every((m) => structure.dimensions.get('product')!.members.within(product, m))
			);
			return scope === null ? 'own' : (scope.formula ?? 'typed');
		};
		expect(formula('kayak', '2026-06')).toBe('typed');
		expect(formula('kayak', '2026-07')).toBe('typed');
		expect(formula('kayak', '2026-08')).toBe('2');
		expect(formula('kayak', '2026-04')).toBe('2');
		expect(formula('rope', '2026-04')).toBe('3');
		expect(formula('rope', '2026-05')).toBe('own');
		expect(formula('boats', '2026-06')).toBe('typed');
	});
	it('decide which cells are typed', () => {
		expect([typed('typed', 'rope', '2026-05'), typed('fixed', 'rope', '2026-05')]).toEqual([true, false]);
		expect([typed('mixed', 'kayak', '2026-06'), typed('mixed', 'rope', '2026-06')]).toEqual([true, false]);
		expect([typed('partly', 'rope', '2026-09'), typed('partly', 'rope', '2026-10')]).toEqual([true, false]);
	});
	it('say whether a line holds typed figures at all', () => {
		expect(definition.lines.map((l) => [l.code, takesTyping(l)])).toEqual([
			['typed', true],
			['fixed', false],
			['mixed', true],
			['partly', true]
		]);
	});
});
