import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { addContributor, attach, newCompany, sameFolder } from '../../../../tests/support/new-company';
import { switchModule } from '../company/modules';
import { companyState, touchCompany } from '../company/structure';
import { check } from '../platform/check';
import type { User } from '../platform/auth/sessions';
import { openDatabase } from '../platform/db/connect';
import {
	addDepartments,
	changeDepartment,
	DepartmentCells,
	DepartmentChange,
	NewDepartments,
	readDepartmentsOf,
	removeDepartment,
	saveDepartmentCells
} from './departments';
import { addEntity, changeEntity } from './entities';

let db: Knex;
let user: User;
/** Advisory earned 1,200 last year and plans the same; Operations spent 600. */
const LAST_YEAR = [
	'Account,Name,Balance,Department',
	'3400,Consulting fees,-1200,Advisory',
	'6000,Office rent,600,Operations'
].join('\n');
beforeEach(async () => {
	db = await openDatabase(':memory:');
	user = await newCompany(db, {
		departments: 'Advisory\nOperations\nSupport\n  Desk\n  Field',
		year: 2026,
		history: { content: LAST_YEAR, through: '2025-12' },
		begins: 'last-year'
	});
	await addContributor(db);
});
afterEach(() => db.destroy());
const asAda = () => ({ db, user });
const add = (parent: string, outline: string, more: object = {}) =>
	addDepartments(asAda(), check({ parent, outline, ...more }, NewDepartments));
const change = (code: string, what: object) => changeDepartment(asAda(), code, check(what, DepartmentChange));
const lines = async () => {
	const { departments } = (await companyState(db)).structure;
	return departments.all.map((d) => `${'.'.repeat(departments.depth(d.code))}${d.code}`).join(' ');
};
const same = () => sameFolder(db);

