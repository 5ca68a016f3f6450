/** What schedules post to balances: what stands, what moves, and the other side of each amount. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { account as flow, inTwoCompanies, yearFrom } from '../../../../../tests/support/budget';
import { monthCalendar } from '../../calendar/calendar';
import type { Account } from '../../company/schema';
import { naturalFromDebit } from '../../company/sign';
import { ACCOUNTS_BLOCK } from '../../engine/spec';
import { newMatrix, setCell } from '../../engine/values';
import { trace } from '../../explain/trace';
import { translated } from '../../currency/translate';
import { calculateScenario } from '../../scenario/assemble';
import type { ScenarioData } from '../../scenario/data';
import { scheduleFaults } from './check-definition';
import { scheduleRowFaults } from './check-rows';
import { ScheduleDefinition, type SchedulePosting, type ScheduleRow } from './schema';
import { SCHEDULE_TEMPLATES } from './templates';

const calendar = monthCalendar(4);
const at = (key: string) => calendar.parse(key)!;
const balance = (code: string, type: Account['type']): Account => ({ ...flow(code, type), rollup: 'last' });
const ACCOUNTS = [
	flow('charge', 'expense'),
	flow('rent', 'expense'),
	flow('gain', 'revenue'),
	balance('prepaid', 'asset'),
	balance('plant', 'asset'),
	balance('worn', 'asset'),
	balance('cash', 'asset'),
	balance('accrued', 'liability'),
	balance('capital', 'equity'),
	{ ...balance('difference', 'equity'), translation: true as const },
	{ ...flow('heads', 'statistical'), format: 'number' as const }
];
const structure = inTwoCompanies(calendar, ACCOUNTS, { hq: 'ltd', yard: 'ltd', turku: 'oy' }, [
	{
		code: 'kind',
		name: 'Asset kind',
		members: [
			['things', null, { charged: 'charge', held: 'plant' }],
			['lifts', 'things', { life: '24' }],
			['boats', 'things', { life: '48', charged: 'rent' }],
			['land', null, { held: 'all of it' }]
		].map(([code, parent, attributes]) => ({
			code: code as string,
			name: code as string,
			parent: parent as string | null,
			retired: false,
			attributes: attributes as Record<string, string>
		}))
	}
]);
const OPEN = at('2027-04');
const row = (code: string) => structure.departmentRow.get(code)!;

const template = (code: string, postings: SchedulePosting[]): ScheduleDefinition =>
	ScheduleDefinition.parse({
		...SCHEDULE_TEMPLATES.find((t) => t.code === code)!.form,
		code,
		name: code,
		postings
	});
const CONTRACTS = template('contracts', [
	{ line: 'cost', account: { column: 'account' }, other: { code: 'cash' } },
	{ line: 'prepaid', account: { code: 'prepaid' }, other: { code: 'cash' } },
	{ line: 'accrued', account: { code: 'accrued' }, other: { code: 'cash' } }
]);
const ASSETS = template('assets', [
	{ line: 'depreciation', account: { code: 'charge' }, other: { code: 'worn' } },
	{ line: 'additions', account: { code: 'plant' }, other: { code: 'cash' } },
	{ line: 'disposals', account: { code: 'plant' }, lowers: true, other: { code: 'gain' } },
	{ line: 'released', account: { code: 'worn' }, other: { code: 'gain' } },
	{ line: 'received', account: { code: 'gain' }, other: { code: 'cash' } }
]);
const contract = (id: string, values: ScheduleRow['values']): ScheduleRow => ({
	id,
	values: {
		what: id,
		department: 'hq',
		account: 'rent',
		amount: 12_000,
		start: '2027-04-01',
		end: '2028-03-31',
		paid_how: 'quarterly',
		due: 'in advance',
		...values
	}
});
const asset = (id: string, values: ScheduleRow['values']): ScheduleRow => ({
	id,
	values: {
		what: id,
		department: 'yard',
		cost: 12_000,
		life: 48,
		in_service: '2026-01-01',
		method: 'straight-line',
		begins: 'same-month',
		last_month: 'charged',
		...values
	}
});

/** What the ledger held at the end of the month before the plan opens, by account and department. */
function held(amounts: Record<string, Record<string, number>>): ScenarioData['history'] {
	const first = OPEN - 12;
	const accounts = new Map(
		Object.entries(amounts).map(([code, by]) => {
			const matrix = newMatrix(structure.departmentRows.length, 12);
			matrix.marks = new Uint8Array(matrix.values.length).fill(1);
			for (const [department, amount] of Object.entries(by)) setCell(matrix, row(department), 11, amount);
			return [code, matrix] as const;
		})
	);
	return { first, accounts };
}
const planOf = (
	schedules: [ScheduleDefinition, ScheduleRow[]][],
	ledger: Record<string, Record<string, number>> = {},
	more: Partial<ScenarioData> = {}
) =>
	calculateScenario(
		structure,
		yearFrom(OPEN, {
			schedules: schedules.map(([definition, rows]) => ({ definition, rows })),
			history: held(ledger),
			...more
		})
	);
