/**
 * Ten times the demo company in a real browser, against the demo itself in the same run: each main page, typing, saving,
 * loading a month. Prints a JSON line for each.
 */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readFolder } from '../src/lib/server/transfer/folder';
import { readCompany } from '../src/lib/server/company/subjects';
import { Key, type Person } from '../tests/support/browser';
import { at, cellAt, opening, since, stands, typing, withCompany } from './browser';
import { report } from './measure';
import { multiplied } from './multiply';

const TIMES = Number(process.argv[2] ?? 10);
const EMAIL = 'maren.holt@kelpwick.example';
const FORECAST = 'fy27-forecast-6-6';
const WINDOW = 'from=2027-04&to=2028-03';

/** What is read once the figures stand: a cell with a figure in it. */
const figure = (row: string, column: string) => `${cellAt(row, column)} .value:not(:empty)`;
const PAGES: [name: string, path: string, css: string][] = [
	['model', `drivers/boat_sales?scenario=${FORECAST}&open=units`, figure('units', '2026-12')],
	[
		'model.arranged',
		`drivers/boat_sales?scenario=${FORECAST}&rows=line,product&across=channel&open=units`,
		'[data-row="units"] .value:not(:empty)'
	],
	['plan.whole', `plan?scenario=fy28-budget&department=kelpwick&${WINDOW}`, figure('revenue', '2027-04')],
	[
		'plan.departments',
		`plan?scenario=fy28-budget&department=kelpwick&arranged=departments&${WINDOW}`,
		'[role=treegrid] .row:nth-child(3) .value:not(:empty)'
	],
	[
		'plan.department',
		`plan?scenario=fy28-budget&department=dealer-sales&${WINDOW}`,
		figure('6240', '2027-04')
	],
	[
		'schedule',
		`plan/schedules/staff?scenario=fy28-budget&department=kelpwick&${WINDOW}&line=fte`,
		figure('K001', '2027-04')
	],
	['compare', `compare?scenario=${FORECAST}`, figure('revenue', 'difference')],
	['scenarios', 'forecast', 'main table td'],
	['history', `forecast/history?scenario=fy28-budget`, 'main h1'],
	['what-if', 'forecast/what-if?scenario=dearer-kayaks', 'tr[data-measure="account:revenue"] td'],
	['map', 'setup/map', 'main h1'],
	['accounts', 'setup/accounts', 'main h1'],
	['departments', 'setup/departments', 'main h1'],
	['people', 'setup/people', 'main h1'],
	['collect', 'collect', 'main table td'],
	['members', 'drivers/members?scenario=fy28-budget', 'main h1']
];

/** By metric: milliseconds, and what was measured. */
type Taken = Map<string, { ms: number; note: string }>;

