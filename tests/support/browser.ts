/** Headless Chromium, and a person's moves in it. */
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, By, error, Key, until, type WebDriver, type WebElement } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';

export { By, Key };

const SWITCHES = [
	'--headless',
	'--no-sandbox',
	'--disable-gpu',
	'--disable-quic',
	'--no-first-run',
	'--disable-background-networking',
	'--disable-component-update',
	'--disable-sync',
	'--force-device-scale-factor=1'
];
const WAIT = 15_000;
/** Longer than any page takes on a slow machine (milliseconds). */
const LOADS = 60_000;
/** Between two looks (milliseconds): most of what is waited for is there soon. */
const OFTEN = 20;

/** In the page: the first element of this kind that is seen and whose words fit, as they are seen. */
const NAMED = `
	const [css, words, flags] = arguments;
	const fits = flags === null ? (text) => text === words : (text) => new RegExp(words, flags).test(text);
	const seen = (e) => (e.innerText ?? e.textContent).replace(/[\\t\\u00a0]+/g, ' ').replace(/ *\\n */g, '\\n').trim();
	return [...document.querySelectorAll(css)].find(
		(e) => e.checkVisibility({ visibilityProperty: true }) && fits(seen(e))
	) ?? null;
`;

export class Person {
	private constructor(
		readonly driver: WebDriver,
		private readonly profile: string,
		readonly downloads: string
	) {}