type Made = ReturnType<typeof planOf>;
const months = (plan: Made, account: string, department: string, n = 3) =>
	Array.from({ length: n }, (_, i) =>
		plan.calculation.cell(ACCOUNTS_BLOCK, account, row(department), OPEN + i)
	);
const partsOf = (plan: Made, account: string, department: string, month: string) => {
	const from = at(month);
	const [made] = trace(plan, { kind: 'account', account, department, from, to: from }).explanations;
	return made.kind === 'posted' ? made.parts : [];
};

describe('a balance to which a schedule posts', () => {
	it('is what is prepaid, and what is owed, at the end of each month', () => {
		const plan = planOf(
			[[CONTRACTS, [contract('ahead', {}), contract('behind', { department: 'yard', due: 'in arrears' })]]],
			{ prepaid: { hq: 700 }, cash: { hq: 50_000 } }
		);
		expect(months(plan, 'prepaid', 'hq')).toEqual([2000, 1000, 0]);
		expect(months(plan, 'accrued', 'yard')).toEqual([1000, 2000, 0]);
		// What is paid leaves cash: 3,000 in April, and in June for what was in arrears.
		expect(months(plan, 'cash', 'hq')).toEqual([47_000, 47_000, 47_000]);
		expect(months(plan, 'cash', 'yard')).toEqual([0, 0, -3000]);
	});

	it('goes on from what the ledger holds where amounts flow, and ties to the register', () => {
		const plan = planOf(
			[
				[
					ASSETS,
					[
						asset('old', {}),
						asset('sold', { sold: '2027-06-30', proceeds: 8000 }),
						asset('new', { cost: 9000, life: 24, in_service: '2027-05-10' })
					]
				]
			],
			{ plant: { hq: 24_000 }, worn: { hq: -7500 }, cash: { hq: 1000 } }
		);
		// The ledger holds it at another department, where it stays.
		expect(months(plan, 'plant', 'hq')).toEqual([24_000, 24_000, 24_000]);
		expect(months(plan, 'plant', 'yard')).toEqual([0, 9000, -3000]);
		expect(months(plan, 'charge', 'yard', 4)).toEqual([500, 875, 875, 625]);
		expect(months(plan, 'worn', 'yard')).toEqual([-500, -1375, 2250]);
		expect(months(plan, 'gain', 'yard')).toEqual([0, 0, 500]);
		expect(months(plan, 'cash', 'yard')).toEqual([0, -9000, -1000]);
		for (let t = OPEN; t < OPEN + 12; t++) {
			const sum = (account: string) =>
				['hq', 'yard'].reduce(
					(s, d) => s + (plan.calculation.cell(ACCOUNTS_BLOCK, account, row(d), t) as number),
					0
				);
			const line = (code: string) =>
				[0, 1, 2].reduce((s, r) => s + (plan.calculation.cell('assets', code, r, t) as number), 0);
			expect(sum('plant')).toBeCloseTo(line('cost_held'), 6);
			expect(-sum('worn')).toBeCloseTo(line('accumulated'), 6);
		}
	});

	it('stays as it was, and blank, where nothing is posted to it', () => {
		const plan = planOf([[CONTRACTS, [contract('c', {})]]], { plant: { hq: 5 }, cash: { turku: 7 } });
		expect(months(plan, 'plant', 'hq')).toEqual([null, null, null]);
		expect(months(plan, 'prepaid', 'yard')).toEqual([null, null, null]);
		// Something moves it elsewhere, so what the ledger holds here is still there.
		expect(months(plan, 'cash', 'turku')).toEqual([7, 7, 7]);
	});

	it('takes what flows beside what stands on it', () => {
		const both = template('contracts', [
			{ line: 'prepaid', account: { code: 'prepaid' } },
			{ line: 'paid', account: { code: 'prepaid' }, lowers: true }
		]);
		const plan = planOf([[both, [contract('c', {})]]], { prepaid: { hq: 700 } });
		expect(months(plan, 'prepaid', 'hq', 4)).toEqual([-1000, -2000, -3000, -4000]);
		expect(
			partsOf(plan, 'prepaid', 'hq', '2027-05').map(({ name, value, sign }) => [name, value, sign])
		).toEqual([
			['Moved by the end of Apr 27', -3000, 1],
			['c · hq, Prepaid', 1000, 1],
			['c · hq, Paid', 0, -1]
		]);
	});

	it('opens into what it goes on from and the rows that move it', () => {
		const plan = planOf([[CONTRACTS, [contract('c', {})]]], { cash: { hq: 50_000 } });
		const parts = partsOf(plan, 'cash', 'hq', '2027-05');
		expect(parts.map(({ name, value, sign }) => [name, value, sign])).toEqual([
			['At the end of Apr 27', 47_000, 1],
			['c · hq, Cost', 1000, -1],
			['c · hq, change of Prepaid', -1000, -1],
			['c · hq, change of Accrued', 0, 1]
		]);
		expect(parts[0].ref).toMatchObject({ kind: 'account', account: 'cash', from: at('2027-04') });
		expect(parts.reduce((s, p) => s + p.sign * (p.value as number), 0)).toBe(47_000);
	});

	it('brings what stands to the currency of its department at closing rates, what flows at average ones', () => {
		const rates = ['average', 'closing'].map((kind) => [
			kind,
			{ first: OPEN - 12, values: new Float64Array(24).fill(kind === 'average' ? 0.8 : 0.5) }
		]);
		const fixed = ScheduleDefinition.parse({
			code: 'deposits',
			name: 'Deposits',
			named: 'what',
			columns: [
				{ code: 'what', label: 'What', kind: 'text' },
				{ code: 'home', label: 'Department', kind: 'department', required: true }
			],
			lines: [
				{ code: 'held', label: 'Held', unit: 'GBP', time: 'last', formula: '1000' },
				{ code: 'paid', label: 'Paid', unit: 'GBP', formula: '100' }
			],
			postings: [
				{ line: 'held', account: { code: 'prepaid' } },
				{ line: 'paid', account: { code: 'plant' }, other: { code: 'worn' } }
			]
		});
		const plan = planOf(
			[[fixed, ['turku', 'hq'].map((home) => ({ id: home, values: { what: home, home } }))]],
			{},
			{
				rates: [{ currency: 'EUR', ...Object.fromEntries(rates) }]
			} as Partial<ScenarioData>
		);
		expect(months(plan, 'prepaid', 'turku', 1)).toEqual([2000]);
		expect(months(plan, 'plant', 'turku', 2)).toEqual([125, 250]);
		// The other side comes at the same rate; what needs none is taken as it is.
		expect(months(plan, 'worn', 'turku', 2)).toEqual([-125, -250]);
		expect(months(plan, 'worn', 'hq', 2)).toEqual([-100, -200]);
		// Without anybody's equity there is no balance sheet that could differ.
		const own = (code: string) => plan.calculation.matrix(ACCOUNTS_BLOCK, code);
		const difference = translated(structure.accounts.get('difference')!, {
			structure,
			exchange: plan.exchange,
			axis: plan.calculation.axis,
			ledgerFirst: OPEN - 12,
			own
		});
		expect([...difference.values].every((v) => v === 0)).toBe(true);
	});
});