describe('departments', () => {
	it('are added under another from an outline, in its legal entity or the one that is said', async () => {
		const baltic = await addEntity(asAda(), { name: 'Lind Baltic' });
		expect(baltic.code).toBe('lind-baltic');
		const before = await same();
		expect(await add('lind', 'North\n  Oslo', { dry: true })).toHaveLength(2);
		expect(await same()).toEqual(before);
		const made = await add('lind', 'North\n  Oslo\n  Riga', { entity: 'lind-baltic' });
		expect(made.map((d) => [d.code, d.parent, d.entity])).toEqual([
			['north', 'lind', 'lind-baltic'],
			['oslo', 'north', 'lind-baltic'],
			['riga', 'north', 'lind-baltic']
		]);
		expect((await add('support', 'Night'))[0]).toMatchObject({ code: 'night', entity: 'lind' });
		expect(await lines()).toBe(
			'lind .advisory .operations .support ..desk ..field ..night .north ..oslo ..riga'
		);
		await changeEntity(asAda(), 'lind-baltic', { name: 'Lind Oy' });
		await expect(changeEntity(asAda(), 'lind-baltic', { name: 'Lind' })).rejects.toMatchObject({
			status: 409
		});
		await expect(addEntity(asAda(), { name: 'Lind Oy' })).rejects.toMatchObject({ status: 409 });
		expect((await same()).get('entities.csv')).toBe(
			'code,name,currency\nlind,Lind,CHF\nlind-baltic,Lind Oy,CHF\n'
		);
	});
	it('say who plans and who reviews them', async () => {
		const { departments } = await readDepartmentsOf(asAda());
		expect(departments.find((d) => d.code === 'support')).toMatchObject({ plans: ['Ben Roth'], reviews: [] });
	});
	it('go elsewhere with their figures; what goes, and who sees it then, is said before', async () => {
		const before = await same();
		expect(await change('advisory', { parent: 'support', dry: true })).toEqual({
			moved: [
				{ scenario: 'Actuals', currency: 'CHF', amount: 1200 },
				{ scenario: 'FY26 Budget', currency: 'CHF', amount: 1200 }
			],
			seenBy: ['Ben Roth']
		});
		expect(await same()).toEqual(before);
		await change('advisory', { parent: 'support', before: 'desk' });
		expect(await lines()).toBe('lind .operations .support ..advisory ..desk ..field');
		await change('desk', { before: null, name: 'Help desk' });
		expect(await lines()).toBe('lind .operations .support ..advisory ..field ..desk');
		await same();
	});
	it('stay in their order where a folder named headings first, and what is under them last', async () => {
		await add('lind', 'North');
		await add('support', 'Night\nDay');
		const stored = 'lind support advisory operations north desk field night day'.split(' ');
		for (const [position, code] of stored.entries())
			await db('department').where({ code }).update({ position });
		await db.transaction(touchCompany);
		await change('operations', { before: 'advisory' });
		expect(await lines()).toBe('lind .support ..desk ..field ..night ..day .operations .advisory .north');
	});
	it.each([
		['under itself', 'support', { parent: 'desk' }, /cannot lie under itself/],
		['under what holds figures', 'desk', { parent: 'advisory' }, /“Advisory” has ledger entries/],
		['under what is not there', 'desk', { parent: 'nowhere' }, /nowhere/],
		['before what lies elsewhere', 'desk', { before: 'advisory' }, /does not lie where/],
		['out of the company', 'lind', { parent: 'support' }, /whole company/],
		['to an entity that is not there', 'desk', { entity: 'nowhere' }, /nowhere/]
	])('cannot go %s', async (_name, code, what, message) => {
		const before = await same();
		await expect(change(code, what)).rejects.toThrow(message);
		expect(await same()).toEqual(before);
	});
	it('stay where they are as long as a locked scenario has figures of theirs', async () => {
		await db('scenario').where({ code: 'fy26-budget' }).update({ locked: 1 });
		await expect(change('advisory', { parent: 'support' })).rejects.toThrow(
			/figures in .*FY26 Budget.* locked/
		);
		await change('advisory', { name: 'Advice', before: null });
		// Without figures there is nothing to keep.
		await change('desk', { parent: 'lind' });
		expect(await lines()).toBe('lind .operations .support ..field .advisory .desk');
	});
	it.each([
		['with ledger entries', 'advisory', /has ledger entries/],
		['with others under it', 'support', /departments under “Support”/],
		['that is the company', 'lind', /departments under “Lind”/],
		['that is not there', 'nowhere', /nowhere/]
	])('do not go: one %s', async (_name, code, message) => {
		await expect(removeDepartment(asAda(), code)).rejects.toThrow(message);
	});
	it('are renamed and given to legal entities many at once; what counts in another currency then is said before', async () => {
		await switchModule(asAda(), { module: 'currencies', on: true });
		await addEntity(asAda(), { name: 'Lind Baltic', currency: 'EUR' });
		type Typed = [department: string, column: string, before: string | null, value: string | null];
		const save = (typed: Typed[], more: object = {}) =>
			saveDepartmentCells(
				asAda(),
				check(
					{
						cells: typed.map(([department, column, before, value]) => ({
							department,
							column,
							before,
							value
						})),
						...more
					},
					DepartmentCells
				)
			);
		const typed: Typed[] = [
			['desk', 'name', 'Desk', 'Help desk'],
			['field', 'name', 'Field', 'On site'],
			['advisory', 'entity', 'lind', 'lind-baltic']
		];
		const before = await same();
		const { moved } = await save(typed, { dry: true });
		expect(moved.map((m) => [m.department, m.scenario])).toEqual([
			['advisory', 'Actuals'],
			['advisory', 'FY26 Budget']
		]);
		expect(await same()).toEqual(before);
		for (const [wrong, refusal] of [
			[['desk', 'name', 'Counter', 'A'], { status: 409, data: [{ theirs: 'Desk' }] }],
			[['desk', 'name', 'Desk', null], { status: 422, faults: [{ column: 'name' }] }],
			[['desk', 'entity', 'lind', 'nowhere'], { status: 404 }],
			[['nowhere', 'name', 'A', 'B'], { status: 404 }]
		] as [Typed, object][]) {
			await expect(save([typed[1], wrong])).rejects.toMatchObject(refusal);
			expect(await same()).toEqual(before);
		}
		await db('scenario').where({ code: 'fy26-budget' }).update({ locked: 1 });
		await expect(save(typed)).rejects.toThrow(/has figures in “FY26 Budget”, which is locked/);
		await db('scenario').where({ code: 'fy26-budget' }).update({ locked: 0 });
		expect(await same()).toEqual(before);
		expect(await save(typed)).toMatchObject({ saved: 3, moved });
		const { departments } = await readDepartmentsOf(asAda());
		expect(departments.map((d) => [d.name, d.entity])).toEqual([
			['Lind', 'lind'],
			['Advisory', 'lind-baltic'],
			['Operations', 'lind'],
			['Support', 'lind'],
			['Help desk', 'lind'],
			['On site', 'lind']
		]);
		await same();
	});
	it('go when they hold nothing, nobody answers for them, and something is left', async () => {
		await db('user').where({ email: 'ben@lind.example' }).update({ departments: 'desk', disabled: 1 });
		await expect(removeDepartment(asAda(), 'desk')).rejects.toThrow(/what Ben Roth answers for/);
		await attach(db, 'accounts/6000/field/2026-01');
		await expect(removeDepartment(asAda(), 'field')).rejects.toThrow(/has notes, items or attachments/);
		await db('attachment').delete();
		await removeDepartment(asAda(), 'field');
		expect(await lines()).toBe('lind .advisory .operations .support ..desk');
		await db('user').where({ email: 'ben@lind.example' }).update({ departments: 'support' });
		await expect(removeDepartment(asAda(), 'desk')).rejects.toThrow(/all that “Support” consists of/);
		await same();
	});
	it('are refused with the line that cannot be taken', async () => {
		await expect(add('advisory', 'A')).rejects.toThrow(/“Advisory” has ledger entries/);
		await expect(add('nowhere', 'A')).rejects.toMatchObject({ status: 404 });
		await expect(add('lind', 'A\nA')).rejects.toMatchObject({
			status: 422,
			faults: [{ row: 2, message: expect.stringMatching(/stands twice/) }]
		});
		await expect(add('lind', 'A', { entity: 'nowhere' })).rejects.toMatchObject({ status: 404 });
	});
	it('are changed by analysts alone', async () => {
		const viewer = { db, user: { ...user, role: 'viewer' as const } };
		for (const asked of [
			readDepartmentsOf(viewer),
			addDepartments(viewer, check({ parent: 'lind', outline: 'A' }, NewDepartments)),
			changeDepartment(viewer, 'desk', check({ name: 'A' }, DepartmentChange)),
			removeDepartment(viewer, 'desk'),
			addEntity(viewer, { name: 'A' }),
			changeEntity(viewer, 'lind', { name: 'A' })
		])
			await expect(asked).rejects.toMatchObject({ status: 403 });
	});
});
