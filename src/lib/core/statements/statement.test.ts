/** Totals over random trees of accounts and departments, against sums of leaves with signs counted by hand. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../calendar/calendar';
import { DIV0, marksOf, newMatrix, setCell } from '../engine/values';
import { ACCOUNTS_BLOCK } from '../engine/spec';
import type { Account, Department } from '../company/schema';
import type { Scenario } from '../scenario/schema';
import { buildStructure } from '../company/structure';
import { calculateScenario } from '../scenario/assemble';
import type { Plan } from '../scenario/plan';
import { nextForecast } from '../scenario/carry';
import { cellsOf, overTime } from './statement';
import { totalsOf } from './totals';
import { variance } from '../analysis/variance';

const calendar = monthCalendar(4);
const FIRST = 2026 * 12 + 3;
const MONTHS = 6;

/** A tree as parents that stand before their children: parent[i] < i, or −1 for the root. */
const parents = (n: number) =>
	fc.tuple(...Array.from({ length: n }, (_, i) => (i === 0 ? fc.constant(-1) : fc.nat(i - 1))));
const world = fc.integer({ min: 2, max: 9 }).chain((accounts) =>
	fc.integer({ min: 2, max: 6 }).chain((departments) =>
		fc.record({
			accounts: parents(accounts),
			types: fc.array(fc.constantFrom<Account['type']>('revenue', 'expense'), {
				minLength: accounts,
				maxLength: accounts
			}),
			departments: parents(departments),
			values: fc.array(fc.option(fc.integer({ min: -999, max: 999 }), { freq: 6 }), {
				minLength: accounts * departments * MONTHS,
				maxLength: accounts * departments * MONTHS
			})
		})
	)
);
type World = typeof world extends fc.Arbitrary<infer W> ? W : never;

function planOf(w: World): { plan: Plan; value: (a: number, d: number, t: number) => number | null } {
	const code = (prefix: string, i: number) => (i < 0 ? null : `${prefix}${i}`);
	const accounts = w.accounts.map((p, i): Account => ({
		code: `a${i}`,
		name: `A${i}`,
		parent: code('a', p),
		type: w.types[i],
		rollup: 'sum',
		format: 'money'
	}));
	const departments = w.departments.map((p, i): Department => ({
		code: `d${i}`,
		name: `D${i}`,
		parent: code('d', p),
		entity: 'e'
	}));
	const structure = buildStructure(calendar, accounts, departments, [], 'GBP');
	const value = (a: number, d: number, t: number) => w.values[(a * w.departments.length + d) * MONTHS + t];
	const matrices = new Map(
		accounts.map((account, a) => {
			const m = newMatrix(structure.departmentRows.length, MONTHS);
			structure.departmentRows.forEach((department, r) => {
				for (let t = 0; t < MONTHS; t++) setCell(m, r, t, value(a, Number(department.code.slice(1)), t));
			});
			return [account.code, m] as const;
		})
	);
	const scenario: Scenario = {
		code: 's',
		name: 'S',
		kind: 'actuals',
		first: FIRST,
		last: FIRST + MONTHS - 1,
		actualsThrough: FIRST + MONTHS - 1,
		follows: null,
		origin: null,
		locked: true,
		description: ''
	};
	return {
		plan: calculateScenario(structure, {
			scenario,
			models: [],
			series: [],
			bases: [],
			history: { first: FIRST, accounts: matrices }
		}),
		value
	};
}

