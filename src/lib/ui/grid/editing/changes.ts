/** Changes to what is chosen in a sheet, and its text for the clipboard. */
import { counted, digits } from '../../writing/count';
import type { NumberFormat } from '../../../core/company/schema';
import { plain, readFigure } from '../../writing/format';
import type { Entered, ReadText } from '../entered';
import { planPaste, readBlock, writeBlock, type PastePlan } from './clipboard';
import { continued, linesFrom } from './fill';
import { heightOf, placesOf, widthOfBlock, type Block } from '../range';
import { formatOf, reasonOf, type Put, type Sheet } from '../sheet.svelte';

/** Takes away what is typed. @returns whether there was anything that can be taken away */
export function clearChosen(sheet: Sheet): boolean {
	const list = placesOf(sheet.range).filter((at) => sheet.clearable(at));
	sheet.put(list.map((at) => ({ ...at, value: null })));
	return list.length > 0;
}

/**
 * What is typed in the chosen cells becomes something else.
 * @param next undefined for a cell that stays as it is
 * @returns how many became something else
 */
export function changeChosen(
	sheet: Sheet,
	next: (typed: Entered, format: NumberFormat) => Entered | undefined
): number {
	const list = placesOf(sheet.range).flatMap((at): Put[] => {
		if (!sheet.writable(at)) return [];
		const [row, column, cell] = [sheet.rowAt(at.r)!, sheet.columns[at.c], sheet.cellAt(at)!];
		const pending = sheet.pending(row, column, cell);
		const typed = pending ? pending.value : (cell.typed ?? null);
		const value = next(typed, formatOf(row, cell));
		return value === undefined || value === typed ? [] : [{ ...at, value }];
	});
	sheet.put(list);
	return list.length;
}

/** A block takes the values of its first column or row; a single cell those of its neighbour before it. */
export function fillChosen(sheet: Sheet, direction: 'right' | 'down'): void {
	const { range } = sheet;
	const right = direction === 'right';
	const alone = right ? widthOfBlock(range) === 1 : heightOf(range) === 1;
	const from = (right ? range.left : range.top) - (alone ? 1 : 0);
	if (from < 0) return;
	const list = placesOf(range).filter((at) => sheet.writable(at) && (right ? at.c : at.r) > from);
	sheet.put(
		list.flatMap((at) => {
			const value = sheet.copiedTo(right ? { r: at.r, c: from } : { r: from, c: at.c }, at);
			return value === undefined ? [] : [{ ...at, value }];
		})
	);
}

/** What the fill handle was drawn over goes on from what is chosen, and is chosen with it. */
export function fillOver(sheet: Sheet, target: Block): void {
	const list: Put[] = [];
	for (const { known, onto } of linesFrom(sheet.range, target)) {
		const figures = continued(
			known.map((at) => sheet.numberAt(at)),
			onto.length
		);
		onto.forEach((at, i) => {
			if (!sheet.writable(at)) return;
			// Words begin again from the first.
			const value = sheet.cellAt(at)?.entry ? sheet.copiedTo(known[i % known.length], at) : figures[i];
			if (value !== undefined) list.push({ ...at, value });
		});
	}
	sheet.put(list);
	sheet.selectBlock(target);
}

/** Whether a block holds enough to go on from: two columns or rows, and more after them. */
export const goesOn = (block: Block, direction: 'right' | 'down') =>
	(direction === 'right' ? widthOfBlock(block) : heightOf(block)) > 2;
/** The rest of a block goes on from its first two columns or rows, in even steps. */
export function continueChosen(sheet: Sheet, direction: 'right' | 'down'): void {
	const block = sheet.range;
	sheet.selectBlock(
		direction === 'right' ? { ...block, right: block.left + 1 } : { ...block, bottom: block.top + 1 }
	);
	fillOver(sheet, block);
}

/** What is chosen as a block of text. @param heads the row's and the columns' names with it */
export function copied(sheet: Sheet, heads: { corner: string } | null): string {
	const { range } = sheet;
	const chosen = sheet.columns.slice(range.left, range.right + 1);
	const lines: string[][] = [];
	if (heads) lines.push([heads.corner, ...chosen.map((c) => [c.group, c.label].filter(Boolean).join(' '))]);
	for (let r = range.top; r <= range.bottom; r++) {
		const row = sheet.rowAt(r)!;
		lines.push([
			...(heads ? [row.label] : []),
			...chosen.map((column) => {
				const cell = sheet.cellOf(row, column);
				if (!cell || column.kind === 'shape' || column.kind === 'bar') return '';
				if (cell.entry) return cell.entry.typed(sheet.wordsIn(row, column, cell));
				return column.kind === 'text' ? (cell.text ?? '') : plain(sheet.valueIn(row, column, cell));
			})
		]);
	}
	return writeBlock(lines);
}

/** Where each cell of a pasted text goes, and what its shape is. */
export function pasteInto(
	sheet: Sheet,
	text: string
): { plan: PastePlan; pasted: { rows: number; columns: number } } {
	const block = readBlock(text);
	const plan = planPaste(block, sheet.range, sheet.size, (place) => {
		const cell = sheet.cellAt(place);
		const format = cell ? formatOf(sheet.rowAt(place.r)!, cell) : 'number';
		return {
			editable: cell?.editable === true,
			read: (t) => cell?.entry?.read(t) ?? readNumber(t, format),
			reason: reasonOf(cell)
		};
	});
	return { plan, pasted: { rows: block.length, columns: Math.max(...block.map((l) => l.length)) } };
}

function readNumber(text: string, format: NumberFormat): ReadText {
	const value = readFigure(text, format);
	return value === undefined ? { reason: 'This is no number.' } : { value };
}

/** Types what was pasted. @returns what was done, in words */
export function carryOut(sheet: Sheet, plan: PastePlan): string {
	sheet.put(plan.put);
	sheet.selectBlock(plan.block);
	const n = plan.put.length;
	const out = plan.left.length + plan.outside;
	return `${counted(n, 'cell')} pasted${out ? `, ${digits(out)} left out` : ''}.`;
}
