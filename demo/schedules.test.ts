/** What the demo's contracts and assets cost, worked out by hand from the files of the company, is what their accounts hold. */
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

/** Months since the year 0. */
const monthOf = (date: string) => Number(date.slice(0, 4)) * 12 + Number(date.slice(5, 7)) - 1;
const dateIn = (month: number, day: number) => `${keyOf(month)}-${String(day).padStart(2, '0')}`;
/** The same day so many months later; all contracts begin on a first. */
const later = (date: string, months: number) => `${keyOf(monthOf(date) + months)}${date.slice(7)}`;

/** Day by day: each costs its part of its month, at the price of the term in which it lies. */
function costIn({ start, end, ended, renews, amount, uplift }: Line, month: number): number {
	expect(start.endsWith('-01')).toBe(true);
	const term = monthOf(end) - monthOf(start) + 1;
	let cost = 0;
	for (let day = 1; day <= days(month); day++) {
		const date = dateIn(month, day);
		if (date < start || (ended && date > ended) || (renews !== 'yes' && date > end)) continue;
		let renewals = 0;
		while (date >= later(start, (renewals + 1) * term)) renewals++;
		cost += (Number(amount) / term / days(month)) * (1 + Number(uplift || 0)) ** renewals;
	}
	return cost;
}

/** What is usual of a class of assets. */
const classes = new Map(table('dimensions/asset_class.csv').map((line) => [line.code, line]));
const usual = (asset: Line, column: string): string => asset[column] || classes.get(asset.class)![column];
/** Where the books of both companies stand. */
const BOOKS = ['finance-people', 'baltic-yard'];
const bookedAt = (asset: Line) => (asset.department === 'baltic-yard' ? BOOKS[1] : BOOKS[0]);

/** The methods that the demo's assets have: evenly, and declining until evenly is more. */
function chargedIn(asset: Line, month: number): number {
	const [cost, salvage, life] = [asset.cost, asset.salvage, usual(asset, 'life')].map((t) => Number(t || 0));
	const age = month - monthOf(asset.in_service);
	if (asset.sold && month >= monthOf(asset.sold)) return 0;
	if (asset.books_at) {
		const known = monthOf(asset.books_at);
		const left = monthOf(asset.in_service) + life - 1 - known;
		return age >= life ? 0 : month > known ? (cost - salvage - Number(asset.books)) / left : NaN;
	}
	if (usual(asset, 'method') === 'straight-line') {
		const even = (cost - salvage) / life;
		const within = (k: number) => (k >= 0 && k < life ? even : 0);
		return asset.begins === 'half-month' ? (within(age) + within(age - 1)) / 2 : within(age);
	}
	expect(asset.method).toBe('declining-switch');
	if (age < 0 || age >= life) return 0;
	let book = cost;
	for (let year = 0; ; year++) {
		const declining = (book * Number(asset.factor)) / (life / 12);
		const even = (book - salvage) / (life / 12 - year);
		const amount = Math.min(Math.max(declining, even), book - salvage);
		if (year === Math.floor(age / 12)) return amount / 12;
		book -= amount;
	}
}

describe.each(['fy27-budget', 'fy27-forecast-6-6', 'fy28-budget', 'dearer-kayaks'])('in %s', (scenario) => {
	it.each([
		['contracts', costIn, (row: Line) => row.account],
		['assets', chargedIn, (row: Line) => classes.get(row.class)!.charged_to]
	])('what %s cost is what their accounts hold, to the cent', async (schedule, inMonth, accountOf) => {
		const rows = table(`scenarios/${scenario}/schedules/${schedule}.csv`);
		const plan = await planOf(db, scenario);
		let compared = 0;
		for (let month = plan.open; month <= plan.scenario.last; month++) {
			const sums = new Map<string, number>();
			for (const row of rows) {
				const place = `${accountOf(row)} ${row.department}`;
				sums.set(place, (sums.get(place) ?? 0) + inMonth(row, month));
			}
			for (const [place, sum] of sums) {
				const [account, department] = place.split(' ');
				const booked = plan.calculation.cell(ACCOUNTS_BLOCK, account, plan.accounts.rowAt(department), month);
				expect(Math.abs(Number(booked) - sum), `${place} in ${keyOf(month)}`).toBeLessThan(0.005);
				compared++;
			}
		}
		expect(compared).toBeGreaterThan(6 * 7);
	});
});

