/** Members of a dimension loaded from a list in the browser. */
import { expect, it } from 'vitest';
import { startApp } from '../support/app';
import { Key, Person } from '../support/browser';
import { workbookIn } from '../support/workbook';

it('shows what a list would change while it stands there, and loads it; moves and takes out what is there', async () => {
	const app = await startApp('demo/company');
	const p = await Person.open();
	try {
		await p.signIn(app.url, 'maren.holt@kelpwick.example');
		await p.go(`${app.url}/drivers/members?dimension=product`);
		await p.click('button', 'Paste or load …');
		const list = await p.find('#list-text');
		await list.sendKeys('name;parent;size\nPetrel 15;Kayak;4.6 m');
		await p.says('dialog [role=alert] li', /^row 2, column parent: there is no member “Kayak”$/);
		await list.sendKeys(
			Key.chord(Key.CONTROL, 'a'),
			'name;parent;size\nPetrel 15;Kayaks;4.6 m\nScoter 14;;4.7 m'
		);
		await p.says('dialog p', /^2 lines read: 1 new member, 1 changed\.$/);
		await p.says('dialog li', /^Petrel 15\s?new, under kayaks$/);
		await p.says('dialog li', /^Scoter 14\s?size 4\.7 m$/);
		await p.click('dialog button', 'Load');
		await p.told(/^2 members added or changed\./);
		await p.says('td', /^Petrel 15$/);
		// Moved by keys, which the focus goes with, and taken back.
		const order = async () =>
			(
				await p.driver.executeScript<string[]>(
					`return [...document.querySelectorAll('[data-item]')].map((r) => r.dataset.item)`
				)
			).filter((code) => ['scoter-14', 'scoter-16', 'petrel-15'].includes(code));
		expect(await order()).toEqual(['scoter-14', 'scoter-16', 'petrel-15']);
		await p.driver.executeScript(
			`document.querySelector('[data-item="petrel-15"] button').focus({ focusVisible: true })`
		);
		await p.chord(Key.ALT, Key.ARROW_UP);
		await p.told(/^Petrel 15 is changed/);
		expect(await order()).toEqual(['scoter-14', 'petrel-15', 'scoter-16']);
		await p.chord(Key.ALT, Key.ARROW_UP);
		const notice = await p.named('.notice', /^Petrel 15 is changed/);
		expect(await order()).toEqual(['petrel-15', 'scoter-14', 'scoter-16']);
		await (await notice.findElement({ css: 'button.plain' })).click();
		await p.told(/^Petrel 15 is as it was\./);
		expect(await order()).toEqual(['scoter-14', 'petrel-15', 'scoter-16']);
		await p.click('[data-item="petrel-15"] button', /^remove/);
		const gone = await p.named('.notice', /^Petrel 15 is removed\./);
		expect(await order()).toEqual(['scoter-14', 'scoter-16']);
		await (await gone.findElement({ css: 'button.plain' })).click();
		await p.told(/^Petrel 15 is there again\./);
		expect(await order()).toEqual(['scoter-14', 'petrel-15', 'scoter-16']);
		// From a workbook, in which sizes are what they are.
		await p.click('button', 'Paste or load …');
		const file = await workbookIn(p.downloads, 'sizes.xlsx', [
			['code', 'size', 'weight'],
			['petrel-15', '4.9 m', 21.5]
		]);
		await (await p.find('dialog input[type=file]')).sendKeys(file);
		await p.says('dialog li', /^Petrel 15\s?size 4\.9 m, weight 21\.5$/);
		await p.says('dialog [role=status]', /^Read from the sheet “List”\.$/);
		await p.click('dialog button', 'Load');
		await p.told(/^1 member added or changed\./);
		// Retired: kept and said, no more offered for new rows; taken back.
		await p.click('[data-item="scoter-14"] button', /^retire/);
		const retired = await p.named('.notice', /^Scoter 14 is retired: it stays where it holds figures/);
		await p.says('[data-item="scoter-14"] td', /^Scoter 14\s?retired$/);
		await p.click('[data-item="scoter-16"] button', /^retire/);
		await p.told(/^Scoter 16 is retired/);
		await (await retired.findElement({ css: 'button.plain' })).click();
		await p.says('.notice', /^Scoter 14 is as it was\./);
		await p.go(`${app.url}/drivers/boat_sales`);
		await p.click('button', 'Add rows …');
		await p.says('dialog li', /^Scoter 14$/);
		expect(await p.driver.executeScript(`return document.querySelector('dialog').innerText`)).not.toContain(
			'Scoter 16'
		);
	} finally {
		await p.close();
		await app.stop();
	}
});
