/** What is read is kept until anything is written, and nobody sees more or less for it. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { readOnce } from '../../src/lib/server/platform/db/kept';
import { scenarioModels } from '../../src/lib/server/scenarios/plan-data';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { warmUp } from '../../src/lib/server/scenarios/warm';
import { scenarioCodes, touchScenario, visibleScenarios } from '../../src/lib/server/scenarios/scenarios';
import { readForms, speakingForms } from '../../src/lib/server/company/subjects/scenario/block-forms';
import { readLedgerMonths } from '../../src/lib/server/company/ledger-months';
import { readRateSets } from '../../src/lib/server/company/subjects/rates';
import { companyState } from '../../src/lib/server/company/structure';
import { openSession, userOfSession } from '../../src/lib/server/platform/auth/sessions';
import { makeToken, userOfToken } from '../../src/lib/server/platform/auth/tokens';
import { DEMO, loaded } from '../support/company';

const MODELS = ['model'];

describe('what is read once', () => {
	let home: string;
	let db: Knex;
	let asked: number;
	const name = (on: Knex) =>
		readOnce(on, 'name', async () => {
			asked++;
			return (await on('thing').first('name')).name as string;
		});
	beforeEach(async () => {
		home = mkdtempSync(join(tmpdir(), 'kept-'));
		db = await openDatabase(join(home, 'company.sqlite'));
		await db.schema.createTable('thing', (t) => t.string('name'));
		await db('thing').insert({ name: 'first' });
		asked = 0;
	});
	afterEach(async () => {
		await db.destroy();
		rmSync(home, { recursive: true, force: true });
	});

	it('is asked once, however many ask at the same time, until something is written', async () => {
		expect(await Promise.all([name(db), name(db), name(db)])).toEqual(['first', 'first', 'first']);
		expect(await name(db)).toBe('first');
		expect(asked).toBe(1);
		await db('thing').update({ name: 'second' });
		expect(await name(db)).toBe('second');
		expect(asked).toBe(2);
	});
	it('is asked again once another process has written', async () => {
		expect(await name(db)).toBe('first');
		const other = await openDatabase(join(home, 'company.sqlite'), false);
		await other('thing').update({ name: 'theirs' });
		await other.destroy();
		expect(await name(db)).toBe('theirs');
	});
	it('is asked again of a table that another process, or a transaction taken back, has written', async () => {
		const models = () =>
			readOnce(
				db,
				'models',
				async () => {
					asked++;
					return db('model').orderBy('position').pluck('code');
				},
				MODELS
			);
		expect(await models()).toEqual([]);
		await db('thing').update({ name: 'another table' });
		await models();
		expect(asked).toBe(1);
		const other = await openDatabase(join(home, 'company.sqlite'), false);
		await other('model').insert({ code: 'theirs', position: 0 });
		await other.destroy();
		expect(await models()).toEqual(['theirs']);
		const back = db.transaction(async (trx) => {
			await trx('model').insert({ code: 'ours', position: 1 });
			throw new Error('taken back');
		});
		await expect(back).rejects.toThrow('taken back');
		expect(await models()).toEqual(['theirs']);
		await db('model').insert({ code: 'kept', position: 1 });
		expect(await models()).toEqual(['theirs', 'kept']);
	});
	it('is within a transaction what it has written, and for others what it leaves', async () => {
		expect(await name(db)).toBe('first');
		await expect(
			db.transaction(async (trx) => {
				expect(await name(trx)).toBe('first');
				await trx('thing').update({ name: 'not to stay' });
				expect(await name(trx)).toBe('not to stay');
				throw new Error('taken back');
			})
		).rejects.toThrow('taken back');
		expect(await name(db)).toBe('first');
	});
	it('keeps no transaction waiting for those who wait for it', async () => {
		let outside: Promise<string> | undefined;
		await db.transaction(async (trx) => {
			await trx('thing').update({ name: 'second' });
			outside = name(db);
			expect(await name(trx)).toBe('second');
		});
		expect(await outside).toBe('second');
	});
	it('is asked again after a failure', async () => {
		const failing = () =>
			readOnce(db, 'gone', async () => {
				asked++;
				throw new Error('no');
			});
		await expect(failing()).rejects.toThrow('no');
		await expect(failing()).rejects.toThrow('no');
		expect(asked).toBe(2);
	});
});

describe('a company under many', () => {
	let db: Knex;
	let queries: string[];
	/** Writes a table without changing it. */
	const touch = async (table: string) => {
		const [column] = Object.keys((await db(table).first()) as object);
		await db.raw('update ?? set ?? = ??', [table, column, column]);
	};
	beforeEach(async () => {
		db = await loaded(DEMO);
		queries = [];
		db.on('query', ({ sql }: { sql: string }) => queries.push(sql));
	});
	afterEach(() => db.destroy());

	it('is calculated once for all who ask after a save', async () => {
		await planOf(db, 'fy28-budget');
		await db.transaction((trx) => touchScenario(trx, 'fy28-budget'));
		queries.length = 0;
		const plans = await Promise.all(Array.from({ length: 20 }, () => planOf(db, 'fy28-budget')));
		expect(new Set(plans).size).toBe(1);
		expect(queries.filter((q) => q.includes('`series`'))).toHaveLength(1);
	});
	it('is read without a question as long as nothing is written', async () => {
		const maren = {
			email: 'maren.holt@kelpwick.example',
			name: 'Maren Holt',
			role: 'analyst' as const,
			pay: true,
			departments: ['kelpwick']
		};
		const read = async () => {
			await companyState(db);
			await visibleScenarios({ db, user: maren });
			await planOf(db, 'fy28-budget');
			return scenarioModels(db, 'fy28-budget');
		};
		const models = await read();
		queries.length = 0;
		expect(await read()).toBe(models);
		expect(queries).toEqual([]);
	});
	it('is calculated ahead, what is begun with first', async () => {
		await warmUp(db);
		queries.length = 0;
		for (const code of ['actuals', 'fy27-forecast-6-6', 'fy28-budget']) await planOf(db, code);
		expect(queries).toEqual([]);
	});
	it('is calculated ahead where departments have figures to give, before all other plans', async () => {
		process.env.YARDSTAVE_AHEAD = '2';
		try {
			await warmUp(db);
		} finally {
			delete process.env.YARDSTAVE_AHEAD;
		}
		queries.length = 0;
		for (const code of ['actuals', 'fy28-budget']) await planOf(db, code);
		expect(queries).toEqual([]);
	});
	it('is asked again once any table has been written that it was read from, and after no other write', async () => {
		const maren = 'maren.holt@kelpwick.example';
		const session = await openSession(db, maren);
		const user = (await userOfSession(db, session))!;
		const token = await makeToken({ db, user }, { name: 'Reports', scope: 'read', days: 30 });
		// What a company is made of is kept by its revision; when a token was used first is written.
		await companyState(db);
		await userOfToken(db, token);
		const reads: Record<string, () => Promise<unknown>> = {
			company: () => companyState(db),
			scenarios: () => scenarioCodes(db),
			forms: () => readForms(db, 'fy28-budget'),
			speaking: () => speakingForms(db),
			months: () => readLedgerMonths(db),
			rates: () => readRateSets(db),
			session: () => userOfSession(db, session),
			token: () => userOfToken(db, token)
		};
		const questions = async (read: () => Promise<unknown>) => {
			queries.length = 0;
			await read();
			return [...queries];
		};
		const tables = new Map<string, string[]>();
		for (const [name, read] of Object.entries(reads)) {
			for (const table of ['user', 'company', 'scenario', 'definition', 'ledger_key', 'rate'])
				await touch(table);
			const asked = await questions(read);
			const from = asked.flatMap((q) => [...q.matchAll(/(?:from|join) `(\w+)`/g)].map((m) => m[1]));
			tables.set(name, [...new Set(from)].sort());
			await db('preference').insert({ user: maren, name, value: '' });
			expect(await questions(read), `${name} after another table`).toEqual([]);
			for (const table of tables.get(name)!) {
				await touch(table);
				expect(await questions(read), `${name} after ${table}`).not.toEqual([]);
			}
		}
		expect(Object.fromEntries(tables)).toEqual({
			company: ['company'],
			scenarios: ['scenario'],
			forms: [
				'definition',
				'model',
				'model_row',
				'scenario_model',
				'scenario_schedule',
				'schedule',
				'schedule_row'
			],
			speaking: ['definition', 'scenario_model', 'scenario_schedule'],
			months: ['ledger_key', 'ledger_month'],
			rates: ['rate', 'rate_set'],
			session: ['session', 'user'],
			token: ['access_token', 'user']
		});
	});
	it('is asked again where what was written goes with something else', async () => {
		const named = new Set(
			(await db('scenario').select('follows', 'origin', 'target')).flatMap((s) => Object.values(s))
		);
		const inRounds = new Set(await db('round').pluck('scenario'));
		const holding = await db('schedule_row').distinct().pluck('scenario');
		const last = holding.find((code) => !named.has(code) && !inRounds.has(code)) as string;
		const rows = async () => (await readForms(db, last)).schedules.flatMap((s) => s.rows).length;
		expect(await rows()).toBeGreaterThan(0);
		await db('scenario').where({ code: last }).delete();
		expect(await rows()).toBe(0);
	});
	it('hands out models that nobody can change for the others', async () => {
		const [model] = await scenarioModels(db, 'fy28-budget');
		expect(() => ((model.definition as { name: string }).name = 'x')).toThrow(TypeError);
	});
});