describe('balances', () => {
	/** What is paid in a month, in whole instalments of the terms that begin with it or have run. */
	function paidIn(contract: Line, month: number): number {
		const { start, end, renews, amount, uplift, paid_how, due } = contract;
		const first = monthOf(start);
		const term = monthOf(end) - first + 1;
		const every = { once: term, monthly: 1, quarterly: 3, yearly: Math.min(12, term) }[paid_how]!;
		let paid = 0;
		for (let begin = first, k = 0; begin <= month; begin += term, k++) {
			if (k > 0 && renews !== 'yes') break;
			for (let m = begin; m < begin + term; m += every) {
				const months = Math.min(every, begin + term - m);
				const when = due === 'in advance' ? m : m + months - 1;
				if (when === month) paid += (Number(amount) / term) * months * (1 + Number(uplift || 0)) ** k;
			}
		}
		return paid;
	}
	const sumOf = (
		plan: Awaited<ReturnType<typeof planOf>>,
		account: string,
		month: number,
		where = (_: string) => true
	) =>
		plan.structure.departmentRows.reduce(
			(sum, { code }, r) =>
				sum + (where(code) ? Number(plan.calculation.cell(ACCOUNTS_BLOCK, account, r, month) ?? 0) : 0),
			0
		);

	it.each(['fy27-budget', 'fy27-forecast-6-6', 'fy28-budget'])(
		'of %s are what contracts have paid ahead, and what they owe',
		async (scenario) => {
			const plan = await planOf(db, scenario);
			const rows = table(`scenarios/${scenario}/schedules/contracts.csv`);
			for (let month = plan.open; month <= plan.scenario.last; month++) {
				const stands = new Map<string, number>();
				for (const row of rows) {
					let balance = 0;
					for (let m = monthOf(row.start); m <= month; m++) balance += paidIn(row, m) - costIn(row, m);
					const place = `${balance > 0 ? '1300' : '2010'} ${row.department}`;
					stands.set(place, (stands.get(place) ?? 0) + Math.abs(balance));
				}
				for (const [place, sum] of stands) {
					const [account, department] = place.split(' ');
					const row = plan.accounts.rowAt(department);
					const held = plan.calculation.cell(ACCOUNTS_BLOCK, account, row, month);
					expect(Math.abs(Number(held) - sum), `${place} in ${keyOf(month)}`).toBeLessThan(0.005);
				}
			}
		}
	);

	it.each(['fy27-budget', 'fy28-budget'])(
		'of %s roll forward from the ledger to what assets cost and have worn by',
		async (scenario) => {
			const plan = await planOf(db, scenario);
			const rows = table(`scenarios/${scenario}/schedules/assets.csv`);
			// Ours alone: the Finnish books are kept in euro, month by month.
			const ours = rows.filter((r) => bookedAt(r) === BOOKS[0]);
			const home = (code: string) => code !== 'baltic-yard';
			for (let month = plan.open; month <= plan.scenario.last; month++) {
				const held = (a: Line) =>
					monthOf(a.in_service) <= month && (!a.sold || monthOf(a.sold) > month) ? Number(a.cost) : 0;
				for (const account of new Set([...classes.values()].map((c) => c.held_at))) {
					const own = ours.filter((a) => classes.get(a.class)!.held_at === account);
					const cost = own.reduce((sum, a) => sum + held(a), 0);
					expect(sumOf(plan, account, month, home), `${account} in ${keyOf(month)}`).toBeCloseTo(cost, 2);
				}
				const worn = (a: Line, last: number) => {
					let sum = 0;
					for (let m = monthOf(a.in_service); m <= last; m++) sum += chargedIn(a, m);
					return sum;
				};
				const moved = ours.reduce(
					(sum, a) => sum + chargedIn(a, month) - (a.sold && monthOf(a.sold) === month ? worn(a, month) : 0),
					0
				);
				const accumulated = (at: number) => -sumOf(plan, '1490', at, home);
				expect(accumulated(month) - accumulated(month - 1)).toBeCloseTo(moved, 2);
				// Since then the forklift's books were put right, in the list alone.
				if (month === plan.open && ours.every((a) => !a.books_at)) {
					const before = ours.reduce((sum, a) => sum + worn(a, month - 1), 0);
					expect(accumulated(month - 1)).toBeCloseTo(before, 2);
				}
			}
		}
	);
});

describe('what was planted', () => {
	it('is a contract that renews in the forecast, for more', () => {
		const lease = table('scenarios/fy28-budget/schedules/contracts.csv').find(
			(c) => c.what === 'Yard lease'
		)!;
		const [before, after] = ['2027-09', '2027-10'].map((key) => costIn(lease, monthOf(`${key}-01`)));
		expect(after / before).toBeCloseTo(1.08, 9);
	});
	it('are assets that are fully worn and cost nothing, and about forty in all', () => {
		const assets = table('scenarios/fy28-budget/schedules/assets.csv');
		expect(assets).toHaveLength(40);
		const worn = assets.filter(
			(a) => monthOf(a.in_service) + Number(usual(a, 'life')) <= monthOf('2026-04-01')
		);
		expect(worn).toHaveLength(4);
		for (const asset of worn) expect(chargedIn(asset, monthOf('2027-04-01'))).toBe(0);
	});
});