	static async open(): Promise<Person> {
		const profile = mkdtempSync(join(tmpdir(), 'chromium-'));
		const downloads = join(profile, 'downloads');
		mkdirSync(downloads);
		const options = new chrome.Options();
		options.addArguments(...SWITCHES, `--user-data-dir=${profile}`);
		options.setChromeBinaryPath('/usr/bin/chromium');
		options.setUserPreferences({ 'download.default_directory': downloads });
		const driver = await new Builder()
			.forBrowser('chrome')
			.setChromeOptions(options)
			.setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
			.build();
		const { wait } = driver;
		driver.wait = function (condition: never, timeout?: number, message?: string, poll = OFTEN) {
			return wait.call(driver, condition, timeout, message, poll);
		} as typeof wait;
		const person = new Person(driver, profile, downloads);
		await driver.manage().setTimeouts({ pageLoad: LOADS });
		await person.size(1280, 800);
		return person;
	}
	/** Makes the page itself this large. */
	async size(width: number, height: number) {
		await this.driver.manage().window().setRect({ width, height });
		const [w, h] = (await this.driver.executeScript('return [innerWidth, innerHeight]')) as [number, number];
		await this.driver
			.manage()
			.window()
			.setRect({ width: 2 * width - w, height: 2 * height - h });
	}
	async close() {
		await this.driver.quit();
		rmSync(this.profile, { recursive: true, force: true });
	}
	async signIn(url: string, email: string) {
		// The page of whoever was here is left first: what it still asks would be refused, and told as a complaint.
		await this.load('about:blank');
		await (this.driver as chrome.Driver).sendDevToolsCommand('Network.clearBrowserCookies', {});
		await this.load(`${url}/signin`);
		await (await this.find(`button[value="${email}"]`)).click();
		await this.within();
	}
	/** Whoever has signed in is in the application, no more on the page before it. */
	async within() {
		await this.find('nav[aria-label="Stages of the work"]');
		await this.settled();
	}
	async go(url: string) {
		await this.load(url);
		await this.settled();
	}
	/** While it runs, what is asked of these addresses (`*` for anything) never reaches the server. */
	async withoutReaching(addresses: readonly string[], run: () => Promise<void>) {
		const blocks = (urls: readonly string[]) =>
			(this.driver as chrome.Driver).sendDevToolsCommand('Network.setBlockedURLs', { urls });
		await (this.driver as chrome.Driver).sendDevToolsCommand('Network.enable', {});
		await blocks(addresses);
		try {
			await run();
		} finally {
			await blocks([]);
		}
	}
	/** Once in thousands of addresses the browser never ends loading one; it is asked for once more, and that is said. */
	private async load(url: string) {
		try {
			await this.driver.get(url);
		} catch (e) {
			if (!(e instanceof error.TimeoutError)) throw e;
			console.warn(`${url} was not loaded and is asked for again: ${e.message}`);
			await this.driver.get(url);
		}
	}
	/** Waits until the page has taken over from the server's picture of it. */
	async settled() {
		await this.driver.wait(
			async () =>
				(await this.driver.executeScript('return document.documentElement.dataset.ready')) === 'yes',
			WAIT
		);
	}
	find(css: string): Promise<WebElement> {
		return this.driver.wait(until.elementLocated(By.css(css)), WAIT, `nothing is ${css}`);
	}
	/** The element of this kind with these words. */
	async named(css: string, words: string | RegExp): Promise<WebElement> {
		const [source, flags] = typeof words === 'string' ? [words, null] : [words.source, words.flags];
		let found: WebElement | null = null;
		await this.driver.wait(
			async () =>
				(found = await this.driver.executeScript<WebElement | null>(NAMED, css, source, flags)) !== null,
			WAIT,
			`no ${css} is named ${words}`
		);
		return found!;
	}
	async click(css: string, words: string | RegExp) {
		await this.driver.wait(async () => {
			try {
				await (await this.named(css, words)).click();
				return true;
			} catch (e) {
				// It was drawn anew between being found and being clicked: the new one is meant.
				if (e instanceof error.StaleElementReferenceError) return false;
				throw e;
			}
		}, WAIT);
	}
	async says(css: string, words: RegExp) {
		await this.named(css, words);
	}
	/** Tabs until the focused element’s label, tag and role fit. */
	async tabTo(fits: RegExp, most = 60) {
		for (let i = 0; i < most; i++) {
			await this.keys(Key.TAB);
			const label = (await this.driver.executeScript(
				`const e = document.activeElement; return (e.getAttribute('aria-label') || e.innerText || e.labels?.[0]?.innerText || '') + '|' + e.tagName + '|' + (e.getAttribute('role') || '')`
			)) as string;
			if (fits.test(label)) return;
		}
		throw new Error(`Tab does not lead to ${fits}`);
	}
	/** Waits to be told this at the foot of the screen and puts it away, so that it is not taken for the next word. */
	async told(words: RegExp) {
		const notice = await this.named('.notice', words);
		await this.driver.executeScript(`[...arguments[0].querySelectorAll('button')].at(-1).click()`, notice);
		await this.driver.wait(until.stalenessOf(notice), WAIT, `${words} does not go`);
	}
	async gone(css: string) {
		await this.driver.wait(
			async () => (await this.driver.findElements(By.css(css))).length === 0,
			WAIT,
			`${css} is still there`
		);
	}
	/** A cell of the grid by row and column. */
	cell(row: string, column: string): Promise<WebElement> {
		return this.find(`[data-row="${row}"] [data-column="${column}"]`);
	}
	async cellText(row: string, column: string): Promise<string> {
		return (await (await this.cell(row, column)).getText()).replace(/[\n\r].*/s, '');
	}
	/** Waits for a cell to show a text. */
	async cellShows(row: string, column: string, text: string) {
		await this.driver.wait(
			async () => {
				try {
					return (await this.cellText(row, column)) === text;
				} catch {
					return false;
				}
			},
			WAIT,
			`${row}/${column} does not show ${text}`
		);
	}
	async keys(...keys: string[]) {
		await this.driver
			.actions()
			.sendKeys(...keys)
			.perform();
	}
	async chord(modifier: string, key: string) {
		await this.driver.actions().keyDown(modifier).sendKeys(key).keyUp(modifier).perform();
	}
	/** Puts text on the clipboard and pastes it where the focus is. */
	async paste(text: string) {
		await this.driver.executeScript(
			`const data = new DataTransfer(); data.setData('text/plain', arguments[0]);
			document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));`,
			text
		);
	}
	/** What the API answers to the person who is signed in. */
	read<T>(path: string): Promise<T> {
		return this.driver.executeScript(`return fetch('/api/v1/' + arguments[0]).then((r) => r.json())`, path);
	}
	async picture(file: string) {
		writeFileSync(file, Buffer.from(await this.driver.takeScreenshot(), 'base64'));
	}
	/** What the browser complained about since last asked. */
	async complaints(): Promise<string[]> {
		return (await this.driver.manage().logs().get('browser')).map((l) => l.message);
	}
}
