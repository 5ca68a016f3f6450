/** The ledger feed: what it recognises, what it refuses and where, and that it never loads twice or half. */
import { readFileSync } from 'node:fs';
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { listRuns, previewFeed, runFeed } from '../../src/lib/server/ledger/feed';
import { usualSizes } from '../../src/lib/server/ledger/usual';
import { openMonths, takeOutMonth } from '../../src/lib/server/ledger/months';
import { companyState } from '../../src/lib/server/company/structure';
import { mapAccounts, readMap } from '../../src/lib/server/ledger/map';
import { readDepartmentPlan } from '../../src/lib/server/accounts/department-plan';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { contentOf, DEMO, loaded, PRAXIS, refusedIn, userOf } from '../support/company';

const OCTOBER = readFileSync('demo/inbox/ledger-2026-10.csv', 'utf8');
const OCT26 = 2026 * 12 + 9;
let db: Knex;
let analyst: User;

/** What a refused action says, and that it changed nothing. */
const refusal = (action: () => Promise<unknown>) => refusedIn(db, action());
async function load(content: string, map: Record<string, string | null> = {}) {
	const preview = await previewFeed({ db, user: analyst }, 'october.csv', content, null, map);
	return runFeed({ db, user: analyst }, 'october.csv', content, preview.options, preview.month!, map);
}
const entries = async () => (await db('ledger_entry').where({ period: OCT26 })).length;

afterEach(() => db.destroy());

describe('usual sizes', () => {
	it('are those of the department, else of departments that count in the same currency', async () => {
		db = await loaded(DEMO);
		const state = await companyState(db);
		const month = state.calendar.parse('2026-09')!;
		const entries = (department: string, amount: number, from: number) =>
			Array.from({ length: 10 }, (_, i) => ({
				id: 9_000_000 + from + i,
				period: month - 1,
				date: '2026-08-31',
				ledger_account: '9999',
				department,
				amount,
				document: '',
				party: '',
				description: '',
				tags: ''
			}));
		await db('ledger_entry').insert(entries('rigging', 100, 0));
		await db('ledger_entry').insert(entries('baltic-yard', 20_000, 10));
		const usual = await usualSizes(db, state, ['9999'], month);
		expect(usual('9999', 'rigging')).toMatchObject({ high: expect.closeTo(500, 6) });
		expect(usual('9999', 'hull-shop')).toEqual(usual('9999', 'rigging'));
		expect(usual('9999', 'baltic-sales')).toMatchObject({ high: expect.closeTo(100_000, 3) });
		expect(usual('9998', 'rigging')).toBeNull();
	});
});