describe('totals', () => {
	it('of any tree are the sums of its leaves, revenue less expense, over any departments', () => {
		fc.assert(
			fc.property(world, fc.nat(), (w, pick) => {
				const { plan, value } = planOf(w);
				const top = pick % w.departments.length;
				const leaves = plan.structure.departments.leaves(`d${top}`).map((d) => d.code);
				const isLeaf = (a: number) => !w.accounts.includes(a);
				for (let root = 0; root < w.accounts.length; root++)
					for (let t = 0; t < MONTHS; t++) {
						let expected = 0;
						let any = false;
						for (let a = 0; a < w.accounts.length; a++) {
							if (!isLeaf(a)) continue;
							let sign = 1;
							let at = a;
							while (at !== root && at >= 0) {
								const up = w.accounts[at];
								if (up >= 0 && w.types[up] !== w.types[at]) sign = -sign;
								at = up;
							}
							if (at !== root) continue;
							for (const d of leaves) {
								const v = value(a, Number(d.slice(1)), t);
								if (v === null) continue;
								any = true;
								expected += sign * v;
							}
						}
						const [cell] = cellsOf(totalsOf(plan).of(`a${root}`, `d${top}`), FIRST + t, FIRST + t);
						expect(cell === null ? null : (cell as number) + 0).toBe(any ? expected + 0 : null);
					}
			})
		);
	});
	it('over time are the sums of their months', () => {
		fc.assert(
			fc.property(world, fc.nat(MONTHS - 1), fc.nat(MONTHS - 1), (w, x, y) => {
				const { plan } = planOf(w);
				const [from, to] = [FIRST + Math.min(x, y), FIRST + Math.max(x, y)];
				for (const { code } of plan.structure.accounts.all) {
					const s = totalsOf(plan).of(code, null);
					const months = cellsOf(s, from, to).filter((c): c is number => c !== null);
					expect(overTime(s, from, to)).toBe(months.length ? months.reduce((a, b) => a + b, 0) : null);
				}
			})
		);
	});
	it('of an error are that error, whatever stands beside it', () => {
		const { plan } = planOf({
			accounts: [-1, 0, 0],
			types: ['revenue', 'revenue', 'revenue'],
			departments: [-1, 0, 0],
			values: Array(54).fill(1)
		});
		// In the first department or the second, in the first account or the second.
		for (const [account, row, t] of [
			['a1', 0, 0],
			['a1', 1, 1],
			['a2', 0, 2],
			['a2', 1, 3]
		] as const) {
			const m = plan.calculation.matrix(ACCOUNTS_BLOCK, account);
			const i = (t + FIRST - plan.calculation.axis.first) * m.rows + row;
			m.values[i] = NaN;
			marksOf(m)[i] = DIV0;
			m.errors = true;
		}
		const of = (account: string, department = 'd0') => totalsOf(plan).of(account, department);
		const cells = (code: string) => cellsOf(of(code), FIRST, FIRST + 4);
		expect(cells('a0')).toEqual([...Array(4).fill('#DIV/0!'), 4]);
		expect(cells('a1')).toEqual(['#DIV/0!', '#DIV/0!', 2, 2, 2]);
		expect(overTime(of('a0'), FIRST, FIRST + 4)).toBe('#DIV/0!');
		expect(overTime(of('a0'), FIRST + 4, FIRST + 5)).toBe(8);
		expect(cellsOf(of('a0', 'd2'), FIRST, FIRST)).toEqual([2]);
	});
	it('outside the axis are blank', () => {
		const { plan } = planOf({
			accounts: [-1, 0],
			types: ['revenue', 'revenue'],
			departments: [-1, 0],
			values: Array(24).fill(1)
		});
		const s = totalsOf(plan).of('a0', 'd1');
		expect(cellsOf(s, FIRST - 40, FIRST - 40)).toEqual([null]);
		expect(overTime(s, FIRST + 90, FIRST + 95)).toBeNull();
	});
});

describe('a variance', () => {
	const number = fc.integer({ min: -1e6, max: 1e6 });
	it('turned around has the other sign and the other verdict', () => {
		fc.assert(
			fc.property(
				number,
				number,
				fc.constantFrom<Account['type']>('revenue', 'expense', 'asset', 'liability'),
				(a, b, type) => {
					const [there, back] = [variance(a, b, type), variance(b, a, type)];
					expect((there.difference as number) + (back.difference as number)).toBe(0);
					if (a === b) expect(there.verdict).toBe('neutral');
					else
						expect(new Set([there.verdict, back.verdict])).toEqual(new Set(['favourable', 'unfavourable']));
				}
			)
		);
	});
});

describe('the next forecast', () => {
	it('always reaches twelve months ahead and never less than the one before', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 1, max: 12 }),
				fc.integer({ min: FIRST, max: FIRST + 60 }),
				fc.nat(40),
				(start, month, reach) => {
					const c = monthCalendar(start);
					const previous = { last: month + reach } as Scenario;
					const next = nextForecast(c, previous, month);
					expect(next.last).toBeGreaterThanOrEqual(month + 12);
					expect(next.last).toBeGreaterThanOrEqual(previous.last);
					const [closed, open] = /(\d+)\+(\d+)$/.exec(next.name)!.slice(1).map(Number);
					expect(closed + open).toBe(12);
					expect(c.yearStart(c.fiscalYear(month)) + closed - 1).toBe(month);
				}
			)
		);
	});
});
