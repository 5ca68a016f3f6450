/** What the demo's people cost, worked out by hand from the files of the company, is what their accounts hold. */
import type { Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ACCOUNTS_BLOCK } from '../src/lib/core/engine/spec';
import { planOf } from '../src/lib/server/scenarios/plans';
import { DEMO, loaded } from '../tests/support/company';
import { days, keyOf, table, type Line } from './by-hand';

let db: Knex;
beforeAll(async () => {
	db = await loaded(DEMO);
});
afterAll(() => db.destroy());

/** The part of a month's days on which somebody is there. */
function presence({ start, end }: Line, month: number): number {
	let there = 0;
	for (let day = 1; day <= days(month); day++) {
		const date = `${keyOf(month)}-${String(day).padStart(2, '0')}`;
		if (start <= date && (!end || date <= end)) there++;
	}
	return there / days(month);
}

describe.each(['fy27-budget', 'fy27-forecast-6-6', 'fy28-budget', 'dearer-kayaks'])('in %s', (scenario) => {
	const people = table(`scenarios/${scenario}/schedules/staff.csv`);
	const typed = new Map(
		table(`scenarios/${scenario}/values.csv`).map((line) => [`${line.block}/${line.line}/${line.row}`, line])
	);
	const at = (block: string, line: string, row: string, month: number): number | null => {
		const text = typed.get(`${block}/${line}/${row}`)?.[keyOf(month)];
		return text ? Number(text) : null;
	};
	const payIn = (person: Line, month: number): number => {
		const { id, annual, hourly } = person;
		let raises = 1;
		for (let m = 2026 * 12; m <= month; m++) {
			// A general rise is for those who are there already, and have none of their own.
			const general = person.start < `${keyOf(m)}-01` ? at('pay_rises', 'general', person.group, m) : null;
			raises *= 1 + (at('staff', 'raise', id, m) ?? general ?? 0);
		}
		const whole = hourly ? Number(hourly) * (at('staff', 'paid_hours', id, month) ?? 0) : Number(annual) / 12;
		return whole * raises * presence(person, month);
	};
	/** Contributions are due until the pay of the calendar year comes to the cap. */
	const taxIn = (person: Line, month: number): number => {
		let before = 0;
		for (let m = month - (month % 12); m < month; m++) before += payIn(person, m);
		const [rate, cap] = ['rate', 'cap'].map((line) => at('taxes', line, person.tax_region, month)!);
		return rate * Math.min(payIn(person, month), Math.max(0, cap - before));
	};
	/** Of what the account came to in the department of whoever gets it, so many months before. */
	const commissionIn = (plan: Awaited<ReturnType<typeof planOf>>, person: Line, month: number): number => {
		const { commission_rate, commission_on, commission_after, department } = person;
		if (!commission_on) return 0;
		const row = plan.accounts.rowAt(department);
		const then = month - Number(commission_after || 0);
		return (
			Number(commission_rate) * Number(plan.calculation.cell(ACCOUNTS_BLOCK, commission_on, row, then) ?? 0)
		);
	};
	const benefitsIn = (person: Line, month: number): number => {
		const [share, cost] = ['share', 'cost'].map(
			(line) => at('benefit_plans', line, person.benefit_plan, month) ?? 0
		);
		return (
			share * payIn(person, month) +
			(person.benefit ? Number(person.benefit) : cost) * presence(person, month)
		);
	};

	it('pay, taxes, benefits, commissions and full-time equivalents are those of the people, to the cent', async () => {
		const plan = await planOf(db, scenario);
		let compared = 0;
		for (let month = plan.open; month <= plan.scenario.last; month++) {
			const sums = new Map<string, number>();
			const add = (account: string, department: string, amount: number) =>
				sums.set(`${account} ${department}`, (sums.get(`${account} ${department}`) ?? 0) + amount);
			for (const person of people)
				for (const department of [person.department, ...person.shares.split(';').filter(Boolean)]) {
					const share = at('staff_shares', 'share', `${person.id}|${department}`, month) ?? 1;
					add(person.pay_account, department, payIn(person, month) * share);
					add(person.tax_account, department, taxIn(person, month) * share);
					add('6020', department, benefitsIn(person, month) * share);
					add('6040', department, commissionIn(plan, person, month) * share);
					add('9020', department, presence(person, month) * share);
				}
			for (const [place, sum] of sums) {
				const [account, department] = place.split(' ');
				const row = plan.accounts.rowAt(department);
				const booked = plan.calculation.cell(ACCOUNTS_BLOCK, account, row, month);
				expect(Math.abs(Number(booked) - sum), `${place} in ${keyOf(month)}`).toBeLessThan(0.005);
				compared++;
			}
		}
		expect(compared).toBeGreaterThan(6 * 30);
	});
});
