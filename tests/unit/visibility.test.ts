/** Scenarios that some may not see: nothing made of them is seen by more people, and nothing names or changes them. */
import { readFileSync } from 'node:fs';
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { copyAsItStood } from '../../src/lib/server/changes/as-of';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { closeMonth, proposeClose, setLock } from '../../src/lib/server/scenarios/close';
import { previewFeed, runFeed } from '../../src/lib/server/ledger/feed';
import { stagesFor } from '../../src/lib/server/doors/frame';
import { savesOf } from '../../src/lib/server/changes/history';
import { addNote, removeNote } from '../../src/lib/server/changes/notes';
import { readCompany, readStored, writeCompany } from '../../src/lib/server/company/subjects';
import { copyScenario } from '../../src/lib/server/scenarios/making';
import {
	changeScenario,
	deleteScenario,
	restoreScenario,
	scenarioEntries
} from '../../src/lib/server/scenarios/list';
import { getScenario, listedFor, visibleScenarios } from '../../src/lib/server/scenarios/scenarios';
import { companyState } from '../../src/lib/server/company/structure';
import { listRounds, moveSubmission } from '../../src/lib/server/rounds/submissions';
import { openFigure } from '../../src/lib/server/reports/traces';
import { DEMO, loaded, refusedIn, secondAnalyst, userOf, typeInPlan } from '../support/company';

const FORECAST = 'fy27-forecast-6-6';
const BUDGET = 'fy28-budget';
const OCT26 = 2026 * 12 + 9;
let db: Knex;
/** Two analysts: what Maren keeps to herself, Noor may not know of. */
let maren: User;
let noor: User;
/** Reads all of the company, and is no analyst; answers for one department. */
let tom: User;

beforeEach(async () => {
	db = await loaded(DEMO);
	[maren, noor, tom] = [await userOf(db, 'maren'), await secondAnalyst(db), await userOf(db, 'tom')];
});
afterEach(() => db.destroy());

const refused = (work: Promise<unknown>) => refusedIn(db, work);
/** Hides a scenario; the budget, which looks back through the forecast, with it. */
async function hide(code: string, visibility: 'people' | 'finance' = 'people') {
	await db('submission').delete();
	await db('round').delete();
	if (code === FORECAST) await hide(BUDGET, visibility);
	await changeScenario({ db, user: maren }, code, { visibility, people: [] });
}
const seen = async (user: User) => (await visibleScenarios({ db, user })).map((s) => s.code);
async function loadOctober() {
	const content = readFileSync('demo/inbox/ledger-2026-10.csv', 'utf8');
	const { options } = await previewFeed({ db, user: maren }, 'o.csv', content, null, {});
	await runFeed({ db, user: maren }, 'o.csv', content, options, OCT26, {});
}
const closing = (from: string, followers: string[] = [], user = maren) =>
	closeMonth(
		{ db, user },
		{
			month: OCT26,
			from,
			name: 'FY27 Forecast 7+5',
			accounts: 'year-ago',
			followers,
			despiteUnmapped: true
		}
	);

describe('what is made of a scenario', () => {
	it.each(['finance', 'people'] as const)('is seen by those who see it: %s', async (visibility) => {
		await hide(FORECAST, visibility);
		await changeScenario({ db, user: maren }, FORECAST, { folder: 'Board' });
		await loadOctober();
		await typeInPlan({ db, user: maren }, FORECAST, 'dealer-sales', [
			{ account: '6240', period: OCT26 + 1, before: null, value: 1 }
		]);
		const [save] = await savesOf({ db, user: maren }, FORECAST);
		const made = [
			await copyScenario({ db, user: maren }, FORECAST, 'A copy', 'what-if'),
			await copyScenario({ db, user: maren }, FORECAST, 'Its targets', 'target'),
			await closing(FORECAST),
			await copyAsItStood({ db, user: maren }, FORECAST, save.batch)
		];
		for (const code of made) {
			const own = await getScenario(db, code);
			expect(own).toMatchObject({ visibility, owner: maren.email });
			if (own.folder !== 'As it stood') expect(own.folder).toBe('Board');
			expect(await seen(tom)).not.toContain(code);
			expect((await seen(noor)).includes(code)).toBe(visibility === 'finance');
			expect(await seen(maren)).toContain(code);
		}
		// And so it is out of a folder.
		const again = readCompany(writeCompany(await readStored(db))).scenarios.map((s) => s.scenario);
		for (const code of made) expect(again.find((s) => s.code === code)).toMatchObject({ visibility });
	});
	it('stays with who owned what it comes from, when somebody else makes it', async () => {
		await hide(FORECAST);
		await changeScenario({ db, user: maren }, FORECAST, { people: [noor.email] });
		const code = await copyScenario({ db, user: noor }, FORECAST, 'Her copy', 'what-if');
		expect(await getScenario(db, code)).toMatchObject({ owner: noor.email, people: [maren.email] });
		expect(await seen(maren)).toContain(code);
	});
});