describe('the demo’s October', () => {
	beforeEach(async () => {
		db = await loaded(DEMO);
		analyst = await userOf(db, 'maren');
	});

	it('is recognised by its headings, reconciled, and suggests for what is new', async () => {
		const p = await previewFeed({ db, user: analyst }, 'october.csv', OCTOBER, null, {});
		expect(p.faults).toEqual([]);
		expect(p.month).toBe(OCT26);
		expect(p.closed).toBe(false);
		const lines = OCTOBER.trim().split('\n').length - 1;
		expect(p.rows).toBe(lines);
		expect(p.accounts.reduce((s, a) => s + a.entries, 0)).toBe(lines);
		for (const currency of ['GBP', 'EUR', ''])
			expect(p.mapped[currency] + (p.unmapped[currency] ?? 0)).toBeCloseTo(p.total[currency], 6);
		expect(p.unmapped).toEqual({ GBP: 2800 });
		// Debits are credits in each currency; boats sold are no money.
		expect(p.total).toMatchObject({ GBP: 0, EUR: 0 });
		expect(p.total['']).toBeGreaterThan(500);
		const fresh = p.accounts.filter((a) => a.account === null);
		expect(fresh).toMatchObject([
			{
				code: '620040',
				name: 'Video advertising',
				isNew: true,
				amounts: { GBP: 2800 },
				suggestion: { account: '6200' }
			}
		]);
		expect(p.unusual.map((u) => [u.document, u.amount])).toEqual([['88213', 24900]]);
	});

	it('previews without changing anything', async () => {
		const before = await contentOf(db);
		await previewFeed({ db, user: analyst }, 'october.csv', OCTOBER, null, { '620040': '6200' });
		expect(await contentOf(db)).toBe(before);
	});

	it('counts rows as the file does, also below rows that cannot be read', async () => {
		const lines = OCTOBER.trim().split('\n');
		const at = lines.findIndex((l) => l.includes('88213')) + 1;
		lines[3] = lines[3].replace(/^2026-10-\d\d/, 'soon');
		lines[5] = 'x';
		const p = await previewFeed({ db, user: analyst }, 'october.csv', lines.join('\n'), null, {});
		expect(p.faults.map((f) => f.row)).toEqual([4, 6]);
		expect(p.unusual.map((u) => u.row)).toEqual([at]);
	});

	it('judges an entry by what is usual in its own currency, where its department has no history', async () => {
		const lines = OCTOBER.trim().split('\n');
		// Cleaning costs about 1,100 a time at Sites & IT; 20,000 of it elsewhere is as odd, in euro it cannot be told.
		const keyed = (department: string) =>
			`2026-10-09,615010,Cleaning,${department},20000.00,99001,Brightway,Cleaning,,,,`;
		const p = await previewFeed(
			{ db, user: analyst },
			'october.csv',
			[...lines, keyed('hull-shop'), keyed('baltic-yard')].join('\n'),
			null,
			{}
		);
		expect(p.faults).toEqual([]);
		expect(p.unusual.map((u) => [u.document, u.row])).toEqual([
			['88213', expect.any(Number)],
			['99001', lines.length + 1]
		]);
	});

	it('judges by what is booked at that moment, however often a file is looked at', async () => {
		const lines = OCTOBER.trim().split('\n');
		const keyed = (date: string, document: string) =>
			`${date},615010,Cleaning,hull-shop,20000.00,${document},Brightway,Cleaning,,,,`;
		const november = [lines[0], keyed('2026-11-09', '99001')].join('\n');
		// From October on, that is what it costs there.
		const more = Array.from({ length: 10 }, (_, i) => keyed('2026-10-09', `9900${i}`));
		const october = [...lines, ...more].join('\n');
		const { options } = await previewFeed({ db, user: analyst }, 'october.csv', october, null, {});
		const odd = async () =>
			(await previewFeed({ db, user: analyst }, 'november.csv', november, null, {})).unusual.map(
				(u) => u.document
			);
		expect(await odd()).toEqual(['99001']);
		expect(await odd()).toEqual(['99001']);
		await runFeed({ db, user: analyst }, 'october.csv', october, options, OCT26, {});
		expect(await odd()).toEqual([]);
	});

	it('loads once however often it is run', async () => {
		const first = await load(OCTOBER);
		expect(first).toMatchObject({ period: OCT26, replaced: 0 });
		const profit = async () =>
			(await readDepartmentPlan({ db, user: analyst }, 'actuals', 'kelpwick', OCT26, OCT26)).rows[0].total;
		const once = await profit();
		const second = await load(OCTOBER);
		expect(second.replaced).toBe(first.entries);
		expect(await entries()).toBe(first.entries);
		expect(await profit()).toBe(once);
		expect(await db('feed_run').where({ period: OCT26 })).toHaveLength(2);
	});

	it('keeps in its log what was unmapped, to the cent', async () => {
		await load(OCTOBER.replace(/^(.*,620040,.*),960\.00,/m, '$1,960.45,'));
		const [run] = await listRuns({ db, user: analyst });
		expect(run.unmapped).toBeCloseTo(2800.45, 6);
	});
	it('keeps unmapped entries, and they count as soon as they are mapped', async () => {
		await load(OCTOBER);
		const marketing = async () =>
			(await readDepartmentPlan({ db, user: analyst }, 'actuals', 'direct-web', OCT26, OCT26)).rows.find(
				(r) => r.account === '6200'
			)!.total as number;
		const without = await marketing();
		const { rows } = await readMap({ db, user: analyst });
		expect(rows.find((r) => r.code === '620040')).toMatchObject({
			account: null,
			amounts: { GBP: 2800 },
			entries: 2
		});
		await mapAccounts({ db, user: analyst }, { ledgers: ['620040'], account: '6200' });
		expect(await marketing()).toBeCloseTo(without + 2800, 6);
		await mapAccounts({ db, user: analyst }, { ledgers: ['620040'], account: null });
		expect(await marketing()).toBeCloseTo(without, 6);
	});

	it('asks which sign is the decimal one, where no amount tells', async () => {
		const [head, ...rows] = OCTOBER.trim().split('\n');
		const file = (amount: string) =>
			[head, rows[0].replace(/^(([^,]*,){4})[^,]*/, `$1"${amount}"`)].join('\n');
		const asked = async (amount: string) =>
			(await previewFeed({ db, user: analyst }, 'october.csv', file(amount), null, {})).doubtful;
		expect(await asked('1,234')).toBe('1,234');
		expect(await asked('1,234.00')).toBeNull();
		expect(await asked('1234')).toBeNull();
		const { options } = await previewFeed({ db, user: analyst }, 'october.csv', file('1,234'), null, {});
		const amounts = async () =>
			(await db('ledger_entry').where({ period: OCT26 }).pluck('amount')) as number[];
		await runFeed(
			{ db, user: analyst },
			'october.csv',
			file('1,234'),
			{ ...options, decimal: ',' },
			OCT26,
			{}
		);
		expect(await amounts()).toEqual([1.234]);
		await runFeed(
			{ db, user: analyst },
			'october.csv',
			file('1,234'),
			{ ...options, decimal: '.' },
			OCT26,
			{}
		);
		expect(await amounts()).toEqual([1234]);
	});

	it('is taken out again, unless a scenario rests on it, and loaded again', async () => {
		const before = await contentOf(db, ['ledger_entry', 'ledger_month']);
		await load(OCTOBER, { '620040': '6200' });
		const with_ = await contentOf(db, ['ledger_entry', 'ledger_month']);
		expect(await openMonths({ db, user: analyst })).toEqual([{ period: OCT26, entries: await entries() }]);
		const count = await entries();
		expect(await takeOutMonth({ db, user: analyst }, OCT26)).toBe(count);
		expect(await contentOf(db, ['ledger_entry', 'ledger_month'])).toBe(before);
		expect((await companyState(db)).actuals.last).toBe(OCT26 - 1);
		await load(OCTOBER);
		const amounts = (content: string) => content.replace(/"id\\*":\d+,/g, '');
		expect(amounts(await contentOf(db, ['ledger_entry', 'ledger_month']))).toBe(amounts(with_));
		await db('scenario').where({ code: 'fy28-budget' }).update({ actuals_through: OCT26 });
		expect((await refusal(() => takeOutMonth({ db, user: analyst }, OCT26))).message).toMatch(
			/“FY28 Budget” takes actuals through October 2026/
		);
		await db('scenario')
			.where({ code: 'fy28-budget' })
			.update({ actuals_through: OCT26 - 1 });
		expect((await refusal(() => takeOutMonth({ db, user: analyst }, OCT26 - 1))).message).toMatch(
			/is closed/
		);
		expect((await refusal(() => takeOutMonth({ db, user: analyst }, OCT26 + 1))).status).toBe(404);
		const tom = await userOf(db, 'tom');
		expect((await refusal(() => takeOutMonth({ db, user: tom }, OCT26))).status).toBe(403);
	});

	it('maps on the spot', async () => {
		expect(await load(OCTOBER, { '620040': '6200' })).toMatchObject({ mappedNow: 1 });
		expect(await db('ledger_account').where({ code: '620040' }).first()).toMatchObject({
			account: '6200',
			name: 'Video advertising'
		});
	});

	it('carries balances on: closing cash is opening cash plus the month’s movements', async () => {
		await load(OCTOBER);
		const { actuals } = await companyState(db);
		const cash = actuals.accounts.get('1000')!;
		const at = (month: number) =>
			Array.from(
				{ length: cash.rows },
				(_, r) => cash.values[(month - actuals.first) * cash.rows + r]
			).reduce((a, b) => a + b, 0);
		const { moved } = (await db('ledger_entry')
			.where({ period: OCT26 })
			.where('ledger_account', 'like', '1000%')
			.sum({ moved: 'amount' })
			.first()) as { moved: number };
		expect(at(OCT26)).toBeCloseTo(at(OCT26 - 1) + moved, 4);
	});

	describe('is refused, whole and at its place,', () => {
		it('with wrong headings', async () => {
			const content = OCTOBER.replace('Posting date,Account,', 'Wann,Wohin,');
			const { options } = await previewFeed({ db, user: analyst }, 'october.csv', content, null, {});
			const r = await refusal(() =>
				runFeed({ db, user: analyst }, 'october.csv', content, options, OCT26, {})
			);
			expect(r.faults.map((f) => f.message).join('\n')).toMatch(
				/No column was recognised for “date”\. Its headings are: Wann, Wohin/
			);
		});
		it('with a broken number far down', async () => {
			// Long enough that row 4,000 exists.
			const [head, ...body] = OCTOBER.trim().split('\n');
			const long = Array.from({ length: 4200 }, (_, i) => body[i % body.length]);
			const cells = long[3998].split(',');
			cells[4] = '12,5x'.replace(',', '');
			long[3998] = cells.join(',');
			// Empty lines are passed over, and counted.
			const r = await refusal(() => load([head, '', ...long].join('\n')));
			expect(r.faults).toEqual([
				expect.objectContaining({
					row: 4001,
					column: 'Amount',
					message: expect.stringContaining('“125x” is no number')
				})
			]);
		});
		it('with an unknown department, and one that is a sum', async () => {
			const r = await refusal(() =>
				load(OCTOBER.replace('dealer-sales', 'dealers').replace('hull-shop', 'production'))
			);
			expect(r.faults.map((f) => f.message)).toEqual(
				expect.arrayContaining([
					'there is no department “dealers”',
					expect.stringMatching(/“production” is a sum of departments; post to one of hull-shop, rigging/)
				])
			);
		});
		it('with an unknown member, a date that does not exist, a row too short', async () => {
			const lines = OCTOBER.trim().split('\n');
			lines[1] = lines[1].replace(/,([a-z]+-\d+|[a-z-]+),(dealer|direct|web),(\w+)/, ',submarine,$2,$3');
			lines[2] = lines[2].replace(/^2026-10-\d\d/, '2026-10-32');
			lines[3] = lines[3].split(',').slice(0, 5).join(',');
			const r = await refusal(() => load(lines.join('\n')));
			const text = r.faults.map((f) => `${f.row} ${f.message}`).join('\n');
			expect(text).toMatch(/3 “2026-10-32” is no date/);
			expect(text).toMatch(/4 has 5 cells; 12 were expected/);
		});
		it('with another month inside', async () => {
			const r = await refusal(() => load(OCTOBER.replace('2026-10-15', '2026-11-15')));
			expect(r.faults[0].message).toMatch(/2026-11-15 does not lie in October 2026/);
		});
		it('with amounts of another habit, in brackets that do not close, too large, or in both habits', async () => {
			const [head, ...rows] = OCTOBER.trim().split('\n');
			const amounts = (list: string[]) =>
				[head, ...list.map((a, i) => rows[i].replace(/^(([^,]*,){4})[^,]*/, `$1"${a}"`))].join('\n');
			const faults = async (list: string[]) =>
				(await refusal(() => load(amounts(list)))).faults.map((f) => `${f.row}:${f.column}: ${f.message}`);
			expect(await faults(['1,234.56', '1.234,56', '(5', '1,2,3,4', '2000000000000000'])).toEqual([
				expect.stringMatching(/^3:Amount: “1\.234,56” is no number/),
				expect.stringMatching(/^4:Amount: “\(5” is no number/),
				expect.stringMatching(/^5:Amount: “1,2,3,4” is no number/),
				expect.stringMatching(/^6:Amount: 2000000000000000 is larger than any amount/)
			]);
			expect(await faults(['1,234', '5', '1.234'])).toEqual([
				expect.stringMatching(/^2:Amount: “1,234” stands in a column that uses both/),
				expect.stringMatching(/^4:Amount: “1\.234” stands in a column that uses both/)
			]);
		});
		it('with dates that have anything behind them, and months that make no sense', async () => {
			const r = await refusal(() => load(OCTOBER.replace('2026-10-15', '2026-10-15T08:00')));
			expect(r.faults[0].message).toMatch(/“2026-10-15T08:00” is no date/);
			for (const year of ['9999', '1901']) {
				const content = OCTOBER.replaceAll('2026-10-', `${year}-10-`);
				const p = await previewFeed({ db, user: analyst }, 'october.csv', content, null, {});
				expect(p.faults[0].message).toMatch(/between November 2001 and November 2027/);
				const at = Number(year) * 12 + 9;
				expect(
					(await refusal(() => runFeed({ db, user: analyst }, 'october.csv', content, p.options, at, {})))
						.status
				).toBe(year === '9999' ? 422 : 409);
			}
		});
		it('for a month that is closed', async () => {
			const r = await refusal(() => load(OCTOBER.replaceAll('2026-10-', '2026-09-')));
			expect(r.message).toMatch(/September 2026 is closed.*Reopen/);
		});
		it('when it is empty, or no CSV', async () => {
			expect((await refusal(() => load(''))).message).toMatch(/is empty/);
			expect((await refusal(() => load('a,"b\nc'))).message).toMatch(/cannot be read as CSV/);
		});
		it('for those who may not', async () => {
			analyst = await userOf(db, 'tom');
			expect((await refusal(() => load(OCTOBER))).status).toBe(403);
		});
	});
});

describe('a file of another making', () => {
	const march = readFileSync('tests/companies/praxis-2026-03.csv', 'utf8');
	beforeEach(async () => {
		db = await loaded(PRAXIS);
		analyst = await userOf(db, 'ana');
	});
	it('with semicolons, decimal commas, days first, debit and credit apart, names for departments', async () => {
		const p = await previewFeed({ db, user: analyst }, 'march.csv', march, null, {});
		expect(p.options).toMatchObject({ decimal: ',', dates: 'day-first' });
		expect(p.faults).toEqual([]);
		expect(p.accounts.find((a) => a.code === 'E-100')?.amounts).toEqual({ CHF: -(46355.75 + 19359.1) });
		await load(march);
		const plan = await readDepartmentPlan(
			{ db, user: analyst },
			'actuals',
			'all',
			2026 * 12 + 2,
			2026 * 12 + 2
		);
		expect(plan.rows.find((r) => r.account === 'fees')!.total).toBeCloseTo(65714.85, 6);
	});
	it('whose columns are chosen by hand', async () => {
		const odd = march.replace('Booking date;Account;Cost centre', 'Tag;Konto;Stelle');
		const p = await previewFeed({ db, user: analyst }, 'march.csv', odd, null, {});
		expect(p.faultCount).toBeGreaterThan(0);
		const options = {
			...p.options,
			columns: { ...p.options.columns, date: 0, ledger_account: 1, department: 2 },
			dates: 'day-first' as const
		};
		const again = await previewFeed({ db, user: analyst }, 'march.csv', odd, options, {});
		expect(again.faults).toEqual([]);
		expect(again.rows).toBe(8);
	});
});
