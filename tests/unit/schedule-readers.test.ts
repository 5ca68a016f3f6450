/** Who plans, reviews or reads a department sees who and what counts there in schedules, and nothing of other departments. */
import type { Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { openFigure } from '../../src/lib/server/reports/traces';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { saveRows } from '../../src/lib/server/schedules/rows';
import { listSchedules, readSchedule } from '../../src/lib/server/schedules/schedules';
import { rowsWorkbook } from '../../src/lib/server/schedules/workbook';
import { DEMO, loaded, userOf } from '../support/company';

const BUDGET = 'fy28-budget';
const APR27 = 2027 * 12 + 3;
const WINDOW = { scenario: BUDGET, from: APR27, to: APR27 + 11 };
let db: Knex;
let people: Record<'maren' | 'oliver' | 'hugh' | 'asha', User>;
beforeAll(async () => {
	db = await loaded(DEMO);
	people = {
		maren: await userOf(db, 'maren'),
		// Reviews the whole company; plan the Refit Yard and the Design Office, between which one person is divided.
		oliver: await userOf(db, 'oliver'),
		hugh: await userOf(db, 'hugh'),
		asha: await userOf(db, 'asha')
	};
});
afterAll(() => db.destroy());
const as = (who: keyof typeof people, pay = people[who].pay) => ({ db, user: { ...people[who], pay } });
const staff = (who: keyof typeof people, more: object = {}, pay?: boolean) =>
	readSchedule(as(who, pay), { ...WINDOW, schedule: 'staff', ...more });

describe('rows of schedules', () => {
	it('say after which of all rows new ones are called, however the list is narrowed, to who may add to them', async () => {
		const all = await staff('maren');
		const last = all.list
			.map((r) => r.id)
			.filter((id) => id.startsWith('K'))
			.sort()
			.at(-1);
		const some = await staff('maren', { department: 'refit-yard', words: 'zelda' });
		expect([some.list.length, some.lastId, all.lastId]).toEqual([1, last, last]);
		expect((await staff('hugh')).lastId).toBe(null);
		expect((await staff('oliver')).lastId).toBe(null);
	});
	it('are there for a department’s planner as far as they count there, without what people earn', async () => {
		const all = await staff('maren', { department: 'refit-yard', line: 'fte' });
		const own = await staff('hugh', { line: 'fte' });
		expect(own.rows.map((r) => r.id)).toEqual(all.rows.map((r) => r.id));
		expect(own.totals).toEqual(all.totals);
		expect([own.editable, own.reason, own.withheld]).toEqual([
			false,
			'Schedules are changed by analysts.',
			true
		]);
		expect(own.count).toBe(own.rows.length);
		expect(JSON.stringify(own)).not.toMatch(/annual|Design Office|design-office|Hull Shop/);
		const shared = own.list.find((r) => r.id === 'K090')!;
		// Her home is elsewhere; that she is here for a part is told, and where else is not.
		expect(shared).toMatchObject({ shares: ['refit-yard'], values: { name: 'Morwenna Tate' } });
		expect(shared.values.department).toBeUndefined();
		expect(own.rows.find((r) => r.id === 'K090')!.cells[0]).toBeCloseTo(0.4, 12);
		// Nor is it found by seeking, filtering or grouping by it.
		for (const more of [
			{ words: 'design' },
			{ where: { department: 'design' } },
			{ where: { shares: 'design' } }
		])
			expect((await staff('hugh', more)).shown).toBe(0);
		const { rows } = await staff('hugh', { group: 'department' });
		expect(rows.filter((r) => r.kind === 'group').map((r) => r.label)).toEqual(['Refit Yard', 'blank']);
		expect((await staff('asha', { line: 'fte' })).rows.find((r) => r.id === 'K090')!.cells[0]).toBeCloseTo(
			0.6,
			12
		);
	});
	it('tell what people of a department earn to its planner who may see that, and only of that department', async () => {
		const own = await staff('hugh', {}, true);
		const all = await staff('maren', { department: 'refit-yard' });
		expect([own.line, own.totals]).toEqual(['pay', all.totals]);
		expect(own.list.every((r) => r.values.annual !== undefined || r.values.hourly !== undefined)).toBe(true);
	});
	it('of other departments are asked for in vain, by page, list, figure and file', async () => {
		const elsewhere = (await staff('maren', { department: 'hull-shop' })).rows[0].id;
		const figure = (row: string, line = 'fte', model = 'staff') =>
			openFigure(as('hugh'), BUDGET, { kind: 'line', model, line, row, period: APR27 });
		for (const asked of [
			staff('hugh', { department: 'hull-shop' }),
			staff('hugh', { department: 'kelpwick' }),
			figure(elsewhere),
			figure(`${elsewhere}|hull-shop`, 'fte', 'staff_shares'),
			figure('K090|design-office', 'fte', 'staff_shares'),
			rowsWorkbook(as('hugh'), BUDGET, 'staff'),
			saveRows(as('hugh'), { scenario: BUDGET, schedule: 'staff', changes: [{ kind: 'remove', id: 'K090' }] })
		])
			await expect(asked).rejects.toMatchObject({ status: 403 });
		await expect(figure('K090|refit-yard', 'fte', 'staff_shares')).resolves.toBeTruthy();
		const seen = await listSchedules(as('hugh'), BUDGET);
		expect(seen.map((s) => s.code)).toEqual(['staff', 'assets']);
		const whole = await listSchedules(as('maren'), BUDGET);
		expect(seen[0].rows).toBeLessThan(whole[0].rows / 4);
		// Who reads the whole company sees all rows.
		expect(await listSchedules(as('oliver'), BUDGET)).toEqual(whole);
	});
	it('make an account’s figure up, by name where they may be seen and as one amount where not', async () => {
		const open = async (who: keyof typeof people, account: string) => {
			const ref = { kind: 'account', account, department: 'refit-yard', from: APR27, to: APR27 } as const;
			const { trace } = await openFigure(as(who), BUDGET, ref);
			const posted = trace.explanations.find((e) => e.kind === 'posted')!;
			return 'parts' in posted ? posted.parts : [];
		};
		const [pay, fte, worn] = [
			await open('hugh', '5100'),
			await open('hugh', '9020'),
			await open('hugh', '6710')
		];
		expect(pay.map((p) => [p.name, p.ref])).toEqual([['Staff, by department', null]]);
		expect(pay[0].value).toBeCloseTo(
			(await open('maren', '5100')).reduce((s, p) => s + Number(p.value), 0),
			6
		);
		expect(fte.length).toBe((await open('maren', '9020')).length);
		expect(worn.map((p) => p.name)).toContain('Travel lift · Refit Yard');
		const plan = await planOf(db, BUDGET);
		const booked = plan.calculation.cell('accounts', '6710', plan.accounts.rowAt('refit-yard'), APR27);
		expect(worn.reduce((s, p) => s + Number(p.value), 0)).toBeCloseTo(Number(booked), 6);
	});
});
