/** How long a key takes in a real browser, from the event to the frame that shows what it does. */
import type { WebElement } from 'selenium-webdriver';
import type { Person } from '../tests/support/browser';
import { Key } from '../tests/support/browser';

/** In the page: from the next key on, frame by frame, until something is so; its promise is kept. */
const WATCH = `
const [condition] = arguments;
const holds = new Function('return ' + condition);
window.taken = new Promise((done) =>
	document.addEventListener(
		'keydown',
		(event) => {
			const look = () => setTimeout(() => (holds() ? done(performance.now() - event.timeStamp) : requestAnimationFrame(look)));
			requestAnimationFrame(look);
		},
		{ capture: true, once: true }
	)
);`;

/** Milliseconds from a key to the frame after which the condition, written for the page, holds. */
async function keyUntil(p: Person, key: string, condition: string): Promise<number> {
	await p.driver.executeScript(WATCH, condition);
	await p.keys(key);
	return p.driver.executeAsyncScript('window.taken.then(arguments[0])');
}

/** A cell of a grid that is typed into, and its editor, as selectors. */
export interface Typed {
	cell: string;
	editor: string;
	/** Its text, as an expression in the page; what is typed is a whole number below 1,000. */
	text: string;
}

export interface Keys {
	/** From the first key of a figure to its editor. */
	first: number[];
	/** From Enter to the cell that shows it. */
	enter: number[];
}

/** Types other figures into a cell, so many times. */
export async function typedInto(p: Person, times: number, { cell, editor, text }: Typed): Promise<Keys> {
	const taken: Keys = { first: [], enter: [] };
	const find = (): Promise<WebElement> => p.find(cell);
	for (let n = 0; n < times; n++) {
		await (await find()).click();
		const figure = String(101 + n);
		taken.first.push(await keyUntil(p, figure[0], `document.querySelector('${editor}') !== null`));
		await p.keys(figure.slice(1));
		taken.enter.push(await keyUntil(p, Key.ENTER, `(${text}) === '${figure}'`));
	}
	return taken;
}
