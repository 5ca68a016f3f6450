/** Planning accounts made for ledger accounts: under which heading, of which kind, all or none; and both sides equal. */
import fc from 'fast-check';
import type { Knex } from 'knex';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { contentOf, DEMO, loaded, refusedIn, userOf } from '../../../../tests/support/company';
import { addedUp } from '../../core/currency/amounts';
import { companyState } from '../company/structure';
import { mapAccounts, readMap } from './map';
import type { User } from '../platform/auth/sessions';
import { changeAccount } from '../setup/chart';
import { foldIntoNew } from './new-planning';

let db: Knex;
let user: User;
beforeAll(async () => {
	db = await loaded(DEMO);
	user = await userOf(db, 'maren');
});
afterAll(() => db.destroy());
const sides = async () => {
	const { rows, planning } = await readMap({ db, user });
	const sum = (list: { amounts: Record<string, number> }[]) => addedUp(list.map((r) => r.amounts));
	return { left: sum(rows), right: addedUp([sum(planning), sum(rows.filter((r) => r.account === null))]) };
};

it('makes one for several, or for each its own with the code that it has, of the kind of its heading', async () => {
	const made = await foldIntoNew(
		{ db, user },
		{
			accounts: [
				{ name: 'Search and social', heading: 'selling', ledgers: ['620010', '620020'] },
				{ name: 'Yard loan', heading: 'liabilities', ledgers: ['210010'] }
			]
		}
	);
	expect(made.map((a) => [a.code, a.name, a.parent, a.type, a.rollup])).toEqual([
		['search-and-social', 'Search and social', 'selling', 'expense', 'sum'],
		['210010', 'Yard loan', 'liabilities', 'liability', 'last']
	]);
	const { ledgerAccounts, structure } = await companyState(db);
	expect(ledgerAccounts.filter((l) => l.account === made[0].code).map((l) => l.code)).toEqual([
		'620010',
		'620020'
	]);
	expect(structure.accounts.get('210010')!.parent).toBe('liabilities');
	// A heading of results holds most of what earns: a new one under it does so too.
	const [mixed] = await foldIntoNew(
		{ db, user },
		{ accounts: [{ name: 'Grants', heading: 'gross', ledgers: ['404010'] }] }
	);
	expect(mixed.type).toBe('revenue');
});

it('makes nothing where one of them cannot be', async () => {
	const good = { name: 'Gas', heading: 'premises', ledgers: ['612020'] };
	const refused = async (bad: object, message: RegExp) => {
		const before = await contentOf(db);
		const refusal = await refusedIn(
			db,
			foldIntoNew({ db, user }, { accounts: [good, { ...good, name: 'Power', ...bad }] })
		);
		expect(refusal.message).toMatch(message);
		expect(await contentOf(db)).toBe(before);
	};
	await refused({ heading: '6120' }, /“Energy” takes figures itself: choose a heading/);
	await refused({ heading: 'nowhere' }, /“nowhere”/);
	await refused({ ledgers: ['999999'] }, /The ledger account “999999”/);
});

it('counts a statistic that is written as money in its currency, on both sides', async () => {
	await mapAccounts({ db, user }, { ledgers: ['900010'], account: '9000' });
	const before = await sides();
	await changeAccount({ db, user }, '9000', { format: 'money', dry: false });
	const { left, right } = await sides();
	expect(left.GBP).toBeGreaterThan(before.left.GBP + 1000);
	for (const currency of ['GBP', 'EUR']) expect(right[currency]).toBeCloseTo(left[currency], 2);
});

// Last, for it leaves the map as chance has it.
it('is equal on both sides however accounts are folded, read from the entries and from what is planned', async () => {
	const { rows, planning } = await readMap({ db, user });
	const leaves = planning.filter((p) => p.leaf).map((p) => p.code);
	await fc.assert(
		fc.asyncProperty(
			fc.uniqueArray(fc.constantFrom(...rows.map((r) => r.code)), { minLength: 1, maxLength: 8 }),
			fc.option(fc.constantFrom(...leaves)),
			async (ledgers, account) => {
				await mapAccounts({ db, user }, { ledgers, account });
				const { left, right } = await sides();
				for (const currency of ['GBP', 'EUR']) expect(right[currency]).toBeCloseTo(left[currency] ?? 0, 2);
			}
		),
		{ numRuns: 12 }
	);
});
