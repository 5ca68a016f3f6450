/** A company without its figures: all that is set up, none that was typed, booked or said. */
import { expect, it } from 'vitest';
import { DEMO, loaded, PRAXIS } from '../../../../tests/support/company';
import { ACCOUNTS_BLOCK } from '../../core/engine/spec';
import { readCompany, readStored, storeCompany, writeCompany } from '../company/subjects';
import { openDatabase } from '../platform/db/connect';
import { planOf } from '../scenarios/plans';
import { withoutFigures } from './without-figures';

it.each([DEMO, PRAXIS])('keeps what %s is made of, and nothing that stands in it', async (folder) => {
	const was = await loaded(folder);
	const whole = await readStored(was);
	await was.destroy();
	const files = writeCompany(withoutFigures(whole));
	expect([...files.keys()].filter((f) => /values|notes|items|adjust|attach|^ledger\//.test(f))).toEqual([]);
	for (const table of [
		'journal.csv',
		'rounds.csv',
		'submissions.csv',
		'submission-events.csv',
		'feed-runs.csv'
	])
		expect((files.get(table) ?? '').trim().split('\n').length, table).toBe(1);
	const db = await openDatabase(':memory:');
	await storeCompany(db, readCompany(files));
	const again = await readStored(db);
	expect(writeCompany(again)).toEqual(files);
	for (const same of [
		'accounts',
		'ledgerAccounts',
		'departments',
		'entities',
		'dimensions',
		'rateSets',
		'users'
	] as const)
		expect(again[same]).toEqual(whole[same]);
	expect(again.scenarios).toHaveLength(1);
	const [{ scenario, bases, definitions }] = again.scenarios;
	expect(scenario).toMatchObject({ kind: 'budget', locked: false, actualsThrough: null });
	expect(bases.length + definitions.length).toBeGreaterThan(0);
	// What formulas make of nothing is nothing, or divided by it.
	const plan = await planOf(db, scenario.code);
	const { accounts, departmentRows } = plan.structure;
	for (const { code } of accounts.all.filter((a) => accounts.isLeaf(a.code)))
		departmentRows.forEach((d, r) => {
			for (let p = scenario.first; p <= scenario.last; p++) {
				const cell = plan.calculation.cell(ACCOUNTS_BLOCK, code, r, p);
				expect(cell === '#DIV/0!' ? 0 : (cell ?? 0), `${code} ${d.code}`).toBe(0);
			}
		});
	await db.destroy();
});

it('leaves who may see the plan as it was: its name and how it is planned are not for all', async () => {
	const db = await loaded(DEMO);
	const data = await readStored(db);
	await db.destroy();
	const budget = data.scenarios.find((s) => s.scenario.code === 'fy28-budget')!.scenario;
	Object.assign(budget, { visibility: 'people', people: ['nora.whitlock@kelpwick.example'] });
	expect(withoutFigures(data).scenarios[0].scenario).toMatchObject({
		name: 'FY28 Budget',
		visibility: 'people',
		people: ['nora.whitlock@kelpwick.example'],
		owner: 'maren.holt@kelpwick.example'
	});
});