describe('what a member that a row names says', () => {
	const assets = SCHEDULE_TEMPLATES.find((t) => t.code === 'assets')!.form;
	const by = ScheduleDefinition.parse({
		...assets,
		code: 'assets',
		name: 'Assets',
		columns: [
			...assets.columns.map((c) => (c.code === 'life' ? { ...c, required: false } : c)),
			{ code: 'kind_of', label: 'Kind', kind: 'member', dimension: 'kind', required: true },
			{
				code: 'life_used',
				label: 'Life used',
				kind: 'number',
				unit: 'months',
				formula: 'coalesce(life, kind.life)'
			}
		],
		lines: assets.lines.map((l) => ({ ...l, formula: l.formula!.replace(/\blife\b/g, 'life_used') })),
		postings: [
			{ line: 'depreciation', account: { attribute: 'kind.charged' } },
			{ line: 'additions', account: { attribute: 'kind.held' } }
		]
	});
	const rows = [
		asset('lift', { kind_of: 'lifts', life: '', in_service: '2027-04-01' }),
		asset('boat', { kind_of: 'boats', life: '', in_service: '2027-05-01' }),
		asset('old lift', { kind_of: 'lifts', life: 40, in_service: '2026-04-01' })
	].map(({ id, values: { life, ...values } }) => ({
		id,
		values: life === '' ? values : { ...values, life }
	}));

	it('is read by formulas, and leads to accounts', () => {
		const plan = planOf([[by, rows]]);
		expect(months(plan, 'charge', 'yard', 2)).toEqual([500 + 300, 500 + 300]);
		expect(months(plan, 'rent', 'yard', 2)).toEqual([0, 250]);
		expect(months(plan, 'plant', 'yard', 2)).toEqual([12_000, 24_000]);
	});
	it('has to be there', () => {
		const [lift] = rows;
		const land = { ...lift, values: { ...lift.values, kind_of: 'land' } };
		expect(
			scheduleRowFaults(by, [land], structure, new Map()).map((f) => `${f.column}: ${f.message}`)
		).toEqual([
			'kind_of: “land” has no “charged”, to which it is posted',
			'kind_of: the “held” of “land”: “all of it” is no planning account.'
		]);
		const gone = { ...lift, values: { ...lift.values, kind_of: 'gone' } };
		expect(scheduleRowFaults(by, [gone], structure, new Map()).map((f) => f.column)).toContain('kind_of');
		const faults = (attribute: string, required = true) =>
			scheduleFaults(
				{
					...by,
					columns: by.columns.map((c) => (c.code === 'kind_of' ? { ...c, required } : c)),
					postings: [{ line: 'additions', account: { attribute } }]
				},
				[],
				{
					accounts: structure.accounts,
					departments: structure.departments,
					dimensions: [structure.dimensions.get('kind')!.dimension],
					money: structure.money,
					scenarios: []
				}
			).map((f) => `${f.column}: ${f.message}`);
		expect(faults('kind.held')).toEqual([]);
		expect(faults('kind.colour')).toEqual([
			'postings.1.account: members of “kind” have no attribute “colour”'
		]);
		const unnamed = (dimension: string) =>
			`postings.1.account: there is no column of members of “${dimension}” that each row has to have`;
		expect(faults('kind.held', false)).toEqual([unnamed('kind')]);
		expect(faults('region.held')).toEqual([unnamed('region')]);
	});
});

