/** Scrolling a grid in a real browser: how long frames take, and how much of what is in sight is there. */
import type { Person } from '../tests/support/browser';

/** In the page: an expression that says of a grid where it is scrolled and what of it is drawn. */
export interface Drawn {
	/** `{ down, along }`: the elements that scroll; `sight`: pixels in sight in both directions. */
	parts: string;
	/** `[from, size][]` of the rows drawn, in pixels of the scrolled content; by what is written in the page. */
	rows: string;
	/** The same of the cells of one of its rows. */
	columns: string;
}

export const OURS: Drawn = {
	parts: `(() => {
		const grid = document.querySelector('[role=treegrid]');
		const row = grid.querySelector('.cells > .row');
		return { down: grid, along: grid, height: row.getBoundingClientRect().height, sight: {
			down: grid.clientHeight - grid.querySelector('.head').getBoundingClientRect().height,
			along: grid.clientWidth - grid.querySelector('.names').clientWidth,
			before: grid.querySelector('.names').clientWidth } };
	})()`,
	rows: `[...document.querySelectorAll('.cells > .row')].map((row) => [Number(row.dataset.r) * parts.height, parts.height])`,
	columns: `[...document.querySelectorAll('.cells > .row:first-child > [role=gridcell]')].map((cell) => [
		parseFloat(cell.style.marginLeft) - parts.sight.before, parseFloat(cell.style.width)])`
};

export const PEER: Drawn = {
	parts: `(() => {
		const along = document.querySelector('revogr-viewport-scroll.rgCol');
		const down = along.querySelector('.vertical-inner');
		return { down, along, sight: { down: down.clientHeight, along: along.clientWidth, before: 0 } };
	})()`,
	rows: `[...parts.down.querySelectorAll('.rgRow')].map((row) => [
		parseFloat(/translateY\\(([-\\d.]+)/.exec(row.style.transform)[1]), parseFloat(row.style.height)])`,
	columns: `[...parts.down.querySelector('.rgRow').querySelectorAll('.rgCell')].map((cell) => [
		parseFloat(/translateX\\(([-\\d.]+)/.exec(cell.style.transform)[1]), parseFloat(cell.style.width)])`
};

const scrollingOf = ({ parts, rows, columns }: Drawn) => `
const [frames, down, along, done] = arguments;
const parts = ${parts};
const taken = [];
const covered = [];
const { sight } = parts;
parts.down.scrollTop = 0;
parts.along.scrollLeft = 0;
const share = ([from, size], low, room) => Math.max(0, Math.min(from + size, low + room) - Math.max(from, low)) / room;
const seen = (list, low, room) => Math.min(1, list.reduce((sum, part) => sum + share(part, low, room), 0));
// Where it is scrolled was written here: asking for it would lay the page out.
let [top, left] = [0, 0];
const most = parts.along.scrollWidth - parts.along.clientWidth;
const look = () => covered.push((down ? seen(${rows}, top, sight.down) : 1) * (along ? seen(${columns}, left, sight.along) : 1));
const after = new MessageChannel();
let last = performance.now();
let n = 0;
let sign = 1;
const step = (now) => {
	taken.push(now - last);
	last = now;
	if (++n > frames) return done({ taken: taken.slice(1), covered });
	if (down) parts.down.scrollTop = top += down;
	if (along) {
		if (left + along * sign < 0 || left + along * sign > most) sign = -sign;
		parts.along.scrollLeft = left += along * sign;
	}
	after.port2.postMessage(null);
	requestAnimationFrame(step);
};
after.port1.onmessage = look;
requestAnimationFrame(step);`;

export interface Scrolled {
	/** Mean share of the cells in sight that were there when a frame had been painted. */
	covered: number;
	/** Milliseconds of each frame. */
	frames: number[];
}

/** Scrolls by so many pixels a frame, down or along. */
export async function scrolled(p: Person, drawn: Drawn, down: number, along: number): Promise<Scrolled> {
	const { taken, covered }: { taken: number[]; covered: number[] } = await p.driver.executeAsyncScript(
		scrollingOf(drawn),
		300,
		down,
		along
	);
	return { covered: covered.reduce((a, b) => a + b, 0) / covered.length, frames: taken };
}
