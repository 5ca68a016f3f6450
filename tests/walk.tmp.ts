import { startApp } from './support/app';
import { By, Key, Person } from './support/browser';
import { writeFolder } from '../src/lib/server/transfer/folder';
import { weeklyCompany } from './support/weekly-model';
import { mkdtempSync } from 'node:fs';
async function main() {
	const app = await startApp('demo/company');
	const p = await Person.open();
	const S = '/tmp/shots/';
	try {
		await p.signIn(app.url, 'maren.holt@kelpwick.example');
		await p.go(`${app.url}/forecast`);
		const made = await p.driver.executeAsyncScript(`const done=arguments[0]; fetch('/api/v1/scenarios',{method:'POST',headers:{'content-type':'application/json'},body:JSON.stringify({from:'fy28-budget',name:'Long range',kind:'long-range',last:'2032-03',laterYears:[{year:2029,periods:['quarter']},{year:2030,periods:['half']},{year:2031,periods:['year']}]})}).then(async r=>done(r.status+await r.text()))`);
		console.log(made);
		await p.go(`${app.url}/forecast`);
		await p.picture(S + 'forecast.png');
		const row = await p.named('tr', /^FY28 Budget/);
		await row.findElement(By.css('.dots')).click();
		await p.click('[role=menuitem]', /^Copy …/);
		await (await p.find('#copy-last')).sendKeys('March 2032');
		await p.picture(S + 'copy.png');
		const choose = async (id: string, name: string) => { await (await p.find(`#${id}`)).findElement(By.xpath(`option[contains(., '${name}')]`)).click(); };
		const name = await p.find('#answer'); await name.clear(); await name.sendKeys('Long range');
		await choose('kind','long-range'); await choose('copy-last','March 2032'); await choose('copy-through','FY28'); await choose('copy-way','a year in quarters, then years');
		await p.click('dialog button', 'Copy'); await p.told(/is made/);
		await p.go(`${app.url}/forecast/what-if?scenario=long-range&from=2028-01&to=2031-03`);
		await p.find('tr[data-measure="account:profit"]');
		await p.click('button', /^Add adjustment/);
		await (await p.find('#adjustment-name')).sendKeys('Dearer from FY29');
		await choose('line-0', 'List price'); await (await p.find('#amount-0')).sendKeys('5'); await choose('from-0', 'Apr 28');
		await p.picture(S + 'adj.png');
		await choose('kind-0', 'shift'); await p.picture(S + 'adj2.png'); await choose('kind-0', 'percent');
		await p.click('dialog button', 'Add');
		await p.find('.chart rect');
		await p.picture(S + 'wi.png');
		for (const t of ['Goal', 'Sensitivity', 'Range', 'Why']) console.log(t);
		const tabs = await p.driver.findElements(By.css('[role=tab]'));
		for (const t of tabs) console.log(await t.getText(), await t.getAttribute('aria-controls'));
		await tabs[1].click(); await p.picture(S + 't1.png');
		await (await p.find('#goal-figure')).sendKeys('3000000'); await p.click('button','Find'); await p.says('.answer, .problem', /./); await p.picture(S + 't1b.png');
		await (await p.driver.findElements(By.css('[role=tab]')))[2].click(); await p.click('button','Compare'); await p.driver.sleep(5000); await p.picture(S + 't2.png');
		await (await p.driver.findElements(By.css('[role=tab]')))[3].click(); await p.click('button','Draw'); await p.driver.sleep(12000); await p.picture(S + 't3.png');
		await (await p.driver.findElements(By.css('[role=tab]')))[4].click(); await p.click('button','Explain'); await p.driver.sleep(4000); await p.picture(S + 't4.png');
		await p.go(`${app.url}/drivers/combinations?scenario=fy28-budget`); await p.picture(S + 'combos.png');
	} catch (e) { console.error(e); await p.picture(S + 'fail.png'); }
	await p.close(); await app.stop(); process.exit(0);
}
void main();
