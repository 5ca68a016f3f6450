/** Commission on an account that a row names: in the row's own department and its currency. */
import { describe, expect, it } from 'vitest';
import { account, inTwoCompanies, yearFrom } from '../../../../../tests/support/budget';
import { monthCalendar } from '../../calendar/calendar';
import { ACCOUNTS_BLOCK } from '../../engine/spec';
import { trace } from '../../explain/trace';
import { checkFormula } from '../../formula/check';
import { completionsAt } from '../../formula/complete';
import { namesAmong } from '../names';
import { calculateScenario } from '../../scenario/assemble';
import { scheduleRowFaults } from './check-rows';
import { scheduleNames } from './names';
import { SCHEDULE_TEMPLATES } from './templates';
import { ScheduleDefinition, type ScheduleRow } from './schema';

const calendar = monthCalendar(4);
const OPEN = calendar.parse('2027-04')!;
const structure = inTwoCompanies(
	calendar,
	[
		account('sales', 'revenue'),
		account('boats', 'revenue', 'sales'),
		account('kayaks', 'revenue', 'sales'),
		account('commission', 'expense')
	],
	{ shop: 'ltd', turku: 'oy' }
);
const definition = ScheduleDefinition.parse({
	code: 'sellers',
	name: 'Sellers',
	named: 'name',
	divided: true,
	columns: [
		{ code: 'name', label: 'Name', kind: 'text' },
		{ code: 'home', label: 'Department', kind: 'department', required: true },
		{ code: 'rate', label: 'Commission', kind: 'percent' },
		{ code: 'of', label: 'Commission on', kind: 'account' }
	],
	lines: [
		{ code: 'earned', label: 'Commission', formula: 'rate * account(of)' },
		{ code: 'later', label: 'A month later', formula: 'rate * lag(account(of), 1)' }
	],
	postings: [{ line: 'earned', account: { code: 'commission' } }]
});
const seller = (id: string, values: ScheduleRow['values'], shares?: string[]): ScheduleRow => ({
	id,
	values: { name: id, home: 'shop', rate: 0.02, ...values },
	...(shares ? { shares } : {})
});
const ROWS = [
	seller('p', { of: 'boats' }),
	seller('q', { of: 'kayaks', rate: 0.05 }),
	seller('r', { of: 'boats', home: 'turku' }),
	seller('s', {}),
	seller('t', { of: 'boats' }, ['turku'])
];
const typed = (line: string, row: string, ...values: number[]) => ({
	block: ACCOUNTS_BLOCK,
	line,
	row,
	first: OPEN,
	values: Float64Array.from(values)
});
const plan = (rows = ROWS, own = definition) =>
	calculateScenario(
		structure,
		yearFrom(OPEN, {
			schedules: [{ definition: own, rows }],
			series: [
				typed('boats', 'shop', 1000, 2000),
				typed('kayaks', 'shop', 300, 400),
				typed('boats', 'turku', 50, 60)
			]
		})
	);
const cells = ({ calculation }: ReturnType<typeof plan>, line: string, row: number) =>
	[0, 1].map((t) => calculation.cell('sellers', line, row, OPEN + t));

describe('an account that a row names', () => {
	it('is that of the row’s own department, in its currency, whatever it is divided over', () => {
		const made = plan();
		expect(ROWS.map((_, r) => cells(made, 'earned', r))).toEqual([
			[20, 40],
			[15, 20],
			[1, 1.2],
			[0, 0],
			[20, 40]
		]);
		expect(cells(made, 'later', 0)).toEqual([0, 20]);
	});
	it('is that of all departments together where rows have none', () => {
		const own = ScheduleDefinition.parse({
			...definition,
			divided: false,
			columns: definition.columns.filter((c) => c.code !== 'home'),
			postings: []
		});
		const [row] = ROWS;
		const made = calculateScenario(
			structure,
			yearFrom(OPEN, {
				schedules: [{ definition: own, rows: [{ ...row, values: { name: 'p', rate: 0.1, of: 'kayaks' } }] }],
				series: [typed('kayaks', 'shop', 300, 400)]
			})
		);
		expect(cells(made, 'earned', 0)).toEqual([30, 40]);
	});
	it('gives people a commission on it, in its month or a stated time after', () => {
		const { form } = SCHEDULE_TEMPLATES.find((t) => t.code === 'people')!;
		const own = ScheduleDefinition.parse({ ...form, code: 'sellers', name: 'Sellers' });
		const seller = (id: string, after?: number) => ({
			id,
			values: {
				name: id,
				department: 'shop',
				start: '2020-01-01',
				commission_rate: 0.02,
				commission_on: 'boats',
				...(after === undefined ? {} : { commission_after: after })
			}
		});
		const made = plan([seller('p'), seller('q', 0), seller('r', 1), seller('s', 3)], own);
		const paid = (row: number) =>
			[0, 1, 2, 3, 4].map((t) => made.calculation.cell('sellers', 'commission', row, OPEN + t));
		expect([0, 1, 2, 3].map(paid)).toEqual([
			[20, 40, 0, 0, 0],
			[20, 40, 0, 0, 0],
			[0, 20, 40, 0, 0],
			[0, 0, 0, 20, 40]
		]);
	});
	it('opens into the account', () => {
		const made = plan();
		const [explained] = trace(made, {
			kind: 'line',
			model: 'sellers',
			line: 'later',
			row: 'r',
			period: OPEN + 1
		}).explanations;
		expect(explained).toMatchObject({ kind: 'formula', formula: 'rate * lag(account(of), 1)' });
		expect(explained.kind === 'formula' && explained.operands.map((o) => [o.name, o.value])).toEqual([
			['Commission', 0.02],
			['boats', 50]
		]);
		expect(explained.kind === 'formula' && explained.operands[1].ref).toEqual({
			kind: 'account',
			account: 'boats',
			department: 'turku',
			from: OPEN,
			to: OPEN
		});
	});
	it('is one that takes figures, and a circle is refused', () => {
		const faults = (row: ScheduleRow) =>
			scheduleRowFaults(definition, [row], structure, new Map()).map((f) => `${f.column}: ${f.message}`);
		expect(faults(seller('p', { of: 'boats' }))).toEqual([]);
		expect(faults(seller('p', { of: 'sales' }))).toEqual(['of: “sales” is a total of the accounts under it']);
		expect(() => plan([seller('p', { of: 'commission' })])).toThrow(/need each other's result/);
	});
	it('is offered where an account is wanted, and no other column is', () => {
		const names = namesAmong(scheduleNames(definition, structure.money), [], {
			accounts: structure.accounts,
			dimensions: [],
			money: structure.money,
			scenarios: []
		});
		expect(
			completionsAt('account(', 8, names)
				?.options.slice(0, 2)
				.map((o) => o.insert)
		).toEqual(['of', '"boats"']);
		expect(checkFormula('account(of)', names).errors).toEqual([]);
		expect(checkFormula('account(rate)', names).errors).toMatchObject([
			{ message: 'account takes a code in quotation marks: account("4000")' }
		]);
	});
});
