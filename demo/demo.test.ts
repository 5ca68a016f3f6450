/** The demo company holds what a newcomer is promised to find. */
import { beforeAll, describe, expect, it } from 'vitest';
import { gapTo } from '../src/lib/core/analysis/targets';
import { readTargets } from '../src/lib/server/accounts/targets';
import { storeCompany, type CompanyData } from '../src/lib/server/company/subjects';
import { openDatabase } from '../src/lib/server/platform/db/connect';
import { userOf } from '../tests/support/company';
import type { Entry } from '../src/lib/server/company/subjects/entries';
import { kelpwick } from './generate';
import { ledger, OCT26 } from './ledger';
import { valueAt } from '../src/lib/core/inputs/series';

let data: CompanyData;
let october: Entry[];
beforeAll(async () => {
	({ data, october } = await kelpwick());
});
const isMoney = (e: Entry) => !e.ledgerAccount.startsWith('9');
const cents = (list: readonly Entry[]) => list.reduce((s, e) => s + Math.round(e.amount * 100), 0);

describe('Kelpwick Boatworks', () => {
	it('has the size that was promised', () => {
		const earnedAndSpent = [...data.entries, ...october].filter((e) => /^[4-79]/.test(e.ledgerAccount));
		expect(earnedAndSpent.length).toBeGreaterThan(18_000);
		expect(data.entries.length + october.length).toBeLessThan(29_000);
		const leaves = data.accounts.filter((a) => !data.accounts.some((b) => b.parent === a.code));
		expect(leaves.length).toBeGreaterThanOrEqual(90);
		expect(data.ledgerAccounts.length).toBeGreaterThanOrEqual(130);
		expect(data.ledgerAccounts.filter((l) => l.account === '1000')).toHaveLength(8);
		expect(data.dimensions.map((d) => d.code)).toEqual([
			...['product', 'channel', 'region', 'customer'],
			...['staff_group', 'tax_region', 'benefit_plan', 'asset_class']
		]);
		expect(data.dimensions.find((d) => d.code === 'customer')!.members).toHaveLength(12);
		expect(data.dimensions.find((d) => d.code === 'product')!.members.filter((m) => m.parent)).toHaveLength(
			16
		);
	});
	it('is the same at every start', () => {
		expect(JSON.stringify(ledger())).toBe(JSON.stringify(ledger()));
	});
	it('keeps double entry: every document balances, within one legal entity, on one day', () => {
		const entityOf = new Map(data.departments.map((d) => [d.code, d.entity]));
		const documents = new Map<string, Entry[]>();
		for (const { entries } of ledger())
			for (const e of entries) documents.set(e.document, [...(documents.get(e.document) ?? []), e]);
		expect(documents.size).toBeGreaterThan(4_000);
		for (const [number, entries] of documents) {
			expect(cents(entries.filter(isMoney)), number).toBe(0);
			expect(new Set(entries.map((e) => entityOf.get(e.department))).size, number).toBe(1);
			expect(new Set(entries.map((e) => e.date)).size, number).toBe(1);
		}
	});
	it('has a plausible balance sheet behind every month of both companies', () => {
		const abroad = new Set(data.departments.filter((d) => d.entity === 'oy').map((d) => d.code));
		const usual: Record<string, [number, number]> = {
			// Cash, receivables, stock, prepaid, fixed assets and their depreciation, in whole units.
			'1000': [10_000, 2_000_000],
			'1100': [30_000, 900_000],
			'1200': [1_000, 400_000],
			'1210': [10_000, 600_000],
			'1300': [0, 120_000],
			'1490': [-2_500_000, -20_000],
			// What is owed to suppliers, for pay, for tax and to members.
			'2000': [-1_200_000, -10_000],
			'2010': [-120_000, 0],
			'2020': [-120_000, -4_000],
			'2030': [-300_000, 0],
			'2040': [-180_000, 0],
			'2100': [-900_000, 0],
			'2110': [-250_000, 0]
		};
		for (const euro of [false, true]) {
			const balances = new Map<string, number>();
			for (const { period, entries } of ledger()) {
				for (const e of entries)
					if (abroad.has(e.department) === euro && /^[12]/.test(e.ledgerAccount)) {
						const account = e.ledgerAccount.slice(0, 4);
						balances.set(account, (balances.get(account) ?? 0) + e.amount);
					}
				for (const [account, [least, most]] of Object.entries(usual)) {
					if (!balances.has(account)) continue;
					const amount = balances.get(account)!;
					expect(amount, `${account} at the end of ${period}`).toBeGreaterThanOrEqual(least - 0.01);
					expect(amount, `${account} at the end of ${period}`).toBeLessThanOrEqual(most + 0.01);
				}
			}
			expect(balances.size).toBeGreaterThan(euro ? 7 : 12);
		}
	});
	it('counts in euro in Finland, at rates for the budget and others that are current, a few percent apart', () => {
		expect(data.entities.map((e) => e.currency)).toEqual(['GBP', 'EUR']);
		const [now, budget] = data.rateSets.map(
			({ rates }) => valueAt(rates[0].average, OCT26)! / valueAt(rates[0].closing, OCT26)!
		);
		expect(now).toBeCloseTo(budget, 2);
		const [a, b] = data.rateSets.map(({ rates }) => valueAt(rates[0].average, OCT26)!);
		expect(a / b - 1).toBeGreaterThan(0.02);
		expect(a / b - 1).toBeLessThan(0.05);
	});
	it('earns a little, and has cash', () => {
		const pl = data.entries.filter((e) => /^[4-7]/.test(e.ledgerAccount));
		const revenue = -cents(pl.filter((e) => e.ledgerAccount.startsWith('4')));
		const profit = -cents(pl);
		expect(profit / revenue).toBeGreaterThan(0.02);
		expect(profit / revenue).toBeLessThan(0.2);
		expect(cents(data.entries.filter((e) => e.ledgerAccount.startsWith('1000')))).toBeGreaterThan(0);
	});
	it('holds the invoice keyed a thousand times too large', () => {
		const slip = october.filter((e) => e.document === '88213');
		const party = { party: 'Corran Haulage', date: '2026-10-14' };
		// Keyed so on both sides, with its tax.
		expect(slip).toMatchObject([
			{ ...party, ledgerAccount: '505020', amount: 24900 },
			{ ...party, ledgerAccount: '203020', amount: 4980 },
			{ ...party, ledgerAccount: '200010', amount: -29880 }
		]);
		const usual = data.entries
			.filter((e) => e.ledgerAccount === '505020' && e.department === 'dealer-sales')
			.map((e) => e.amount);
		expect(Math.max(...usual)).toBeLessThan(200);
	});
	it('holds the one ledger account that is new and unmapped', () => {
		const known = new Set(data.ledgerAccounts.map((l) => l.code));
		expect([...new Set(october.map((e) => e.ledgerAccount).filter((a) => !known.has(a)))]).toEqual([
			'620040'
		]);
	});
	it('holds kayaks on the Lakes, down at dealers for three months', () => {
		const all = [...data.entries, ...october];
		const kayaks = new Set(['eider-10', 'eider-12', 'scoter-14', 'scoter-16']);
		const units = (from: number, to: number, region: string) =>
			all
				.filter((e) => e.ledgerAccount === '900010' && e.period >= from && e.period <= to)
				.filter((e) => kayaks.has(e.tags.product) && e.tags.channel === 'dealer' && e.tags.region === region)
				.reduce((s, e) => s + e.amount, 0);
		const against = (region: string) =>
			units(OCT26 - 2, OCT26, region) / units(OCT26 - 14, OCT26 - 12, region);
		expect(against('lakes')).toBeLessThan(0.65);
		expect(against('south')).toBeGreaterThan(0.8);
	});
	it('has targets for FY28 from above, some met and some missed by more than a tenth', async () => {
		expect(data.scenarios.find((s) => s.scenario.code === 'fy28-budget')!.scenario.target).toBe(
			'fy28-targets'
		);
		const db = await openDatabase(':memory:');
		await storeCompany(db, data);
		const user = await userOf(db, 'maren');
		const { lines, rows } = await readTargets(
			{ db, user },
			'fy28-budget',
			OCT26 + 6,
			OCT26 + 17,
			'reporting'
		);
		await db.destroy();
		const gaps = rows
			.filter((r) => r.leaf)
			.flatMap(({ department, cells }) =>
				cells.flatMap(({ target, plan }, i) =>
					lines[i].spreads && target
						? [{ of: `${department} ${lines[i].account}`, ...gapTo(plan, target, lines[i].type) }]
						: []
				)
			);
		const missed = gaps.filter((g) => g.verdict === 'unfavourable' && Math.abs(g.percent!) > 0.1);
		expect(missed.map((g) => g.of)).toEqual([
			'dealer-sales revenue',
			'harbour-club revenue',
			'sites-it running'
		]);
		expect(gaps.filter((g) => g.verdict === 'favourable').length).toBeGreaterThan(5);
	});
	it('is collecting FY28 from departments in every state, one of them overdue', () => {
		const states = new Set(data.submissions.map((s) => s.state));
		expect(states).toEqual(
			new Set(['not started', 'drafting', 'submitted', 'in review', 'returned', 'approved'])
		);
		expect(data.submissions.filter((s) => s.due < '2026-11-16').map((s) => s.department)).toEqual([
			'refit-yard'
		]);
		for (const s of data.submissions)
			expect(s.figures !== null).toBe(
				data.events.some((e) => e.department === s.department && e.action === 'submit')
			);
	});
});
