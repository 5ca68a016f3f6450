/**
 * Whoever sees a scenario sees all that its figures rest on: what it looks back through and what its formulas read. Every
 * way of changing who sees what, or what rests on what, is asked.
 */
import { readFileSync } from 'node:fs';
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { copyAsItStood } from '../../src/lib/server/changes/as-of';
import { savesOf, undoSave } from '../../src/lib/server/changes/history';
import { readStored, readCompany, writeCompany } from '../../src/lib/server/company/subjects';
import { previewFeed, runFeed } from '../../src/lib/server/ledger/feed';
import { changeModel, createModel, designOf } from '../../src/lib/server/models/design';
import { saveFormula } from '../../src/lib/server/models/models';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import type { Refusal } from '../../src/lib/server/platform/refusal';
import { closeMonth } from '../../src/lib/server/scenarios/close';
import { copyScenario } from '../../src/lib/server/scenarios/making';
import {
	changeScenario,
	deleteScenario,
	restoreScenario,
	type ScenarioChange
} from '../../src/lib/server/scenarios/list';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { DEMO, loaded, refusedIn, secondAnalyst, userOf } from '../support/company';

const FORECAST = 'fy27-forecast-6-6';
/** Looks back through the forecast. */
const BUDGET = 'fy28-budget';
const WHAT_IF = 'dearer-kayaks';
const READING = `revenue - material - 0 * scenario ("${WHAT_IF}", boat_sales.units)`;
const PLAIN = 'revenue - material + 0';
const ALONE: ScenarioChange = { visibility: 'people', people: [] };
let db: Knex;
let maren: User;
let noor: User;
/** Reads all of the company. */
let tom: User;

beforeEach(async () => {
	db = await loaded(DEMO);
	await db('submission_event').delete();
	await db('submission').delete();
	await db('round').delete();
	[maren, noor, tom] = [await userOf(db, 'maren'), await secondAnalyst(db), await userOf(db, 'tom')];
});
afterEach(() => db.destroy());

const refused = (work: Promise<unknown>) => refusedIn(db, work);
const change = (code: string, to: ScenarioChange, user = maren) => changeScenario({ db, user }, code, to);
const formula = (scenario: string, formula: string) =>
	saveFormula({ db, user: maren }, { scenario, model: 'boat_sales', line: 'margin', formula, also: [] });
const files = async () => writeCompany(await readStored(db));
const restsOn = (above: string, below: string) => new RegExp(`Figures of “${above}” rest on “${below}”`);

describe('what a scenario looks back through', () => {
	it('is not hidden from those who see it, and the way out leads out', async () => {
		const { status, message } = await refused(change(FORECAST, ALONE));
		expect(status).toBe(422);
		expect(message).toMatch(restsOn('FY28 Budget', 'FY27 Forecast 6\\+6'));
		expect(message).toMatch(/\d+ others would be shown/);
		expect((await refused(change(FORECAST, { visibility: 'finance' }))).message).toMatch(/rest on/);
		await change(BUDGET, ALONE);
		await change(FORECAST, ALONE);
		// Nor is the one above shown to more people than the one below.
		expect((await refused(change(BUDGET, { visibility: 'all' }))).message).toMatch(/rest on/);
		expect((await refused(change(BUDGET, { people: [noor.email] }))).message).toMatch(
			/so Noor Haddad would be shown/
		);
		await change(FORECAST, { people: [noor.email] });
		await change(BUDGET, { people: [noor.email] });
		expect((await refused(change(FORECAST, { people: [] }))).message).toMatch(/Noor Haddad/);
		await change(FORECAST, { name: 'Another name', folder: 'Elsewhere' });
	});
	it('counts however far it lies', async () => {
		const far = await copyScenario({ db, user: maren }, BUDGET, 'Far', 'what-if');
		await db('scenario')
			.where({ code: far })
			.update({ follows: BUDGET, first: 2028 * 12 + 3, last: 2029 * 12 });
		expect((await refused(change(BUDGET, ALONE))).message).toMatch(restsOn('Far', 'FY28 Budget'));
		// As an older company may stand: what was so before is not held against a change, what comes with it is.
		await db('scenario').where({ code: BUDGET }).update({ visibility: 'people', owner: maren.email });
		await change(BUDGET, { people: [noor.email] });
		expect((await refused(change(FORECAST, ALONE))).message).toMatch(
			restsOn('FY28 Budget', 'FY27 Forecast 6\\+6')
		);
		await db('scenario').where({ code: BUDGET }).update({ people: '' });
		expect((await refused(change(FORECAST, ALONE))).message).toMatch(restsOn('Far', 'FY27 Forecast 6\\+6'));
	});
	it('is not named to those who may not know of it', async () => {
		await change(BUDGET, { visibility: 'people', people: [tom.email] });
		const { message } = await refused(change(FORECAST, { visibility: 'finance' }, noor));
		expect(message).toMatch(/Figures of a scenario that is hidden from you rest on “FY27 Forecast 6\+6”/);
		expect(message).toMatch(/so somebody would/);
		expect(message).not.toMatch(new RegExp(`FY28|${tom.name}|tom@`));
	});
	it('stays so when a month is closed and what looked back through one looks back through the next', async () => {
		const content = readFileSync('demo/inbox/ledger-2026-10.csv', 'utf8');
		const { options } = await previewFeed({ db, user: maren }, 'o.csv', content, null, {});
		await runFeed({ db, user: maren }, 'o.csv', content, options, 2026 * 12 + 9, {});
		const close = () =>
			closeMonth(
				{ db, user: maren },
				{
					month: 2026 * 12 + 9,
					from: FORECAST,
					name: 'FY27 Forecast 7+5',
					accounts: 'year-ago',
					followers: [BUDGET],
					despiteUnmapped: true
				}
			);
		// As an older company may stand: the budget is everybody's, what it rests on is not.
		await db('scenario').where({ code: FORECAST }).update({ visibility: 'people', owner: maren.email });
		expect((await refused(close())).message).toMatch(restsOn('FY28 Budget', 'FY27 Forecast 7\\+5'));
		await change(BUDGET, ALONE);
		await close();
	});
	it('is asked again when a deleted one is brought back', async () => {
		await deleteScenario({ db, user: maren }, BUDGET);
		await change(FORECAST, ALONE);
		expect((await refused(restoreScenario({ db, user: maren }, BUDGET))).message).toMatch(/rest on/);
		await change(FORECAST, { visibility: 'all' });
		await restoreScenario({ db, user: maren }, BUDGET);
	});
	it('is asked for in a folder, with its place, also when somebody’s rights have grown', async () => {
		await change(BUDGET, { visibility: 'finance' });
		await change(FORECAST, { visibility: 'finance' });
		const saved = await files();
		expect(() => readCompany(saved)).not.toThrow();
		const faultsOf = (changed: [string, (text: string) => string][]) => {
			const other = new Map(saved);
			for (const [file, make] of changed) other.set(file, make(other.get(file)!));
			try {
				readCompany(other);
				return [];
			} catch (e) {
				return (e as Refusal).faults;
			}
		};
		const line = (text: string, code: string, make: (line: string) => string) =>
			text.replace(new RegExp(`^${code},.*$`, 'm'), make);
		const shown = faultsOf([
			['scenarios.csv', (t) => line(t, BUDGET, (l) => l.replace(',finance,', ',all,'))]
		]);
		expect(shown.length).toBeGreaterThan(0);
		expect(shown[0]).toMatchObject({ file: 'scenarios.csv', row: 4, column: 'visibility' });
		expect(shown[0].message).toMatch(/rest on “fy27-forecast-6-6”/);
		// Somebody named sees the one and not the other.
		const named = (t: string) =>
			line(
				line(t, BUDGET, (l) => l.replace(',finance,,', ',people,beth@kelpwick.example,')),
				FORECAST,
				(l) => l.replace(',finance,,', ',people,,')
			);
		expect(faultsOf([['scenarios.csv', named]])).toEqual([]);
		const grown = faultsOf([
			['scenarios.csv', named],
			['users.csv', (t) => `${t}beth@kelpwick.example,Beth,contributor,kelpwick,no,\n`]
		]);
		expect(grown.map((f) => f.message).join()).toMatch(/beth@kelpwick.example may not see/);
	});
});

