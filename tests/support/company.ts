/** Companies in memory, for tests below the interface. */
import type { ModelFigures, ViewRow } from '../../src/lib/core/views/model-view';
import { existsSync, readFileSync } from 'node:fs';
import { parse } from 'csv-parse/sync';
import type { Knex } from 'knex';
import { readFolder } from '../../src/lib/server/transfer/folder';
import { readCompany, storeCompany } from '../../src/lib/server/company/subjects';
import { openDatabase, serialize } from '../../src/lib/server/platform/db/connect';
import { expect } from 'vitest';
import { DEMO, PRAXIS, preparedFile } from './prepare';
import { Refusal } from '../../src/lib/server/platform/refusal';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { ACCOUNTS_BLOCK } from '../../src/lib/core/engine/spec';
import { saveCells } from '../../src/lib/server/changes/save-cells';
import { asOne, type Context } from '../../src/lib/server/platform/context';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { readWhatIf as readWhatIfOf, type WhatIfView } from '../../src/lib/server/scenarios/what-if';
import type { CellEdit } from '../../src/lib/core/inputs/cell';

export { DEMO, PRAXIS };

/** A new database in memory with a company in it. */
export async function loaded(folder: string): Promise<Knex> {
	const ready = preparedFile(folder);
	let bytes = stored.get(folder) ?? (ready ? readFileSync(ready) : undefined);
	if (!bytes) {
		const db = await openDatabase(':memory:');
		await storeCompany(db, readCompany(readFolder(folder)));
		bytes = await serialize(db);
		await db.destroy();
	}
	stored.set(folder, bytes);
	// A copy: the driver takes the bytes over.
	return openDatabase(Buffer.from(bytes));
}
const stored = new Map<string, Buffer>();

export async function userOf(db: Knex, email: string): Promise<User> {
	const row = await db('user').where('email', 'like', `${email}%`).first();
	return {
		email: row.email,
		name: row.name,
		role: row.role,
		departments: row.departments.split(';'),
		pay: row.pay === 1
	};
}

/** A second analyst in the demo company, who knows nothing of what the first keeps to herself. */
export async function secondAnalyst(db: Knex): Promise<User> {
	await db('user').insert({
		email: 'noor@kelpwick.example',
		name: 'Noor Haddad',
		role: 'analyst',
		departments: 'kelpwick',
		position: 99
	});
	return userOf(db, 'noor');
}

/** Rows of a CSV file, by heading; read without the application's own code. */
export function rawRows(path: string): Record<string, string>[] {
	return parse(readFileSync(path, 'utf8'), { columns: true, bom: true }) as Record<string, string>[];
}

/** Everything the database holds, as text: equal before and after means that nothing changed. */
export async function contentOf(db: Knex, only?: readonly string[]): Promise<string> {
	const tables = ((await db('sqlite_master').where({ type: 'table' }).pluck('name')) as string[]).filter(
		(t) => !/^(sqlite_|knex_)/.test(t) && (!only || only.includes(t))
	);
	const all: Record<string, unknown> = {};
	// Some rows have been written anew: their order says nothing.
	const inOrder = (rows: unknown[]) => rows.map((r) => JSON.stringify(r)).sort();
	for (const table of tables.sort()) all[table] = inOrder(await db(table));
	return JSON.stringify(all);
}

/** A model's line as a page shows it: all of its rows together, and those listed under it. */
export const headOf = (view: ModelFigures, line: string) => view.rows.find((r) => r.heads === line)!;
export const rowsUnder = (view: ModelFigures, line: string) =>
	view.rows.filter((r) => r.heads === null && r.targets[0]?.line === line);
/** The whole window stands last. */
export const totalOf = (row: ViewRow) => row.cells.at(-1)!;

/**
 * Awaits a refusal, and sees that it has changed nothing.
 * @param tables those that could have been written to; all of them by default
 */
export async function refusedIn(
	db: Knex,
	work: Promise<unknown>,
	tables?: readonly string[]
): Promise<Refusal> {
	const before = await serialize(db);
	const error = await work.then(
		() => {
			throw new Error('It was not refused.');
		},
		(e: unknown) => e
	);
	if (!(error instanceof Refusal)) throw error;
	// The same bytes hold the same; only others have to be read.
	if (!before.equals(await serialize(db))) {
		const then = await openDatabase(Buffer.from(before));
		expect(await contentOf(db, tables)).toBe(await contentOf(then, tables));
		await then.destroy();
	}
	return error;
}
/** Tables that designing driver models writes to. */
export const DESIGN = [
	'company',
	'dimension',
	'member',
	'model',
	'model_row',
	'scenario_model',
	'combination_rule',
	'series',
	'basis',
	'adjustment',
	'journal'
];

interface Typed {
	period: number;
	before: number | null;
	value: number | null;
}

/** Types cells of any blocks. */
const typeCells = (context: Context, scenario: string, edits: readonly CellEdit[]): Promise<number> =>
	asOne(context, (within) => saveCells(within, scenario, edits));
/** Types accounts of a department, or of those that the cells name, as the page of its plan does. */
export const typeInPlan = (
	context: Context,
	scenario: string,
	department: string,
	edits: readonly (Typed & { account: string; department?: string })[]
): Promise<number> =>
	typeCells(
		context,
		scenario,
		edits.map((e) => accountCell({ department, ...e }))
	);
/** A cell of planned accounts. */
export const accountCell = <T extends object>({
	account,
	department,
	...rest
}: T & { account: string; department: string }) => ({
	block: ACCOUNTS_BLOCK,
	line: account,
	row: department,
	...rest
});
/** Types inputs of a driver model, as its page does. */
export const typeInModel = (
	context: Context,
	scenario: string,
	block: string,
	edits: readonly (Typed & { line: string; row: string })[]
): Promise<number> =>
	typeCells(
		context,
		scenario,
		edits.map((e) => ({ block, ...e }))
	);

/** What an amount of a department in a month is worth in a company's currency on average, read from its raw files. */
export function worthIn(folder: string): (department: string, month: string) => number {
	const currencies = new Map(rawRows(`${folder}/entities.csv`).map((r) => [r.code, r.currency]));
	const currencyOf = new Map(
		rawRows(`${folder}/departments.csv`).map((r) => [r.code, currencies.get(r.entity) ?? ''])
	);
	const rates = new Map(
		(existsSync(`${folder}/rates.csv`) ? rawRows(`${folder}/rates.csv`) : [])
			.filter((r) => r.set === 'current')
			.map((r) => [`${r.currency} ${r.period}`, Number(r.average)] as const)
	);
	return (department, month) => rates.get(`${currencyOf.get(department)} ${month}`) ?? 1;
}

/** What the what-if page is told when it opens for the whole company and the first year of the plan. */
export async function readWhatIf(context: Context<Knex>, scenario: string): Promise<WhatIfView> {
	const { open, structure } = await planOf(context.db, scenario);
	const [{ code: department }] = structure.departments.roots;
	return readWhatIfOf(context, { scenario, department, from: open, to: open + 11, money: 'reporting' });
}