async function pages(p: Person, url: string, taken: Taken) {
	for (const [name, path, css] of PAGES) {
		const times: number[] = [];
		for (let i = 0; i < 3; i++) times.push(await opening(p, `${url}/${path}`, css));
		taken.set(name, { ms: at(times, 0.5), note: 'median of 3, from the address to figures' });
	}
}
/** Types and saves: the first figure that follows, those after it, and the save. */
async function edits(p: Person, name: string, address: string, cell: string, total: string, taken: Taken) {
	const firsts: number[] = [];
	for (let i = 0; i < 3; i++) {
		if (i > 0) await p.click('main button', 'Discard');
		await opening(p, address, `${cell} .value`);
		firsts.push((await typing(p, 1, cell, total))[0]);
	}
	taken.set(`${name}.first`, {
		ms: at(firsts, 0.5),
		note: 'median of 3, from Enter to the total, at once after opening'
	});
	const times = await typing(p, 15, cell, total);
	taken.set(`${name}.edit`, { ms: at(times, 0.95), note: '95th percentile of 15 after it' });
	const start = performance.now();
	await p.chord(Key.CONTROL, 's');
	const saved = `/saved/.test(document.querySelector('.notice')?.textContent ?? '')`;
	taken.set(`${name}.save`, {
		ms: await since(start, p, saved),
		note: 'from Ctrl+S to the word that it is saved'
	});
}
async function targets(p: Person, url: string, taken: Taken) {
	// The budget has its targets already.
	const address = `${url}/plan/targets?scenario=${FORECAST}&department=kelpwick&from=2026-10&to=2027-09`;
	await opening(p, address, 'main button');
	const start = performance.now();
	await p.click('main button', 'Make targets');
	const css = figure('kelpwick', 'revenue/target');
	taken.set('targets.make', {
		ms: await since(start, p, stands(css)),
		note: 'a scenario of targets is made'
	});
	const times: number[] = [];
	for (let i = 0; i < 3; i++) times.push(await opening(p, address, css));
	taken.set('targets', { ms: at(times, 0.5), note: 'median of 3, from the address to figures' });
}
/** A month's file, from choosing it to the word that it is loaded. */
async function load(p: Person, url: string, times: number, taken: Taken) {
	const [head, ...rows] = readFileSync('demo/inbox/ledger-2026-10.csv', 'utf8').trimEnd().split('\n');
	const folder = mkdtempSync(join(tmpdir(), 'bench-'));
	const file = join(folder, 'ledger-2026-10.csv');
	writeFileSync(file, [head, ...Array.from({ length: times }, () => rows).flat(), ''].join('\n'));
	try {
		const previews: number[] = [];
		for (let n = 0; n < 3; n++) {
			await opening(p, `${url}/setup/feed`, '#file');
			const start = performance.now();
			await (await p.find('#file')).sendKeys(file);
			await p.says('section h2', /not mapped/);
			previews.push(performance.now() - start);
		}
		taken.set('feed.preview', {
			ms: at(previews, 0.5),
			note: `median of 3, ${rows.length * times} entries`
		});
		const loading = performance.now();
		await p.click('button', /^Load Oct/);
		await p.says('.notice', /loaded/);
		taken.set('feed.load', { ms: performance.now() - loading, note: 'the same entries' });
	} finally {
		rmSync(folder, { recursive: true, force: true });
	}
}

async function measured(times: number): Promise<Taken> {
	const demo = readCompany(readFolder('demo/company'));
	const data = times === 1 ? demo : multiplied(demo, times);
	const taken: Taken = new Map();
	console.log(
		JSON.stringify({
			company: `${data.entries.length} entries, ${data.departments.length} departments, ${data.models.reduce((n, m) => n + m.rows.length, 0)} model rows`
		})
	);
	await withCompany(data, EMAIL, async (p, url) => {
		const start = performance.now();
		await p.go(`${url}/plan?scenario=fy28-budget&department=kelpwick&${WINDOW}`);
		taken.set('first', {
			ms: performance.now() - start,
			note: 'the first page after the server has started'
		});
		await pages(p, url, taken);
		await edits(
			p,
			'model',
			`${url}/drivers/boat_sales?scenario=${FORECAST}&open=units`,
			cellAt('units@tern-9|dealer|south', '2026-12'),
			`${cellAt('units', '2026-12')} .value`,
			taken
		);
		await edits(
			p,
			'plan',
			`${url}/plan?scenario=fy28-budget&department=dealer-sales&${WINDOW}`,
			cellAt('6240', '2027-04'),
			`${cellAt('6240', 'total')} .value`,
			taken
		);
		await edits(
			p,
			'schedule',
			`${url}/plan/schedules/staff?scenario=fy28-budget&department=kelpwick&${WINDOW}&columns=name,annual`,
			cellAt('K001', 'annual'),
			`${cellAt('K001', '2027-06')} .value`,
			taken
		);
		await targets(p, url, taken);
		await load(p, url, times, taken);
	});
	return taken;
}

const demo = await measured(1);
for (const [name, { ms, note }] of await measured(TIMES))
	report(`large.${name}`, ms, demo.get(name)!.ms, 'ms', note);