describe('a scenario that is hidden', () => {
	it('is not changed by closing, nor offered there', async () => {
		await loadOctober();
		await hide(BUDGET);
		expect((await proposeClose({ db, user: noor })).followers).toEqual([]);
		expect((await refused(closing(FORECAST, [BUDGET], noor))).status).toBe(404);
		expect(await getScenario(db, BUDGET)).toMatchObject({ follows: FORECAST });
	});
	it('is named neither in lists, nor in figures, nor in refusals, nor in History', async () => {
		await db('round').delete();
		const copy = await copyScenario({ db, user: maren }, FORECAST, 'Open copy', 'what-if');
		await changeScenario({ db, user: maren }, BUDGET, { target: FORECAST });
		// As an older company may stand: the budget, which looks back through it, is everybody's.
		await db('scenario').where({ code: FORECAST }).update({ visibility: 'people', people: '' });
		const told = JSON.stringify([
			await listedFor({ db, user: noor }),
			await scenarioEntries({ db, user: noor }),
			await savesOf({ db, user: noor }, copy),
			await savesOf({ db, user: noor }, BUDGET),
			await openFigure({ db, user: noor }, BUDGET, {
				kind: 'account',
				account: '5050',
				department: 'dealer-sales',
				from: OCT26 + 3,
				to: OCT26 + 3
			})
		]);
		expect(told).not.toMatch(/forecast-6-6|6\+6/);
		// The other way round it is told to those who see it.
		expect(JSON.stringify(await listedFor({ db, user: maren }))).toMatch(/6-6/);
		expect((await refused(setLock({ db, user: noor }, FORECAST, true, ''))).message).toBe(
			(await refused(setLock({ db, user: noor }, 'nowhere', true, ''))).message.replace('nowhere', FORECAST)
		);
		for (const work of [
			() => deleteScenario({ db, user: noor }, FORECAST),
			() => copyScenario({ db, user: noor }, FORECAST, 'x', 'what-if'),
			() => changeScenario({ db, user: noor }, FORECAST, { name: 'x' }),
			() => changeScenario({ db, user: noor }, copy, { target: FORECAST }),
			() => savesOf({ db, user: noor }, FORECAST)
		])
			expect((await refused(work())).status).toBe(404);
		// Its name is free for those who do not know of it.
		await changeScenario({ db, user: noor }, copy, { name: 'FY27 Forecast 6+6' });
	});
	it('that rests on another is told without its name, and is brought back by those who see it alone', async () => {
		await hide(BUDGET);
		const refusal = await refused(deleteScenario({ db, user: noor }, FORECAST));
		expect(refusal.message).toMatch(/used in .*a scenario that is hidden from you/);
		expect(refusal.message).not.toMatch(/FY28/);
		await deleteScenario({ db, user: maren }, BUDGET);
		expect((await refused(restoreScenario({ db, user: noor }, BUDGET))).message).toBe(
			(await refused(restoreScenario({ db, user: noor }, 'nowhere'))).message.replace('nowhere', BUDGET)
		);
		expect(await restoreScenario({ db, user: maren }, BUDGET)).toBe('FY28 Budget');
	});
	it('has no rounds, notes or submissions for those who may not see it', async () => {
		const cell = { block: 'accounts', line: '6240', row: 'dealer-sales', period: '2027-06' };
		await addNote({ db, user: noor }, BUDGET, cell, 'Mine', null);
		const { id } = await db('note').where({ user: noor.email }).first('id');
		await db('scenario').where({ code: BUDGET }).update({ visibility: 'people', owner: maren.email });
		expect(await listRounds({ db, user: noor }, '2026-11-16')).toEqual([]);
		expect((await listRounds({ db, user: maren }, '2026-11-16')).length).toBe(1);
		const { departments } = (await companyState(db)).structure;
		const note = (stages: { href: string; note: string }[]) =>
			stages.find((s) => s.href === '/collect')?.note;
		expect(note(await stagesFor({ db, user: noor }, departments))).toBe('');
		expect(note(await stagesFor({ db, user: maren }, departments))).toMatch(/of 11 in/);
		const at = (await db('submission').where({ state: 'submitted' }).first('round', 'department')) as {
			round: string;
			department: string;
		};
		expect((await refused(moveSubmission({ db, user: noor }, at, 'return', 'No.', null))).status).toBe(404);
		expect((await refused(removeNote({ db, user: noor }, id))).status).toBe(404);
	});
});
