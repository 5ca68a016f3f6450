/** Makes the pictures in docs/screenshots again, from the demo data, at 1280 × 800. */
import { mkdirSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { startApp } from '../tests/support/app';
import { By, Key, Person } from '../tests/support/browser';

const folder = resolve('docs/screenshots');
const at = (name: string) => `${name}@kelpwick.example`;

async function main() {
	mkdirSync(folder, { recursive: true });
	const app = await startApp('demo/company');
	const p = await Person.open();
	const empty = await startApp(null);
	const take = async (name: string) => {
		// Notices and blinking carets are not what the picture is about.
		await p.driver.executeScript("document.querySelectorAll('.notice button').forEach((b) => b.click())");
		await p.driver.sleep(350);
		await p.picture(join(folder, `${name}.png`));
	};
	try {
		await p.go(/http\S+\/begin\?key=\S+/.exec(empty.said())![0]);
		for (const [field, text] of [
			['name', 'Ada Lind'],
			['email', 'ada@lind.example'],
			['company', 'Lind & Partner'],
			['currency', 'CHF']
		])
			await (await p.find(`#${field}`)).sendKeys(text);
		await take('begin');
		await empty.stop();
		await p.signIn(app.url, at('maren.holt'));
		await p.go(`${app.url}/setup/feed`);
		await (await p.find('#file')).sendKeys(resolve('demo/inbox/ledger-2026-10.csv'));
		await p.says('section h2', /not mapped/);
		await take('ledger-feed');
		await p.click('button', /^Map to/);
		await p.says('section h2', /All ledger accounts/);
		await p.click('button', /^Load Oct/);
		await p.says('.notice', /loaded/);
		await p.go(`${app.url}/setup/map`);
		await take('account-map');
		await p.go(`${app.url}/setup/accounts`);
		await p.click('[data-item="office"] button', /^add under/);
		await (await p.find('#added')).sendKeys('6890 Translation\nMoving\n  6892 Vans\n  6893 Storage');
		await p.says('dialog li', /^Storage/);
		await take('accounts');
		await p.go(`${app.url}/setup/people`);
		await take('people');
		await p.go(`${app.url}/setup/currencies`);
		await p.find('[data-row="EUR/average"]');
		await take('currencies');
		await p.go(`${app.url}/compare`);
		await p.says('h1', /October/);
		await take('variance');
		await p.click('label', 'only marked');
		await (await p.cell('5050', 'difference')).click();
		await p.says('aside .alarm', /far from/);
		await take('trace');
		await p.go(
			`${app.url}/drivers/boat_sales?scenario=fy27-forecast-6-6&open=units&where=product:kayaks,channel:dealer`
		);
		await (await p.cell('units@eider-10|dealer|lakes', '2026-11')).click();
		await p.keys('9', Key.TAB, '8', Key.ENTER);
		await p.find('.cell.preview');
		await take('driver-model');
		await p.click('button', 'Discard');
		await (await p.cell('price', 'formula')).click();
		await (await p.find('.cm-content')).sendKeys(' * assumptions.pri');
		await p.driver.sleep(400);
		await p.keys(Key.ESCAPE);
		await p.click('dialog button', 'Cancel');
		await p.go(`${app.url}/drivers/boat_sales/design?scenario=fy28-budget`);
		await p.click('li button', /^Net price/);
		await p.says('.strip', /Net price/);
		await take('model-design');
		await p.go(`${app.url}/forecast/what-if?scenario=dearer-kayaks&from=2026-10&to=2027-09`);
		await p.find('tr[data-measure="account:profit"]');
		await p.find('.chart rect');
		await take('what-if');
		// A person in two departments, opened, and a post that is moved.
		const year = 'scenario=fy28-budget&from=2027-04&to=2028-03';
		await p.go(`${app.url}/plan/schedules/staff?${year}&department=design-office&open=K090`);
		await (await p.cell('K090', 'start')).click();
		await p.keys('15.8.2027', Key.ENTER);
		await p.find('.cell.preview');
		await take('schedule');
		await p.click('button', 'Discard');
		await p.go(`${app.url}/plan/schedules/staff/design?${year}`);
		await p.click('li button', /^Taxes and contributions/);
		await p.says('.strip', /Taxes and contributions/);
		await take('schedule-design');
		await p.go(`${app.url}/forecast?scenario=fy27-forecast-6-6`);
		await p.click('button', /^Close Oct 26 …$/);
		await take('close-month');
		await p.click('dialog button', 'Close the month');
		await p.says('h1', /^Plan/);
		await p.go(`${app.url}/forecast?scenario=fy27-forecast-7-5`);
		await take('forecast');
		await p.go(`${app.url}/collect`);
		await (
			await (await p.named('tr', /^Dealer Sales/)).findElement(By.xpath('.//button[contains(., "More")]'))
		).click();
		await take('collect');
		// Targets that ask for more than the departments plan.
		await p.go(`${app.url}/plan/targets?scenario=fy28-budget&department=kelpwick&from=2027-04&to=2028-03`);
		await p.cell('refit-yard', 'revenue/target');
		await take('targets');
		await p.signIn(app.url, at('tom.aldous'));
		await (await p.cell('6240', '2027-05')).click();
		await p.keys('2600', Key.TAB, '2700', Key.ENTER);
		await (await p.cell('6240', '2027-04')).click();
		await p.keys(' ');
		await p.find('aside .big');
		await take('department-plan');
		await p.click('button', 'Discard');
		await p.signIn(app.url, at('maren.holt'));
		await p.driver.manage().addCookie({ name: 'theme', value: 'dark' });
		await p.go(`${app.url}/plan?scenario=fy27-forecast-7-5&department=direct-web`);
		await take('dark');
	} finally {
		await p.close();
		await app.stop();
	}
}

main().catch((error: unknown) => {
	console.error(error);
	process.exit(1);
});
