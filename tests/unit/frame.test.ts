/** Where each person begins, what they see of the stages, and what an address may choose. */
import type { Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readableRoots } from '../../src/lib/server/platform/auth/policy';
import { stagesFor } from '../../src/lib/server/doors/frame';
import { selectionFrom } from '../../src/lib/server/scenarios/selection';
import { companyState } from '../../src/lib/server/company/structure';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import {
	closeSession,
	openSession,
	SESSION_SECONDS,
	userOfSession
} from '../../src/lib/server/platform/auth/sessions';
import { DEMO, loaded, PRAXIS, userOf } from '../support/company';

let db: Knex;
beforeAll(async () => {
	db = await loaded(DEMO);
});
afterAll(() => db.destroy());

const at = (who: string, address: string) =>
	userOf(db, who).then((u) => selectionFrom({ db, user: u }, new URL(`http://x${address}`)));
const APR26 = 2026 * 12 + 3;

describe('the stages', () => {
	it.each([
		['maren', ['Set up', 'Drivers', 'Plan', 'Collect', 'Forecast', 'Compare']],
		['oliver', ['Drivers', 'Plan', 'Collect', 'Forecast', 'Compare']],
		['tom', ['Plan', 'Collect', 'Compare']],
		['beth', ['Drivers', 'Plan', 'Forecast', 'Compare']]
	])('of %s', async (who, names) => {
		const user = await userOf(db, who);
		const stages = await stagesFor({ db, user }, (await companyState(db)).structure.departments);
		expect(stages.map((s) => s.name)).toEqual(names);
		const collect = stages.find((s) => s.name === 'Collect');
		if (who === 'maren') expect(collect!.note).toBe('4 of 11 in');
		if (who === 'tom') expect(collect!.note).toBe('0 of 2 in');
	});
});

describe('the selection', () => {
	it('begins with the newest open forecast, the whole company, its fiscal year', async () => {
		expect(await at('maren', '/plan')).toEqual({
			scenario: 'fy27-forecast-6-6',
			department: 'kelpwick',
			from: APR26,
			to: APR26 + 11,
			money: 'reporting'
		});
	});
	it('begins with actuals where things are compared', async () => {
		expect((await at('maren', '/compare')).scenario).toBe('actuals');
	});
	it('begins with what is asked of a contributor, returned plans first', async () => {
		expect(await at('tom', '/plan')).toEqual({
			scenario: 'fy28-budget',
			department: 'dealer-sales',
			from: APR26 + 12,
			to: APR26 + 23,
			money: 'local'
		});
		expect((await at('hugh', '/plan')).department).toBe('refit-yard');
	});
	it('follows the address', async () => {
		expect(await at('maren', '/plan?scenario=fy27-budget&department=baltic&from=2026-10&to=2026-12')).toEqual(
			{
				scenario: 'fy27-budget',
				department: 'baltic',
				from: APR26 + 6,
				to: APR26 + 8,
				money: 'local'
			}
		);
	});
	it('never leads where the person may not go, nor breaks on nonsense', async () => {
		expect((await at('tom', '/plan?department=finance-people')).department).toBe('dealer-sales');
		expect((await at('maren', '/plan?scenario=none&department=none&from=x&to=y')).scenario).toBe(
			'fy27-forecast-6-6'
		);
		const long = await at('maren', '/plan?from=2026-04&to=2036-03');
		expect(long.to - long.from).toBe(119);
		const backwards = await at('maren', '/plan?from=2026-10&to=2026-04');
		expect(backwards.to).toBe(backwards.from);
	});
	it('opens departments by their topmost', async () => {
		const { departments } = (await companyState(db)).structure;
		expect(readableRoots(await userOf(db, 'petra'), departments).map((d) => d.code)).toEqual(['production']);
		expect(readableRoots(await userOf(db, 'maren'), departments).map((d) => d.code)).toEqual(['kelpwick']);
	});
	it('works on a company without a single ledger month', async () => {
		const bare = await loaded(PRAXIS);
		await bare('ledger_entry').delete();
		await bare('ledger_month').delete();
		await bare('company').increment('revision', 1);
		const s = await selectionFrom({ db: bare, user: await userOf(bare, 'ana') }, new URL('http://x/compare'));
		expect(s.scenario).toBe('f2');
		await bare.destroy();
	});
});

describe('sessions', () => {
	it('last their time and no longer, and keep no token', async () => {
		const now = Date.now();
		const token = await openSession(db, 'maren.holt@kelpwick.example', now);
		expect((await userOfSession(db, token, now))?.name).toBe('Maren Holt');
		expect(await userOfSession(db, token, now + SESSION_SECONDS * 1000 + 1)).toBeNull();
		expect(await userOfSession(db, token.slice(0, -1), now)).toBeNull();
		expect(JSON.stringify(await db('session'))).not.toContain(token);
		await closeSession(db, token);
		expect(await userOfSession(db, token, now)).toBeNull();
	});
});

describe('the database', () => {
	it('is brought to its form once, and opened again as it is', async () => {
		const empty = await openDatabase(':memory:');
		expect(await empty('company').first()).toBeUndefined();
		await expect(companyState(empty)).rejects.toThrow(/No company has been loaded/);
		await empty.destroy();
	});
});
