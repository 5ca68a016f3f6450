/** One company set up by the screens, by the API alone, and from a zip: the same folder each time. */
import { strFromU8, unzipSync } from 'fflate';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { Key, Person } from '../support/browser';

/** A services company by weeks from September, of nine departments and two legal entities, with sixty accounts of last year. */
const person = { name: 'Ada Lind', email: 'ada@lind.example', password: 'long enough 1' };
const company = { name: 'Lind & Partner', currency: 'CHF' };
const departments = [
	'Advisory',
	'  Strategy',
	'  Tax',
	'  Audit',
	'Delivery',
	'  Projects',
	'  Support',
	'Boston',
	'Office'
].join('\n');
const inc = { name: 'Lind Inc', currency: 'USD', department: 7, rate: 0.88 };
/** Thirty of income and cost, thirty of the balance sheet; the two sides are equal. */
const LIST: [code: string, name: string, balance: number][] = [
	...['Consulting fees', 'Audit fees', 'Training', 'Travel recharged', 'Commission received'].map(
		(name, i) => [String(3400 + i * 10), name, -(240_000 - i * 40_000)] as [string, string, number]
	),
	...['Salaries', 'Bonuses', 'Pension', 'Social security', 'Subcontractors'].map(
		(name, i) => [String(5000 + i * 100), name, 96_000 - i * 17_000] as [string, string, number]
	),
	...Array.from({ length: 20 }, (_, i): [string, string, number] => [
		String(6000 + i * 50),
		`${['Office rent', 'Power', 'Insurance', 'Software', 'Advertising'][i % 5]} ${Math.floor(i / 5) + 1}`,
		1_200 + i * 100
	]),
	...Array.from({ length: 29 }, (_, i): [string, string, number] =>
		i < 15
			? [String(1000 + i * 10), `Bank ${i + 1}`, 4_000 + i * 100]
			: [String(2000 + i * 10), `Payables ${i - 14}`, -(1_000 + i * 50)]
	)
];
const rest = LIST.reduce((s, [, , balance]) => s - balance, 0);
const trialBalance = [
	'Account;Name;Balance',
	...[...LIST, ['2800', 'Share capital', rest]].map((r) => r.join(';'))
].join('\n');

let apps: App[];
beforeEach(async () => {
	apps = await Promise.all([1, 2, 3].map(() => startApp(null, { YARDSTAVE_DEMO: '0' })));
});
afterEach(() => Promise.all(apps.map((app) => app.stop())));
const addressOf = (app: App) => /http\S+\/begin\?key=\S+/.exec(app.said())![0];
const keyOf = (app: App) => new URL(addressOf(app)).searchParams.get('key')!;

async function zipOf(app: App): Promise<Uint8Array<ArrayBuffer>> {
	const analyst = await Client.withPassword(app, person.email, person.password);
	const answer = await analyst.fetch('/api/v1/company/folder');
	expect(answer.status).toBe(200);
	return new Uint8Array(await answer.arrayBuffer());
}
const filesIn = (zip: Uint8Array) =>
	Object.fromEntries(Object.entries(unzipSync(zip)).map(([path, bytes]) => [path, strFromU8(bytes)]));

it('is the same company by screens, by API and by zip', async () => {
	const [byScreen, byApi, byZip] = apps;
	const p = await Person.open();
	try {
		await p.go(addressOf(byScreen));
		const type = async (css: string, text: string) => (await p.find(css)).sendKeys(text);
		await type('#name', person.name);
		await type('#email', person.email);
		await type('#password', person.password);
		await type('#company', company.name);
		await type('#currency', company.currency);
		await type('#way', 'Weeks, grouped 4-4-5');
		await type('#start', 'Sep');
		await p.click('label', /^Services/);
		await type('#departments', departments);
		await p.click('button', /^A department belongs to another legal entity/);
		await type('#entity-name-0', inc.name);
		await type('#entity-department-0', 'Boston');
		await type('#entity-currency-0', Key.chord(Key.CONTROL, 'a') + inc.currency);
		await type('#entity-rate-0', String(inc.rate));
		await type('#history', trialBalance);
		await p.says('.said p', /^60 accounts, /);
		await p.click('button', 'Set up and plan');
		await p.says('h1', /^Department plan: /);
	} finally {
		await p.close();
	}
	const zip = await zipOf(byScreen);
	const files = filesIn(zip);
	expect(files['entities.csv']).toContain('lind-inc,Lind Inc,USD');
	expect(files['ledger-accounts.csv'].trim().split('\n')).toHaveLength(1 + 60);

	const nobody = await Client.signIn(byApi, null);
	const answer = await nobody.post('founding', {
		key: keyOf(byApi),
		person,
		company: {
			...company,
			calendar: { kind: 'weeks', grouping: '4-4-5', fiscalStart: 9, endsOn: 6, rule: 'nearest' }
		},
		chart: 'services',
		departments,
		entities: [inc],
		year:
			Number(/^FY(\d+) Budget/m.exec(files['scenarios.csv'].split(',').find((c) => /^FY/.test(c))!)![1]) +
			2000,
		history: { file: 'the list', content: trialBalance, through: throughOf(files), department: null },
		begins: 'last-year'
	});
	expect([answer.status, answer.error]).toEqual([200, undefined]);
	expect(filesIn(await zipOf(byApi))).toEqual(files);

	const form = new FormData();
	form.set('file', new File([zip], 'lind.zip'));
	form.set('request', JSON.stringify({ person }));
	const elsewhere = await Client.signIn(byZip, null);
	const loaded = await elsewhere.fetch(`/api/v1/founding/folder?key=${keyOf(byZip)}`, {
		method: 'POST',
		body: form
	});
	expect(loaded.status).toBe(200);
	expect(filesIn(await zipOf(byZip))).toEqual(files);
});
/** The period up to which last year was taken: the last of the ledger. */
const throughOf = (files: Record<string, string>) =>
	Object.keys(files)
		.map((path) => /^ledger\/(.*)\.csv$/.exec(path)?.[1])
		.filter((period) => period !== undefined)
		.sort()
		.at(-1)!;
