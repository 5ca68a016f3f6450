/** Somebody is invited, comes in, is given other rights, forgets the password, and leaves: as both see it. */
import { afterEach, beforeEach, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { Key, Person } from '../support/browser';

const EMAIL = 'ines.marlow@kelpwick.example';
let app: App;
let maren: Person;
let ines: Person;
beforeEach(async () => {
	app = await startApp('demo/company');
	maren = await Person.open();
	ines = await Person.open();
	await maren.signIn(app.url, 'maren.holt@kelpwick.example');
	await maren.go(`${app.url}/setup/people`);
});
afterEach(async () => {
	await maren.close();
	await ines.close();
	await app.stop();
});
const fill = async (p: Person, css: string, text: string) => (await p.find(css)).sendKeys(text);
/** Chooses a password at an address that was sent. */
async function choose(link: string, password: string, again = password) {
	await ines.go(link);
	await fill(ines, '#password', password);
	await fill(ines, '#again', again);
	await ines.click('button', 'Begin');
}
const sentLink = async () => {
	const link = await (await maren.find('.link')).getText();
	await maren.click('dialog button', 'Done');
	return link;
};
const row = `[data-person="${EMAIL}"]`;

it('are led through by keys: Tab comes to one row, the arrows to the others and to what can be done', async () => {
	const here = () =>
		maren.driver.executeScript<[string | undefined, string]>(
			`return [document.activeElement.closest('[data-person]')?.dataset.person, document.activeElement.textContent]`
		);
	await maren.tabTo(/^change/);
	expect((await here())[0]).toBe('maren.holt@kelpwick.example');
	await maren.keys(Key.END, Key.ARROW_RIGHT, Key.ARROW_RIGHT);
	expect(await here()).toEqual(['beth.crane@kelpwick.example', expect.stringMatching(/^disable/)]);
	await maren.keys(Key.ARROW_UP, Key.ENTER);
	await maren.says('dialog h3', /^Disable Eero Lahti\?$/);
	await maren.click('dialog button', 'Cancel');
	await maren.keys(Key.TAB);
	expect((await here())[0]).toBeNull();
});

it('is invited by keyboard, plans their departments and no others, and is given other ones', async () => {
	await maren.tabTo(/^Invite somebody/);
	await maren.keys(Key.ENTER);
	await maren.tabTo(/^Name/);
	await maren.keys('Ines Marlow', Key.TAB, EMAIL);
	await maren.tabTo(/^Design Office/);
	await maren.keys(' ', Key.ENTER);
	await maren.says('h3', /^A link for Ines Marlow$/);
	const link = await sentLink();
	await maren.says(`${row} td`, /^invited$/);
	// It stands under Mail too, to be passed on.
	await maren.click('nav.tabs a', 'Mail');
	await maren.says('td.body', /^Ines Marlow,[^]*join\?key=/);

	await choose(link, 'a password of mine', 'another one of mine');
	await ines.says('[role=alert]', /^The password is not the same both times\.$/);
	await choose(link, 'a password of mine');
	await ines.within();
	await ines.go(`${app.url}/plan?scenario=fy28-budget`);
	await ines.says('h1', /^Department plan: Design Office$/);
	await ines.go(link);
	await ines.says('h1, p', /opens nothing any more/);

	await maren.click('nav.tabs a', 'People');
	await maren.says(`${row} td`, /^signs in, signed in$/);
	await maren.click(`${row} button`, /^change/);
	await maren.click('label', 'Design Office');
	await maren.click('label', 'Refit Yard');
	await maren.click('dialog button', 'Change');
	await maren.told(/^Ines Marlow is changed\./);
	await ines.go(`${app.url}/plan?scenario=fy28-budget`);
	await ines.says('h1', /^Department plan: Refit Yard$/);
});

it('gets a link for a new password, is signed out, and leaves without anything of theirs being lost', async () => {
	await maren.click('button', 'Invite somebody …');
	await fill(maren, '#person-name', 'Ines Marlow');
	await fill(maren, '#person-email', 'maren.holt@kelpwick.example');
	await maren.click('dialog button', 'Invite');
	await maren.says('[role=alert]', /^Choose at least one department\.$/);
	await maren.click('label', 'Design Office');
	await maren.click('dialog button', 'Invite');
	await maren.says('[role=alert]', /is Maren Holt already/);
	await (await maren.find('#person-email')).clear();
	await fill(maren, '#person-email', EMAIL);
	await maren.click('dialog button', 'Invite');
	await choose(await sentLink(), 'a password of mine');
	await ines.within();

	await maren.go(`${app.url}/setup/people`);
	await maren.click(`${row} button`, /^new password/);
	const link = await sentLink();
	// The old one holds until then.
	const there = await Client.withPassword(app, EMAIL, 'a password of mine');
	await choose(link, 'another one of mine');
	await ines.within();
	expect((await there.get('me')).status).toBe(401);
	await expect(Client.withPassword(app, EMAIL, 'a password of mine')).rejects.toThrow(/could not sign in/);
	const client = await Client.withPassword(app, EMAIL, 'another one of mine');

	await maren.go(`${app.url}/setup/people`);
	await maren.click(`${row} button`, /^sign out/);
	await maren.told(/^Ines Marlow is signed out: 2 sessions ended\./);
	expect((await client.get('me')).status).toBe(401);

	await maren.click(`${row} button`, /^disable/);
	await maren.click('dialog button', 'Disable');
	await maren.told(/^Ines Marlow cannot sign in any more\./);
	await expect(Client.withPassword(app, EMAIL, 'another one of mine')).rejects.toThrow(/could not sign in/);
	// One click is no way round it.
	await expect(Client.signIn(app, EMAIL)).rejects.toThrow(/could not sign in/);
	await fill(maren, 'input[aria-label="Find somebody"]', 'disabled');
	await maren.says('tbody', /^Ines Marlow[^]*let in again/);
	await maren.click(`${row} button`, /^let in again/);
	await maren.told(/^Ines Marlow may sign in again\./);
	await Client.withPassword(app, EMAIL, 'another one of mine');
});

it('makes an access token, with which a program reads as they may, and ends it', async () => {
	await maren.click('summary', 'MH');
	await maren.click('button', 'Access tokens …');
	await fill(maren, '#token-name', 'Ledger export');
	await maren.click('dialog button', 'Make a token');
	await maren.says('.token', /^ys_/);
	const token = await (await maren.find('.token')).getText();
	await maren.says('dialog td', /^Ledger export$/);
	const ask = (path: string, init: RequestInit = {}, shown = token) =>
		fetch(app.url + path, {
			redirect: 'manual',
			...init,
			headers: { authorization: `Bearer ${shown}`, 'content-type': 'application/json' }
		});
	expect(await (await ask('/api/v1/me')).json()).toMatchObject({ name: 'Maren Holt' });
	expect((await ask('/api/v1/people')).status).toBe(200);
	expect((await ask('/api/v1/me/tokens')).status).toBe(403);
	const change = await ask('/api/v1/entities', { method: 'POST', body: JSON.stringify({ name: 'X' }) });
	expect([change.status, (await change.json()).error.message]).toEqual([
		403,
		expect.stringMatching(/^This token only reads/)
	]);
	const tried = { scenario: 'fy28-budget', from: '2027-04', to: '2028-03', edits: [] };
	const preview = await ask('/api/v1/models/boat_sales/preview', {
		method: 'POST',
		body: JSON.stringify(tried)
	});
	expect(await preview.json()).toEqual({ changes: { rows: [], moreErrors: 0 } });
	expect((await ask('/api/v1/me', {}, `${token}x`)).status).toBe(401);
	// It is no way into the pages.
	expect((await ask('/plan')).headers.get('location')).toMatch(/^\/signin/);
	await maren.click('dialog td button', /^end/);
	await maren.driver.wait(async () => (await ask('/api/v1/me')).status === 401, 10_000);
});
