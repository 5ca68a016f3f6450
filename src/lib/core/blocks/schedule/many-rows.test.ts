/** Hundreds of rows over long lives: more than is worked on at once, and edits that follow to the same bits. */
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../../calendar/calendar';
import { fromIsoDate } from '../../calendar/dates';
import { buildStructure } from '../../company/structure';
import { calculateScenario } from '../../scenario/assemble';
import type { ScenarioData } from '../../scenario/data';
import { account, yearFrom } from '../../../../../tests/support/budget';
import { ScheduleDefinition, type ScheduleRow } from './schema';
import { SCHEDULE_TEMPLATES } from './templates';

const calendar = monthCalendar(1);
const first = calendar.parse('2027-01')!;
const structure = buildStructure(
	calendar,
	[account('fees', 'expense')],
	[
		{ code: 'all', name: 'All', parent: null, entity: 'e' },
		{ code: 'a', name: 'A', parent: 'all', entity: 'e' }
	],
	[],
	'GBP'
);
const data = (definition: ScheduleDefinition, rows: ScheduleRow[]): ScenarioData =>
	yearFrom(first, { schedules: [{ definition, rows }] });
const named = (code: string, more: object) => {
	const { form } = SCHEDULE_TEMPLATES.find((t) => t.code === code)!;
	return ScheduleDefinition.parse({ ...form, code, name: code, ...more });
};

const leases = (formula: string, format: 'money' | 'number') =>
	ScheduleDefinition.parse({
		code: 'leases',
		name: 'Leases',
		named: 'what',
		columns: [
			{ code: 'what', label: 'What', kind: 'text' },
			{ code: 'start', label: 'Start', kind: 'date' },
			{ code: 'end', label: 'End', kind: 'date' },
			{ code: 'fee', label: 'Fee', kind: 'money' }
		],
		lines: [{ code: 'all', label: 'All', format, formula }]
	});

describe('many rows', () => {
	it('sum over lives of decades, each its own', () => {
		const definition = leases('whole_life((fee + 1) * active(start, end))', 'money');
		const rows = Array.from({ length: 500 }, (_, i) => ({
			id: `r${i}`,
			values: { what: 'x', start: '2010-01-01', end: '2029-12-31', fee: i }
		}));
		const { calculation } = calculateScenario(structure, data(definition, rows));
		for (const r of [0, 1, 17, 250, 499])
			expect(calculation.cell('leases', 'all', r, first)).toBe(240 * (r + 1));
	});

	it('are summed over their own lives, however long others live', () => {
		// It counts every period of what is summed.
		const definition = leases('whole_life(active(start, end) + 1)', 'number');
		const values = { what: 'x', start: '2026-01-01', end: '2026-12-31' };
		const { calculation } = calculateScenario(
			structure,
			data(definition, [
				{ id: 'a', values },
				{ id: 'b', values }
			])
		);
		const all = () => [0, 1].map((r) => calculation.cell('leases', 'all', r, first));
		expect(all()).toEqual([36, 36]);
		calculation.setInput('leases', 'start', 1, 0, fromIsoDate('2025-01-01'));
		calculation.recalculate();
		expect(all()).toEqual([36, 60]);
		expect(calculation.calculate() && all()).toEqual([36, 60]);
	});

	it.each([
		[
			'assets',
			{
				cost: 9000,
				life: 24,
				in_service: '2026-05-01',
				method: 'straight-line',
				begins: 'same-month',
				last_month: 'charged'
			},
			['in_service', 'sold', 'cost', 'books_at'],
			['worn', 'book_value', 'depreciation']
		],
		[
			'contracts',
			{ account: 'fees', amount: 9600, start: '2025-03-16', end: '2026-03-15', renews: true },
			['start', 'amount'],
			['cost', 'paid', 'prepaid', 'accrued']
		]
	])('of %s follow an edit as if all were calculated anew', (code, values, columns, lines) => {
		const definition = named(code, {});
		const rows = Array.from({ length: 120 }, (_, i) => ({
			id: `r${i}`,
			values: {
				what: `x${i}`,
				department: 'a',
				...values,
				...(code === 'contracts' ? { paid_how: 'quarterly', due: 'in advance' } : {})
			} as ScheduleRow['values']
		}));
		const plan = calculateScenario(structure, data(definition, rows));
		const edits: [string, number | null][] = columns.flatMap((column): [string, number | null][] =>
			column === 'cost' || column === 'amount'
				? [[column, 12_000]]
				: [
						[column, fromIsoDate('2027-03-10')],
						// Longer ago than anything before: other periods are summed for all rows.
						[column, fromIsoDate('2001-02-01')],
						[column, null]
					]
		);
		for (const [i, [column, value]] of edits.entries()) {
			plan.calculation.setInput(code, column, 17 + i, 0, value);
			expect(plan.calculation.costOfChanges).toBeGreaterThan(0);
			plan.calculation.recalculate();
			expect(plan.calculation.costOfChanges).toBe(0);
			const anew = calculateScenario(structure, data(definition, rows));
			for (const [j, [c, v]] of edits.slice(0, i + 1).entries())
				anew.calculation.setInput(code, c, 17 + j, 0, v);
			anew.calculation.calculate();
			for (const line of lines)
				expect(plan.calculation.matrix(code, line).values, `${line} after ${column}`).toEqual(
					anew.calculation.matrix(code, line).values
				);
		}
	});
});
