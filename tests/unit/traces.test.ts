/** Every figure opens into parts that add up to it, down to what was typed or booked. */
import type { Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { AccountRef, Explanation, FigureRef, Part } from '../../src/lib/core/explain/trace';
import { openFigure } from '../../src/lib/server/reports/traces';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { DEMO, loaded, userOf } from '../support/company';

const SEP26 = 2026 * 12 + 8;
const FORECAST = 'fy27-forecast-6-6';
let db: Knex;
let maren: User;
beforeAll(async () => {
	db = await loaded(DEMO);
	maren = await userOf(db, 'maren');
});
afterAll(() => db.destroy());

const ref = (account: string, department: string, from: number, to = from): AccountRef => ({
	kind: 'account',
	account,
	department,
	from,
	to
});
const open = (r: FigureRef, scenario = FORECAST, user = maren) => openFigure({ db, user }, scenario, r);
const explained = <K extends Explanation['kind']>(list: Explanation[], kind: K) =>
	list.find((e) => e.kind === kind) as (Explanation & { kind: K }) | undefined;
const sum = (parts: Part[]) => parts.reduce((s, p) => s + p.sign * ((p.value as number | null) ?? 0), 0);

describe('a total', () => {
	it.each([
		['profit', 'kelpwick', SEP26, SEP26],
		['gross', 'sales', SEP26 - 5, SEP26],
		['running', 'kelpwick', SEP26 - 5, SEP26 + 6],
		['boats', 'baltic', SEP26 + 1, SEP26 + 3]
	] as const)(
		'%s of %s is its accounts, its departments, its months',
		async (account, department, from, to) => {
			const { trace } = await open(ref(account, department, from, to));
			const value = trace.value as number;
			expect(sum(explained(trace.explanations, 'accounts')!.parts)).toBeCloseTo(value, 4);
			expect(sum(explained(trace.explanations, 'departments')!.parts)).toBeCloseTo(value, 4);
			if (to > from) expect(sum(explained(trace.explanations, 'periods')!.parts)).toBeCloseTo(value, 4);
		}
	);

	it('can be followed part by part down to a typed figure or a ledger entry, whichever way', async () => {
		let at: FigureRef = ref('profit', 'kelpwick', SEP26 - 2, SEP26 + 2);
		for (let depth = 0; depth < 20; depth++) {
			const { trace, ledger } = await open(at);
			const next = trace.explanations
				.flatMap((e) => ('parts' in e ? e.parts : []))
				.filter((p) => p.ref && p.value);
			const operands = trace.explanations
				.flatMap((e) => ('operands' in e ? e.operands : []))
				.filter((o) => o.ref && o.value);
			if (ledger || trace.explanations.some((e) => e.kind === 'typed' || e.kind === 'input')) return;
			// The largest part, every time.
			const candidates = [...next, ...operands].sort(
				(a, b) => Math.abs(b.value as number) - Math.abs(a.value as number)
			);
			expect(candidates.length, JSON.stringify(trace)).toBeGreaterThan(0);
			at = candidates[0].ref!;
		}
		throw new Error('It does not end.');
	});
});

describe('an actual', () => {
	it('is its ledger entries, to the cent', async () => {
		for (const [account, department] of [
			['4010', 'sales'],
			['5050', 'dealer-sales'],
			['6000', 'services'],
			['6300', 'services']
		]) {
			const { trace, ledger } = await open(ref(account, department, SEP26 - 5, SEP26));
			expect(ledger!.total).toBeCloseTo(trace.value as number, 4);
			expect(ledger!.count).toBe(ledger!.lines.length < 60 ? ledger!.lines.length : ledger!.count);
			expect(ledger!.lines.every((l) => l.amount !== 0)).toBe(true);
		}
	});
	it('in several currencies is listed in each, and has no sum but the translated one', async () => {
		const { trace, ledger } = await open(ref('4010', 'kelpwick', SEP26));
		expect(ledger!.total).toBeNull();
		expect(new Set(ledger!.lines.map((l) => l.currency))).toEqual(new Set(['GBP', 'EUR']));
		expect(sum(explained(trace.explanations, 'departments')!.parts)).toBeCloseTo(trace.value as number, 6);
		const own = await open({ ...ref('4010', 'baltic', SEP26), money: 'local' });
		expect(own.ledger!.total).toBeCloseTo(own.trace.value as number, 4);
	});
	it('in a span that runs into the plan shows entries of the closed months alone', async () => {
		const { ledger } = await open(ref('6340', 'finance-people', SEP26, SEP26 + 3));
		expect(ledger!.lines.every((l) => l.date.startsWith('2026-09'))).toBe(true);
	});
});

describe('a planned figure', () => {
	it('says its basis with the values put in', async () => {
		const { trace } = await open(ref('6340', 'finance-people', SEP26 + 1));
		const basis = explained(trace.explanations, 'basis')!;
		expect(basis.basis).toEqual({ kind: 'last-year', percent: 0.03 });
		expect(basis.operands).toHaveLength(1);
		expect((basis.operands[0].value as number) * 1.03).toBeCloseTo(trace.value as number, 8);
		expect(basis.operands[0].period).toBe(SEP26 - 11);
	});
	it('of a model is the rows that post to it', async () => {
		const { trace } = await open(ref('4010', 'baltic-sales', SEP26 + 1));
		const parts = explained(trace.explanations, 'posted')!.parts;
		// Prices are in pounds, the department plans in euro.
		for (const { value, exchanged } of parts) {
			expect(exchanged).toMatchObject({ from: 'GBP', rate: expect.closeTo(1 / 0.8646, 9) });
			expect(value).toBeCloseTo((exchanged!.amount as number) / 0.8646, 6);
		}
		expect(parts.length).toBe(8);
		expect(parts.every((p) => /Baltic$/.test(p.name))).toBe(true);
		expect(sum(parts)).toBeCloseTo(trace.value as number, 6);
		const row = await open(parts[0].ref!);
		expect(row.formulaLine).toBe('units * price');
		const formula = explained(row.trace.explanations, 'formula')!;
		expect(formula.operands.map((o) => o.name)).toEqual(['Units', 'Net price']);
		expect((formula.operands[0].value as number) * (formula.operands[1].value as number)).toBeCloseTo(
			row.trace.value as number,
			8
		);
		const price = await open(formula.operands[1].ref!);
		expect(explained(price.trace.explanations, 'formula')!.operands.map((o) => o.name)).toEqual([
			'List price',
			'Assumptions: Price index',
			'Discount'
		]);
		const list = await open(explained(price.trace.explanations, 'formula')!.operands[0].ref!);
		expect(list.trace.explanations).toEqual([{ kind: 'input' }]);
	});
	it('before the plan begins comes from the scenario it follows', async () => {
		const { trace, followedName } = await open(ref('6340', 'finance-people', SEP26 + 3), 'fy28-budget');
		expect(trace.explanations).toEqual([{ kind: 'followed', scenario: FORECAST }]);
		expect(followedName).toBe('FY27 Forecast 6+6');
		expect(trace.value).toBeCloseTo(
			(await open(ref('6340', 'finance-people', SEP26 + 3))).trace.value as number,
			8
		);
	});
	it('shows a contributor their figures, but not the inside of the driver model', async () => {
		const tom = await userOf(db, 'tom');
		const { trace } = await open(ref('4010', 'dealer-sales', SEP26 + 1), FORECAST, tom);
		expect(explained(trace.explanations, 'posted')!.parts.every((p) => p.ref === null)).toBe(true);
		await expect(
			open(
				{ kind: 'line', model: 'boat_sales', line: 'units', row: 'eider-10|dealer|lakes', period: SEP26 + 1 },
				FORECAST,
				tom
			)
		).rejects.toMatchObject({ status: 403 });
	});
});
