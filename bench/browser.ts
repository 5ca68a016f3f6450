/** Measuring in a real browser: a company in a running application, a page that opens, typing into its grid. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type chrome from 'selenium-webdriver/chrome';
import { type CompanyData, storeCompany } from '../src/lib/server/company/subjects';
import { openDatabase } from '../src/lib/server/platform/db/connect';
import { serve } from '../tests/support/app';
import { Person } from '../tests/support/browser';
import { report } from './measure';

/** Starts the built application on a company, and a browser in which its user is signed in. */
export async function withCompany(
	data: CompanyData,
	email: string,
	run: (p: Person, url: string) => Promise<void>
): Promise<void> {
	const home = mkdtempSync(join(tmpdir(), 'bench-'));
	const database = join(home, 'bench.sqlite');
	const db = await openDatabase(database);
	await storeCompany(db, data);
	await db.destroy();
	const app = await serve(home, database, {});
	const p = await Person.open();
	try {
		await p.driver.manage().setTimeouts({ script: 120_000 });
		await p.signIn(app.url, email);
		await run(p, app.url);
	} finally {
		await p.close();
		await app.stop();
		rmSync(home, { recursive: true, force: true });
	}
}

/** Prints milliseconds beside those that are aimed at. */
export const print = (metric: string, ours: number, goal: number, note: string) =>
	report(metric, ours, goal, 'ms', note);

export const at = (list: readonly number[], share: number) =>
	[...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))];

/** Waits for a condition in the page; milliseconds since `start`. */
export async function since(start: number, p: Person, condition: string): Promise<number> {
	await p.driver.wait(() => p.driver.executeScript(`return ${condition}`), 60_000, condition, 20);
	return performance.now() - start;
}
/** That something stands in the page, and the page answers. */
export const stands = (css: string) =>
	`document.querySelector(${JSON.stringify(css)}) !== null && document.documentElement.dataset.ready === 'yes'`;

/**
 * Opens an address: milliseconds until something stands in it.
 * @param answers and the page answers to keys and clicks, which ours say of themselves
 */
export async function opening(p: Person, url: string, css: string, answers = true): Promise<number> {
	const start = performance.now();
	await p.driver.get(url);
	return since(start, p, answers ? stands(css) : `document.querySelector(${JSON.stringify(css)}) !== null`);
}

/** In a page that begins: notes when something stands in it and the frame that shows it has been painted. */
const NOTE_PAINTED = (css: string) => `
const look = () =>
	document.querySelector(${JSON.stringify(css)})
		? setTimeout(() => (window.painted = performance.now()))
		: requestAnimationFrame(look);
requestAnimationFrame(look);`;

/** From now on `painted` is noted of every page. */
export const notePainted = (p: Person, css: string): Promise<unknown> =>
	(p.driver as unknown as chrome.Driver).sendDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', {
		source: NOTE_PAINTED(css)
	});
/** Milliseconds from asking for the page's address to the frame in which that stood. */
export const painted = (p: Person): Promise<number> =>
	p.driver.executeAsyncScript(
		`const done = arguments[0]; const look = () => (window.painted ? done(window.painted) : setTimeout(look, 10)); look();`
	);

/** In the page: types into a cell again and again, and waits each time until a total has been painted anew. */
const TYPING = `
const [times, css, totalCss, done] = arguments;
const grid = document.querySelector('[role=treegrid]');
const total = () => document.querySelector(totalCss).textContent;
const frame = () => new Promise((r) => requestAnimationFrame(() => setTimeout(r)));
const key = (key) => grid.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
(async () => {
	const taken = [];
	document.querySelector(css).dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, button: 0 }));
	window.dispatchEvent(new PointerEvent('pointerup'));
	grid.focus();
	for (let n = 0; n < times; n++) {
		key('F2');
		await frame();
		const input = grid.querySelector('input.typing');
		input.value = String(1000 + Math.floor(Math.random() * 1e6));
		input.dispatchEvent(new Event('input', { bubbles: true }));
		const before = total();
		const start = performance.now();
		input.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }));
		while (total() === before && performance.now() - start < 20000) await frame();
		taken.push(performance.now() - start);
		key('ArrowUp');
		await frame();
	}
	done(taken);
})();`;
export const typing = (p: Person, times: number, cell: string, total: string): Promise<number[]> =>
	p.driver.executeAsyncScript(TYPING, times, cell, total);

/** A cell of the grid, for selectors. */
export const cellAt = (row: string, column: string) => `[data-row="${row}"] [data-column="${column}"]`;
