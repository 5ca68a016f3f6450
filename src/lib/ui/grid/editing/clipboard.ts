/** Blocks of cells as text, the way spreadsheets exchange them: tabs between cells, lines between rows (RFC 4180 quotes). */
import type { Entered, ReadText } from '../entered';
import { heightOf, widthOfBlock, type Block } from '../range';
import type { Place } from '../types';

/** Reads a copied block. A quoted cell may hold tabs and line ends. */
export function readBlock(text: string): string[][] {
	const rows: string[][] = [[]];
	const clean = text.replace(/\r\n?/g, '\n').replace(/\n$/, '');
	const cell = /"((?:[^"]|"")*)"(?=\t|\n|$)|([^\t\n]*)/y;
	for (let i = 0; i <= clean.length;) {
		cell.lastIndex = i;
		const found = cell.exec(clean)!;
		rows.at(-1)!.push(found[1] === undefined ? found[2] : found[1].replaceAll('""', '"'));
		i = cell.lastIndex;
		if (clean[i] === '\n') rows.push([]);
		i++;
	}
	return rows;
}

/** Writes a block; a cell that holds a tab, a line end or a quote is quoted. */
export const writeBlock = (rows: readonly (readonly string[])[]): string =>
	rows
		.map((row) => row.map((t) => (/[\t\n"]/.test(t) ? `"${t.replaceAll('"', '""')}"` : t)).join('\t'))
		.join('\n');

/** What a pasted cell falls on. */
export interface PasteTarget {
	editable: boolean;
	read(text: string): ReadText;
	/** Why it cannot be typed. */
	reason: string;
}

export interface PastePlan {
	put: (Place & { value: Entered })[];
	/** Cells that would be left out, and why. */
	left: (Place & { text: string; reason: string })[];
	/** Cells that fall outside the grid. */
	outside: number;
	/** The block that is written to. */
	block: Block;
	/** The pasted block and the chosen one differ, so that it is not plain what is meant. */
	shapesDiffer: boolean;
}

/**
 * Where each pasted cell goes. One value fills the chosen block; a block that fits into it several times is repeated;
 * else it is laid down from the first chosen cell.
 */
export function planPaste(
	cells: readonly (readonly string[])[],
	chosen: Block,
	size: { rows: number; columns: number },
	targetAt: (place: Place) => PasteTarget
): PastePlan {
	const rows = cells.length;
	const columns = Math.max(...cells.map((line) => line.length));
	const [height, width] = [heightOf(chosen), widthOfBlock(chosen)];
	const repeats = height % rows === 0 && width % columns === 0;
	const block = repeats
		? chosen
		: { ...chosen, bottom: chosen.top + rows - 1, right: chosen.left + columns - 1 };
	const plan: PastePlan = {
		put: [],
		left: [],
		outside: 0,
		block: {
			...block,
			bottom: Math.min(block.bottom, size.rows - 1),
			right: Math.min(block.right, size.columns - 1)
		},
		shapesDiffer: !repeats && (height > 1 || width > 1)
	};
	for (let r = block.top; r <= block.bottom; r++)
		for (let c = block.left; c <= block.right; c++) {
			const text = cells[(r - block.top) % rows][(c - block.left) % columns];
			if (text === undefined) continue;
			if (r >= size.rows || c >= size.columns) {
				if (text.trim() !== '') plan.outside++;
				continue;
			}
			const target = targetAt({ r, c });
			if (!target.editable) {
				plan.left.push({ r, c, text, reason: target.reason });
				continue;
			}
			const read = target.read(text);
			if ('value' in read) plan.put.push({ r, c, value: read.value });
			else plan.left.push({ r, c, text, reason: read.reason });
		}
	return plan;
}
