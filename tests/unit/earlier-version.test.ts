/**
 * A database and folders written by earlier versions, in which planned accounts were the block `ledger`, and where a driver
 * model has the code `accounts` that they have now.
 */
import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import Database from 'better-sqlite3';
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Plan } from '../../src/lib/core/scenario/plan';
import { savesOf, undoSave } from '../../src/lib/server/changes/history';
import { readNotes } from '../../src/lib/server/changes/notes';
import { readStored, readCompany, writeCompany } from '../../src/lib/server/company/subjects';
import { companyState } from '../../src/lib/server/company/structure';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { loadCompany } from '../../src/lib/server/transfer/load';
import { userOf } from '../support/company';

const FIGURES = JSON.parse(readFileSync('tests/earlier/version-010.figures.json', 'utf8')) as Record<
	string,
	Record<string, (number | null)[]>
>;
const S = 'f2';
let db: Knex;
let ana: User;
beforeEach(async () => {
	const then = new Database(gunzipSync(readFileSync('tests/earlier/version-010.sqlite.gz')));
	// What was never paid was a mark of its own.
	then.prepare(`update account set nonCash = 1 where code = 'rent'`).run();
	db = await openDatabase(then.serialize());
	then.close();
	ana = await userOf(db, 'ana');
});
afterEach(() => db.destroy());

/** Figures of every line and row that has been kept with the database. */
function figuresOf({ calculation, scenario }: Plan, kept: Record<string, unknown>) {
	return Object.fromEntries(
		Object.keys(kept).map((key) => {
			const [block, line, row] = key.split('/');
			const r = calculation.block(block).rows.findIndex((c) => c.join('|') === row);
			const months = Array.from({ length: scenario.last - scenario.first + 1 }, (_, i) =>
				calculation.cell(block, line, r, scenario.first + i)
			);
			return [key, months];
		})
	);
}

describe('a database of version 010', () => {
	it('shows every figure that it showed, and names the old block nowhere', async () => {
		for (const [scenario, kept] of Object.entries(FIGURES)) {
			expect(Object.keys(kept).length).toBeGreaterThan(10);
			expect(figuresOf(await planOf(db, scenario), kept)).toEqual(kept);
		}
		for (const table of ['series', 'journal', 'note', 'item', 'attachment', 'adjustment']) {
			const text = JSON.stringify((await db(table)).map((row) => ({ ...row, data: null, content: null })));
			expect(text, table).not.toMatch(/"ledger\/|\/ledger\/|\\"ledger\\"|"block":"ledger"/);
		}
	});
	it('has notes, items and files where they were, on accounts and on the model that is called otherwise now', async () => {
		const on = (block: string, line: string, row: string, period: string) =>
			readNotes({ db, user: ana }, S, { block, line, row, period });
		const wages = await on('accounts', 'wages', 'labor', '2026-05');
		expect(wages.notes.map((n) => n.text)).toEqual(['On wages']);
		expect(wages.attachments.map((a) => a.name)).toEqual(['note.txt']);
		expect((await on('accounts', 'wages', 'labor', '2026-06')).items).toHaveLength(1);
		expect((await on('accounts_2', 'amount', '', '2026-05')).notes.map((n) => n.text)).toEqual([
			'On the model'
		]);
	});
	it('takes back what was saved then: cells, bases, formulas, adjustments', async () => {
		const kinds = async () => (await savesOf({ db, user: ana }, S)).filter((s) => s.batch);
		const takeBack = async (mark: string) => {
			const save = (await kinds()).find((s) => JSON.stringify(s).includes(mark))!;
			await undoSave({ db, user: ana }, S, save.batch);
		};
		await takeBack('adjustment/more-wages');
		await takeBack('adjustment/more-amount');
		await takeBack('formula/reader/amount');
		const reader = async () => (await planOf(db, S)).models.get('reader')!.definition.lines[0].formula;
		expect(await reader()).toBe('accounts_2.amount * 2');
		await takeBack('"model/reader"');
		expect(await reader()).toBeUndefined();
		await takeBack('basis/supplies/office');
		await takeBack('"accounts_2/amount//2026-06"');
		await takeBack('"accounts/wages/labor/2026-05"');
		expect(await db('adjustment').where({ scenario: S })).toEqual([]);
		expect(await db('series').where({ scenario: S, block: 'accounts_2' })).toEqual([]);
	});
	it('knows what is never paid, with every figure in its place', async () => {
		const { accounts } = (await companyState(db)).structure;
		expect(accounts.all.filter((a) => a.cashFlow).map((a) => [a.code, a.cashFlow])).toEqual([
			['rent', 'none']
		]);
		expect(
			await db('account')
				.first('nonCash')
				.catch((e: Error) => e.message)
		).toMatch(/no such column/);
		expect((await db('ledger_account').count({ n: '*' }).first())!.n).toBeGreaterThan(0);
	});
	it('is saved as a folder that loads', async () => {
		const files = writeCompany(await readStored(db));
		const again = await openDatabase(':memory:');
		await loadCompany(again, readCompany(files));
		expect(writeCompany(await readStored(again))).toEqual(files);
		for (const [scenario, kept] of Object.entries(FIGURES))
			expect(figuresOf(await planOf(again, scenario), kept)).toEqual(kept);
		await again.destroy();
	});
});

describe('a folder of that version', () => {
	it('loads as what it is called now', async () => {
		const now = writeCompany(await readStored(db));
		const then = new Map(
			[...now].map(([file, text]) => [
				file,
				file.endsWith('.csv')
					? text
							.replace(/^accounts,/gm, 'ledger,')
							.replace(/(^|[,/])accounts\//gm, '$1ledger/')
							.replaceAll('""block"":""accounts""', '""block"":""ledger""')
							.replace(/^(code,.*),cash_flow,/, '$1,cash,')
							.replace(/^(rent,.*),none,/m, '$1,no,')
					: file.endsWith('adjustments.json')
						? text.replaceAll('"block": "accounts"', '"block": "ledger"')
						: text
			])
		);
		expect([...then].filter(([file, text]) => text !== now.get(file)).length).toBeGreaterThan(5);
		expect(then.get('accounts.csv')).toMatch(/^rent,.*,no,$/m);
		expect(writeCompany(readCompany(then))).toEqual(now);
	});
});
