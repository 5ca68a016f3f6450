/** What changes of any tree of the company have in common: they are tried first, and made as a whole or not at all. */
import type { Knex } from 'knex';
import { z } from 'zod';
import { readable } from '../../core/company/schema';
import { ACCOUNTS_BLOCK } from '../../core/engine/spec';
import { readOutline } from '../../core/company/outline';
import type { TreeItem } from '../../core/company/tree';
import { changedIn, type NamedCell } from '../company/changed';
import { insertRows, numbered } from '../platform/db/rows';
import * as stored from '../platform/db/stored';
import { asOne, type Context, type Within } from '../platform/context';
import { notFound, Refusal, type Fault } from '../platform/refusal';
import { listScenarios, namedFor } from '../scenarios/scenarios';
import { mustStillBuild, unsoundIn } from '../scenarios/soundness';

/** What a thing of the company is called. */
export const Label = z.string().trim().min(1, 'a name is missing').max(120).superRefine(readable());

/** Ends the transaction of a change that is only tried. */
class Tried extends Error {}
/** Works within a transaction, which is given up where the change is only tried. */
export async function trying<T>(
	context: Context,
	dry: boolean,
	work: (within: Within) => Promise<T>
): Promise<T> {
	let made: { value: T } | undefined;
	try {
		await asOne(context, async (within) => {
			made = { value: await work(within) };
			if (dry) throw new Tried();
		});
	} catch (e) {
		if (!(e instanceof Tried)) throw e;
	}
	return made!.value;
}

/** What a list holds. @throws Refusal 422 with each line that cannot be taken */
export function linesOf(outline: string, what: string): TreeItem[] {
	const { items, faults } = readOutline(outline, what);
	if (!items.length && !faults.length) faults.push({ line: 1, message: `no ${what} is named` });
	if (faults.length)
		throw new Refusal(
			422,
			`These ${what}s cannot be added.`,
			faults.map(({ line, message }) => ({ row: line, message }))
		);
	return items;
}

/** What cannot be placed so is refused. */
export const inPlace = <T>(work: () => T): T => {
	try {
		return work();
	} catch (e) {
		if (e instanceof RangeError) throw new Refusal(422, e.message);
		throw e;
	}
};

/** @throws Refusal 422 when a scenario could not be calculated any more, or holds what has no place */
export async function mustHold(within: Within): Promise<void> {
	await mustStillBuild(within);
	for (const { code } of await listScenarios(within.db)) {
		const [fault] = await unsoundIn(within.db, code);
		if (fault)
			throw new Refusal(
				422,
				`${await namedFor(within, [code])} would not fit any more: ${fault.message}. Nothing was changed.`
			);
	}
}

/** Cells of planned accounts that have a note, items or an attachment, in any scenario, deleted ones too. */
export async function notedCells({ db }: Within): Promise<NamedCell[]> {
	const cells: NamedCell[] = [];
	for (const table of ['note', 'item', 'attachment'])
		for (const subject of await stored.texts(
			db(table).whereLike('subject', `${ACCOUNTS_BLOCK}/%`).distinct().pluck('subject')
		)) {
			const about = changedIn(subject);
			if (about.what === 'cell') cells.push(about);
		}
	return cells;
}

/** Puts a tree in place of the one that is stored, in this order: what is new or another is written, what is not there goes. */
export async function putTree(
	trx: Knex.Transaction,
	table: 'account' | 'department',
	rows: readonly { code: string }[]
): Promise<void> {
	const there = new Map<string, Record<string, unknown>>(
		(await trx(table)).map((row: { code: string }) => [row.code, row])
	);
	const all = numbered(rows);
	await insertRows(
		trx,
		table,
		all.filter((row) => !there.has(row.code))
	);
	for (const row of all) {
		const was = there.get(row.code);
		there.delete(row.code);
		if (was && Object.entries(row).some(([column, value]) => was[column] !== value))
			await trx(table).where({ code: row.code }).update(row);
	}
	for (const code of there.keys()) await trx(table).where({ code }).delete();
}

/** What can be typed in a cell of a tree that is shown as a table. */
export const TypedText = z.string().max(200).nullable();

/**
 * The values of cells by item, as the schema of each column reads them.
 * @param name by which an item is called, undefined for one that is not there
 * @throws Refusal 404, 422 with each value that cannot be
 */
export function readCells<C extends { column: string; value: string | null }>(
	cells: readonly C[],
	codeOf: (cell: C) => string,
	name: (code: string) => string | undefined,
	schemaOf: (column: C['column']) => z.ZodType,
	one: string
): Map<string, Record<string, unknown>> {
	const changes = new Map<string, Record<string, unknown>>();
	const faults: Fault[] = [];
	for (const cell of cells) {
		const code = codeOf(cell);
		const called = name(code);
		if (called === undefined) throw notFound(`The ${one} “${code}”`);
		const read = schemaOf(cell.column).safeParse(cell.value);
		if (read.success) changes.set(code, { ...changes.get(code), [cell.column]: read.data });
		else
			faults.push({
				column: cell.column,
				message: `“${called}”: ${cell.value ? read.error.issues[0].message : 'something has to stand here'}`
			});
	}
	if (faults.length) throw new Refusal(422, `${faults[0].message}. Nothing was saved.`, faults);
	return changes;
}

/** @param now what stands in a cell. @throws Refusal 409 with a conflict for each that is another by now */
export function mustBeAsSeen<C extends { before: string | null }>(
	cells: readonly C[],
	now: (cell: C) => string | null
): void {
	const conflicts = cells.flatMap((cell) => (now(cell) === cell.before ? [] : [{ cell, theirs: now(cell) }]));
	if (conflicts.length)
		throw new Refusal(
			409,
			`${conflicts.length === 1 ? 'One cell has' : `${conflicts.length} cells have`} been changed by somebody else since you opened this page. Nothing was saved; what you typed is still here.`,
			[],
			conflicts
		);
}
