/** A list of names typed or pasted as an outline: what is indented further lies under what stands above it. */
import { textFault } from '../text';
import { codeFor } from './code';
import { MOST_LEVELS, type TreeItem } from './tree';

export interface OutlineFault {
	/** 1 is the first line of the text. */
	line: number;
	message: string;
}
export interface Outline {
	/** In their order, parents first. */
	items: TreeItem[];
	faults: OutlineFault[];
}

/** More lines are not read: a list so long comes from a file. */
export const MOST_LINES = 2000;
const LONGEST_NAME = 120;
/** A tab reaches to the next multiple of so many spaces. */
const TAB = 4;
/** A sign that stands before each entry of a list, and what surrounds it. */
const BULLET = /^[-–•*]\s+/;

/**
 * Reads an outline. Indenting is by spaces or tabs, as many as one likes; signs of a list before a name are left out.
 * @param otherwise the code of what has no letter of use in its name
 * @param taken codes that others have
 */
export function readOutline(text: string, otherwise: string, taken: Iterable<string> = []): Outline {
	const outline: Outline = { items: [], faults: [] };
	const lines = text.split(/\r\n?|\n/);
	if (lines.length > MOST_LINES) {
		const message = `has ${lines.length} lines; at most ${MOST_LINES} are taken here. Load a longer list from a file.`;
		return { items: [], faults: [{ line: MOST_LINES + 1, message }] };
	}
	const codes = new Set(taken);
	/** Where a line can lie: each is indented further than the one before it. */
	let above: { indent: number; code: string }[] = [];
	const named = new Set<string>();
	lines.forEach((whole, i) => {
		const rest = whole.trimStart();
		const name = rest.replace(BULLET, '').trim();
		if (name === '') return;
		const fault = (message: string) => outline.faults.push({ line: i + 1, message });
		const wrong = textFault(name);
		if (wrong) return fault(`“${name}” ${wrong}`);
		if (name.length > LONGEST_NAME)
			return fault(`has ${name.length} characters; a name has at most ${LONGEST_NAME}`);
		const indent = widthOf(whole.slice(0, whole.length - rest.length));
		above = above.filter((a) => a.indent < indent);
		if (above.length >= MOST_LEVELS) return fault(`“${name}” lies more than ${MOST_LEVELS} levels deep`);
		const parent = above.at(-1)?.code ?? null;
		const place = `${parent}\n${name.toLowerCase()}`;
		if (named.has(place)) return fault(`“${name}” stands twice in the same place`);
		named.add(place);
		const code = codeFor(name, '-', codes, otherwise);
		codes.add(code);
		above.push({ indent, code });
		outline.items.push({ code, name, parent });
	});
	return outline;
}

function widthOf(blank: string): number {
	let width = 0;
	for (const sign of blank) width = sign === '\t' ? (Math.floor(width / TAB) + 1) * TAB : width + 1;
	return width;
}