describe('both sides', () => {
	it('are equal in every month, whatever rows there are', () => {
		const day = fc
			.date({ min: new Date('2025-01-01'), max: new Date('2028-12-31'), noInvalidDate: true })
			.map((d) => d.toISOString().slice(0, 10));
		const department = fc.constantFrom('hq', 'yard');
		const deals = fc.record({
			department,
			amount: fc.integer({ min: -50_000, max: 500_000 }),
			days: fc.tuple(day, day),
			paid_how: fc.constantFrom('once', 'monthly', 'quarterly', 'yearly'),
			due: fc.constantFrom('in advance', 'in arrears'),
			renews: fc.boolean(),
			account: fc.constantFrom('rent', 'charge', 'plant')
		});
		const things = fc.record({
			department,
			cost: fc.integer({ min: 0, max: 90_000 }),
			life: fc.integer({ min: 1, max: 90 }),
			days: fc.tuple(day, day),
			proceeds: fc.integer({ min: 0, max: 9000 }),
			gone: fc.boolean(),
			begins: fc.constantFrom('same-month', 'next-month', 'half-month')
		});
		fc.assert(
			fc.property(fc.array(deals, { maxLength: 4 }), fc.array(things, { maxLength: 4 }), (c, a) => {
				const contracts = c.map(({ days, ...values }, i) => {
					const [start, end] = [...days].sort();
					return contract(`c${i}`, { ...values, start, end });
				});
				const assets = a.map(({ days, gone, ...values }, i) => {
					const [in_service, sold] = [...days].sort();
					return asset(`a${i}`, { ...values, in_service, ...(gone ? { sold } : {}) });
				});
				const plan = planOf([
					[CONTRACTS, contracts],
					[ASSETS, assets]
				]);
				const leaves = ACCOUNTS.filter((x) => !x.translation && x.type !== 'statistical');
				for (const { code } of structure.departmentRows)
					for (let t = OPEN; t < OPEN + 12; t++) {
						// Debits less credits of the month: flows, and what balances have changed by.
						let sum = 0;
						for (const { code: own, type, rollup } of leaves) {
							const value = (p: number) =>
								Number(plan.calculation.cell(ACCOUNTS_BLOCK, own, row(code), p) ?? 0);
							// What stood before the plan opens is not in a ledger here, but in the schedule.
							const stood = (line: string, p: number) =>
								contracts.reduce(
									(s, r, i) =>
										r.values.department === code
											? s + Number(plan.calculation.cell('contracts', line, i, p) ?? 0)
											: s,
									0
								);
							const before =
								t > OPEN ? value(t - 1) : own === 'prepaid' || own === 'accrued' ? stood(own, t - 1) : 0;
							sum += naturalFromDebit(type) * (value(t) - (rollup === 'last' ? before : 0));
						}
						expect(Math.abs(sum)).toBeLessThan(0.001);
					}
			}),
			{ numRuns: 60 }
		);
	});
	it('are two accounts that hold money, and fixed or asked of each row', () => {
		const faults = (posting: Partial<SchedulePosting>) =>
			scheduleFaults(
				{ ...ASSETS, postings: [{ line: 'additions', account: { code: 'plant' }, ...posting }] },
				[],
				{
					accounts: structure.accounts,
					departments: structure.departments,
					dimensions: [],
					money: structure.money,
					scenarios: []
				}
			).map((f) => `${f.column}: ${f.message}`);
		expect(faults({ other: { code: 'cash' } })).toEqual([]);
		expect(faults({ other: { code: 'plant' } })).toEqual([
			'postings.1.other: the other side is another account'
		]);
		expect(faults({ other: { code: 'nowhere' } })).toEqual([
			'postings.1.other: “nowhere” is no planning account.'
		]);
		expect(faults({ other: { code: 'heads' } })).toEqual([
			'postings.1.other: “heads” holds no money, and has no other side'
		]);
		expect(faults({ other: { column: 'class' } })).toEqual([
			'postings.1.other: “class” is no column of accounts that each row has to have'
		]);
	});
	it('are not one account that a row names', () => {
		expect(
			scheduleRowFaults(CONTRACTS, [contract('c', { account: 'cash' })], structure, new Map()).map(
				(f) => `${f.column}: ${f.message}`
			)
		).toEqual(['account: an amount is posted to this account and, as its other side, to the same one']);
		expect(() => planOf([[CONTRACTS, [contract('c', { account: 'cash' })]]])).toThrow(/“cash” on both sides/);
	});
});
