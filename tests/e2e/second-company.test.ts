/** Somebody else's company goes the same way: other accounts, currency, calendar, departments, model. */
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { Person } from '../support/browser';

const MARCH = '2026-03';
const march = readFileSync('tests/companies/praxis-2026-03.csv', 'utf8');
let app: App;
let ana: Client;
let urs: Client;
let rita: Client;

beforeAll(async () => {
	app = await startApp('tests/companies/praxis');
	[ana, urs, rita] = await Promise.all(
		['ana', 'urs', 'rita'].map((n) => Client.signIn(app, `${n}@praxis.example`))
	);
});
afterAll(() => app?.stop());

const cells = async (
	account: string,
	department: string,
	scenario = 'f2',
	window = 'from=2026-01&to=2026-12'
) =>
	(await ana.get(`plan?scenario=${scenario}&department=${department}&${window}`)).rows.find(
		(r: { account: string }) => r.account === account
	).cells as (number | null)[];

describe('a practice in Swiss francs, with a fiscal year from January', () => {
	it('loads March', async () => {
		const { options, faults, month } = await ana.send('feeds/preview', 'march.csv', march, {});
		expect(faults).toEqual([]);
		expect(month).toBe(MARCH);
		expect(
			await ana.send('feeds/run', 'march.csv', march, { options, month: '2026-03', map: {} })
		).toMatchObject({
			entries: 8,
			replaced: 0
		});
	});
	it('plans by its own model, bases and shares', async () => {
		expect((await cells('fees', 'praxis')).slice(2)).toEqual(Array(10).fill(200 * 90.5 + 310 * 140));
		// Last year plus 4 %, and a fifth of that.
		const lab = await cells('lab', 'labor');
		expect(lab[4]).toBeCloseTo((9050.15 + 12.7 * 4) * 1.04, 6);
		expect((await cells('supplies', 'labor'))[4]).toBeCloseTo(lab[4]! * 0.2, 6);
		const rent = await cells('rent', 'office');
		expect(rent[5]).toBeCloseTo((5100 + 11.05 * 12 + 5100 + 11.05 * 13) / 2, 6);
	});
	it('changes a driver, and the result follows', async () => {
		const edit = {
			block: 'visits',
			line: 'patients',
			row: 'private',
			period: '2026-03',
			before: 310,
			value: 311
		};
		expect((await ana.post('scenarios/f2/cells', { edits: [edit] })).saved).toBe(1);
		expect((await cells('fees', 'praxis'))[2]).toBe(200 * 90.5 + 311 * 140);
		await ana.post('scenarios/f2/cells', { edits: [{ ...edit, before: 311, value: 310 }] });
	});
	it('keeps proofs of its model, and says which formula gave a figure', async () => {
		const { proofs } = await ana.get('models/visits?scenario=f2&from=2026-03&to=2026-12');
		expect(proofs).toMatchObject([
			{ name: 'Fees of a month', compared: 2, differences: [] },
			{ compared: 2, differences: [{ period: '2026-05', expected: 40_000, actual: 43_400 }] }
		]);
		const p = await Person.open();
		try {
			await p.signIn(app.url, 'ana@praxis.example');
			await p.go(`${app.url}/drivers/visits?scenario=f2&from=2026-03&to=2026-12&open=income`);
			await p.click('summary', /^1 of 2 proofs does not hold$/);
			await p.says('.proofs td', /^3,400\.00$/);
			await (await p.cell('income@private', '2026-05')).click();
			await p.keys(' ');
			await p.says('aside h3', /^Formula for Private, from Feb 26$/);
			await p.says('aside .big', /^43,400\.00$/);
		} finally {
			await p.close();
		}
	});
	it('collects from a department: asked, written, submitted, returned, approved', async () => {
		const { code } = await ana.post('rounds', {
			name: 'Forecast',
			scenario: 'f2',
			due: '2026-12-31',
			departments: ['labor']
		});
		const write = (value: number, before: number | null) =>
			urs.post('scenarios/f2/cells', {
				edits: [{ block: 'accounts', line: 'wages', row: 'labor', period: '2026-05', before, value }]
			});
		expect((await write(8500, 8100.05)).saved).toBe(1);
		const step = (who: Client, action: string, more = {}) =>
			who.post(`rounds/${code}/labor`, { action, ...more });
		expect((await step(urs, 'submit')).state).toBe('submitted');
		expect((await write(9000, 8500)).status).toBe(403);
		expect((await step(rita, 'return', { comment: 'Why more?' })).state).toBe('returned');
		expect((await step(urs, 'submit', { comment: 'A second assistant.' })).state).toBe('submitted');
		const { mark } = (await rita.get('rounds')).rounds[0].submissions[0];
		expect((await step(urs, 'approve', { mark })).status).toBe(409);
		expect((await step(rita, 'approve', { mark })).state).toBe('approved');
	});
	it('closes March into 3 + 9, and explains the variance down to its entries', async () => {
		const proposal = await ana.get('close');
		expect(proposal).toMatchObject({ month: MARCH, name: 'FY26 Forecast 3+9', last: '2027-03' });
		const { scenario } = await ana.post('close', { month: '2026-03', from: 'f2', name: proposal.name });
		expect((await cells('fees', 'all', scenario))[2]).toBeCloseTo(65714.85, 6);
		const report = await ana.get(
			`variance?scenario=${scenario}&against=b26&department=all&period=2026-03&span=ytd`
		);
		expect(report).toMatchObject({ from: '2026-01', to: MARCH });
		const figure = await ana.post('trace', {
			scenario,
			ref: { kind: 'account', account: 'fees', department: 'praxis', from: '2026-03', to: '2026-03' }
		});
		expect(figure.ledger).toMatchObject({ count: 2 });
		expect(figure.ledger.total).toBeCloseTo(65714.85, 6);
		const csv = await (
			await ana.fetch(
				`/api/v1/variance?scenario=${scenario}&against=b26&department=all&period=2026-03&format=csv`
			)
		).text();
		expect(csv.split('\n')[0]).toBe(
			'Level,Account,FY26 Forecast 3+9,Budget 2026,Difference,Difference %,Verdict,Over threshold'
		);
	});
	it('shows on the screen in its own words', async () => {
		const p = await Person.open();
		try {
			await p.signIn(app.url, 'ana@praxis.example');
			await p.go(`${app.url}/plan?scenario=fy26-forecast-3-9&department=all`);
			await p.says('h1', /Whole practice/);
			await p.says('.top p', /CHF · actuals through March 2026/);
			await p.cellShows('fees', '2026-03', '65,715');
			await p.says('.under', /^FY26 Q1$/);
			expect(await p.complaints()).toEqual([]);
		} finally {
			await p.close();
		}
	});
});