describe('what formulas of a scenario read', () => {
	it('is not hidden afterwards, nor read while it is hidden from some', async () => {
		await formula(FORECAST, READING);
		expect((await refused(change(WHAT_IF, ALONE))).message).toMatch(
			restsOn('FY27 Forecast 6\\+6', 'Dearer kayaks')
		);
		await formula(FORECAST, PLAIN);
		await change(WHAT_IF, ALONE);
		expect((await refused(formula(FORECAST, READING))).message).toMatch(/rest on “Dearer kayaks”/);
		await change(WHAT_IF, { visibility: 'all' });
		await formula(FORECAST, READING);
	});
	it('comes back neither by undoing nor with a past state', async () => {
		await formula(FORECAST, READING);
		await formula(FORECAST, PLAIN);
		await change(WHAT_IF, ALONE);
		const [plain, reading] = (await savesOf({ db, user: maren }, FORECAST)).filter((s) =>
			JSON.stringify(s).includes('revenue - material')
		);
		expect((await refused(undoSave({ db, user: maren }, FORECAST, plain.batch))).message).toMatch(/rest on/);
		expect((await refused(copyAsItStood({ db, user: maren }, FORECAST, reading.batch))).message).toMatch(
			/rest on/
		);
		await change(WHAT_IF, { visibility: 'all' });
		await copyAsItStood({ db, user: maren }, FORECAST, reading.batch);
		await undoSave({ db, user: maren }, FORECAST, plain.batch);
	});
	it('is asked for in models that are designed, and made from others', async () => {
		await formula(WHAT_IF, PLAIN);
		await change(WHAT_IF, ALONE);
		const { definition, version } = await designOf({ db, user: maren }, FORECAST, 'boat_sales');
		const reading = {
			...definition,
			lines: definition.lines.map((l) => (l.code === 'margin' ? { ...l, formula: READING } : l))
		};
		const put = (scenarios: string[]) =>
			changeModel(
				{ db, user: maren },
				{ scenarios, model: 'boat_sales', version, definition: reading, drop: false }
			);
		expect((await refused(put([FORECAST]))).message).toMatch(/rest on “Dearer kayaks”/);
		// The budget follows the forecast, so with both kept to oneself all may be read.
		await change(BUDGET, ALONE);
		await change(FORECAST, ALONE);
		await put([FORECAST]);
		// A copy of a scenario is shown to the same people; a copy of the model in another is not.
		await copyScenario({ db, user: maren }, FORECAST, 'A copy', 'what-if');
		await db('scenario').where({ code: 'fy27-budget' }).update({ locked: false });
		const again = createModel(
			{ db, user: maren },
			{
				scenarios: [FORECAST, 'fy27-budget'],
				name: 'Copied',
				description: '',
				from: { kind: 'copy', model: 'boat_sales', withValues: false },
				rows: { kind: 'none' }
			}
		);
		expect((await refused(again)).message).toMatch(restsOn('FY27 Budget', 'Dearer kayaks'));
		await planOf(db, FORECAST);
	});
});
