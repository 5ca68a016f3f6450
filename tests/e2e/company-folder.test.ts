/** A whole company as a zip: taken by who may see all of it, and set up from it elsewhere with nothing lost. */
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { Person } from '../support/browser';

let empty: App;
let full: App;
beforeEach(async () => {
	[full, empty] = [await startApp('demo/company'), await startApp(null, { YARDSTAVE_DEMO: '0' })];
});
afterEach(async () => {
	await full.stop();
	await empty.stop();
});
const key = () => /begin\?key=(\S+)/.exec(empty.said())![1];
const person = { name: 'Maren Holt', email: 'maren.holt@kelpwick.example', password: 'long enough 1' };

async function take(client: Client): Promise<Record<string, string>> {
	const answer = await client.fetch('/api/v1/company/folder');
	expect([answer.status, answer.headers.get('content-type')]).toEqual([200, 'application/zip']);
	const files = unzipSync(new Uint8Array(await answer.arrayBuffer()));
	return Object.fromEntries(Object.entries(files).map(([path, bytes]) => [path, strFromU8(bytes)]));
}
const zipOf = (files: Record<string, string>) =>
	zipSync(Object.fromEntries(Object.entries(files).map(([path, text]) => [path, strToU8(text)])));
async function found(zip: Uint8Array, { key, ...request }: { key: string; person: object }) {
	const form = new FormData();
	form.set('file', new File([zip as Uint8Array<ArrayBuffer>], 'kelpwick.zip'));
	form.set('request', JSON.stringify(request));
	const nobody = await Client.signIn(empty, null);
	return nobody.fetch(`/api/v1/founding/folder?key=${key}`, { method: 'POST', body: form });
}

it('is the same company afterwards, file for file', async () => {
	const files = await take(await Client.signIn(full, person.email));
	expect((await found(zipOf(files), { key: 'guessed', person })).status).toBe(403);
	// One who is no analyst there cannot become one by it.
	const tom = { ...person, email: 'tom.aldous@kelpwick.example' };
	expect((await (await found(zipOf(files), { key: key(), person: tom })).json()).error.faults).toEqual([
		{ column: 'person.email', message: expect.stringMatching(/^is Tom Aldous in this folder, a contributor/) }
	]);
	expect((await found(zipOf(files), { key: key(), person })).status).toBe(200);
	expect(await take(await Client.withPassword(empty, person.email, person.password))).toEqual(files);
	expect((await found(zipOf(files), { key: key(), person })).status).toBe(401);
});

it('is not taken by who may not see all of it', async () => {
	const maren = await Client.signIn(full, person.email);
	const anna = {
		email: 'anna.lowe@kelpwick.example',
		name: 'Anna Lowe',
		role: 'analyst',
		departments: ['kelpwick']
	};
	expect((await maren.post('people', anna)).status).toBe(200);
	const own = await maren.post<{ code: string }>('scenarios', {
		from: 'fy28-budget',
		name: 'Own',
		kind: 'what-if'
	});
	const hidden = await maren.fetch(`/api/v1/scenarios/${own.code}`, {
		method: 'PATCH',
		headers: { 'content-type': 'application/json' },
		body: JSON.stringify({ visibility: 'people', people: [] })
	});
	expect(hidden.status).toBe(200);
	expect((await (await Client.signIn(full, anna.email)).fetch('/api/v1/company/folder')).status).toBe(403);
	const taken = Object.keys(await take(maren));
	expect(taken.some((path) => path.startsWith(`scenarios/${own.code}/`))).toBe(true);
});

it('is set up in the browser, with what is wrong said by file and row', async () => {
	const files = await take(await Client.signIn(full, person.email));
	const p = await Person.open();
	const choose = async (name: string, content: Record<string, string>) => {
		const path = join(mkdtempSync(join(tmpdir(), 'yardstave-')), name);
		writeFileSync(path, zipOf(content));
		await (await p.find('#archive')).sendKeys(path);
	};
	try {
		await p.go(`${empty.url}/begin?key=${key()}`);
		await (await p.find('#name')).sendKeys('Ada Lind');
		await (await p.find('#email')).sendKeys('ada@lind.example');
		await (await p.find('#password')).sendKeys('long enough 1');
		await p.click('label', /^a company folder/);
		await choose('bad.zip', { ...files, 'users.csv': files['users.csv'].replace(',analyst,', ',boss,') });
		await p.click('button', 'Set up');
		await p.says('[role=alert]', /row 2, column role: users\.csv: “boss” was found/);
		await choose('outside.zip', { ...files, '../users.csv': 'x' });
		await p.click('button', 'Set up');
		await p.says('[role=alert]', /\.\.\/users\.csv: leads out of the folder/);
		// As a version wrote it that knew no disabled users: what is taken for that is said before going on.
		await choose('kelpwick.zip', { ...files, 'users.csv': files['users.csv'].replace(/,[^,\n]*$/gm, '') });
		await p.click('button', 'Set up');
		await p.says('h1', /^The company is set up$/);
		await p.says('main li', /^nobody is disabled \(users\.csv has no “state”\)$/);
		await p.click('button', 'Go on');
		await p.says('h1', /^Variance: Kelpwick Boatworks/);
		await p.go(`${empty.url}/setup/people`);
		await p.says('[data-person="ada@lind.example"] td', /^signs in, signed in$/);
		await p.says('[data-person="tom.aldous@kelpwick.example"] td', /^not invited yet$/);
	} finally {
		await p.close();
	}
});
