/** Members of a dimension loaded from a list in the browser. */
import { it } from 'vitest';
import { startApp } from '../support/app';
import { Key, Person } from '../support/browser';

it('shows what a list would change while it stands there, and loads it', async () => {
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
		await p.says('td', /^Petrel 15/);
	} finally {
		await p.close();
		await app.stop();
	}
});
