/** What stands on the screen, to the cent, against totals added up from the raw ledger files. */
import { readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { startApp } from '../support/app';
import { rawRows, worthIn } from '../support/company';
import { Key, Person } from '../support/browser';

/** Account → month → natural amount in cents, all departments, translated, straight from the files. */
function addUp(folder: string): Map<string, number> {
	const types = new Map(rawRows(`${folder}/accounts.csv`).map((r) => [r.code, r.type]));
	const map = new Map(rawRows(`${folder}/ledger-accounts.csv`).map((r) => [r.code, r.account]));
	const worth = worthIn(folder);
	const sums = new Map<string, number>();
	for (const file of readdirSync(`${folder}/ledger`))
		for (const r of rawRows(`${folder}/ledger/${file}`)) {
			const account = map.get(r.ledger_account)!;
			const sign = types.get(account) === 'revenue' ? -1 : 1;
			const month = file.slice(0, 7);
			const key = `${account} ${month}`;
			const amount = Math.round(Number(r.amount) * 100) * worth(r.department, month);
			sums.set(key, (sums.get(key) ?? 0) + sign * amount);
		}
	return sums;
}
const cents = (text: string) =>
	Math.round(Number(text.replaceAll(',', '').replace('−', '-').replace('–', '0')) * 100);

describe.each([
	[
		'demo/company',
		'maren.holt@kelpwick.example',
		'kelpwick',
		'2026-04',
		'2026-09',
		['4000', '4010', '5000', '5050', '5100', '6000']
	],
	[
		'tests/companies/praxis',
		'ana@praxis.example',
		'all',
		'2025-09',
		'2026-02',
		['fees', 'lab', 'wages', 'rent']
	]
])('%s', (folder, email, department, from, to, accounts) => {
	it('shows every month of an account to the cent', async () => {
		const app = await startApp(folder);
		const p = await Person.open();
		try {
			const raw = addUp(folder);
			await p.signIn(app.url, email);
			await p.driver.manage().addCookie({ name: 'figures', value: 'cents' });
			await p.go(`${app.url}/plan?scenario=actuals&department=${department}&from=${from}&to=${to}`);
			const months = await p.driver.executeScript(
				`return [...new Set([...document.querySelectorAll('[data-column]')].map((c) => c.dataset.column))].filter((c) => /^\\d{4}-\\d{2}$/.test(c))`
			);
			expect(months).toHaveLength(6);
			await (await p.find('[role=treegrid]')).sendKeys(Key.HOME);
			for (const account of accounts) {
				// Rows out of sight are not drawn; Ctrl+K leads to each.
				await p.go(
					`${app.url}/plan?scenario=actuals&department=${department}&from=${from}&to=${to}&account=${account}`
				);
				for (const month of months as string[])
					expect(cents(await p.cellText(account, month)), `${account} ${month}`).toBe(
						Math.round(raw.get(`${account} ${month}`) ?? 0)
					);
			}
		} finally {
			await p.close();
			await app.stop();
		}
	});
});
