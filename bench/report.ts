/** Variance reports over a calculated plan's totals, against one pass by hand over the very arrays they rest on. */
import { matters, variance } from '../src/lib/core/analysis/variance';
import { monthCalendar } from '../src/lib/core/calendar/calendar';
import type { Account, Department } from '../src/lib/core/company/schema';
import { buildStructure, type Structure } from '../src/lib/core/company/structure';
import { ACCOUNTS_BLOCK } from '../src/lib/core/engine/spec';
import { newMatrix } from '../src/lib/core/engine/values';
import { calculateScenario } from '../src/lib/core/scenario/assemble';
import type { Plan } from '../src/lib/core/scenario/plan';
import { overTime } from '../src/lib/core/statements/statement';
import { totalsOf } from '../src/lib/core/statements/totals';
import { medians, report } from './measure';

const calendar = monthCalendar(4);
const FIRST = calendar.parse('2026-04')!;
const THRESHOLD = { amount: 5000, percent: 5 };

/**
 * Accounts under groups of five, these under one result; departments under groups of twenty, these under one.
 * @param abroad how many of the groups count in another currency
 */
function structureOf(accounts: number, departments: number, abroad = 0): Structure {
	const account = (code: string, parent: string | null, type: Account['type']): Account => ({
		code,
		name: code,
		parent,
		type,
		rollup: 'sum',
		format: 'money'
	});
	const department = (code: string, parent: string | null): Department => ({
		code,
		name: code,
		parent,
		entity: Math.floor(Number(/^d(\d+)/.exec(code)?.[1] ?? Infinity) / 20) < abroad ? 'abroad' : 'e'
	});
	const groups = Math.ceil(accounts / 5);
	const regions = Math.ceil(departments / 20);
	return buildStructure(
		calendar,
		[
			account('result', null, 'revenue'),
			...Array.from({ length: groups }, (_, g) => account(`g${g}`, 'result', g ? 'expense' : 'revenue')),
			...Array.from({ length: accounts }, (_, a) => {
				const g = Math.floor(a / 5);
				return account(`a${a}`, `g${g}`, g ? 'expense' : 'revenue');
			})
		],
		[
			department('all', null),
			...Array.from({ length: regions }, (_, r) => department(`r${r}`, 'all')),
			...Array.from({ length: departments }, (_, d) => department(`d${d}`, `r${Math.floor(d / 20)}`))
		],
		[],
		'GBP',
		[
			{ code: 'e', name: 'E', currency: 'GBP' },
			{ code: 'abroad', name: 'Abroad', currency: 'EUR' }
		]
	);
}

function planOf(structure: Structure, months: number, seed: number): Plan {
	const { accounts, departmentRows } = structure;
	const leaves = accounts.all.filter((a) => accounts.isLeaf(a.code));
	const matrices = new Map(
		leaves.map(({ code }, a) => {
			const m = newMatrix(departmentRows.length, months);
			for (let i = 0; i < m.values.length; i++) m.values[i] = ((i * 7919 + a * 104729 + seed) % 100_000) / 4;
			return [code, m] as const;
		})
	);
	const span = { first: FIRST, last: FIRST + months - 1 };
	const rates = { first: FIRST - 24, values: new Float64Array(months + 24).fill(0.86) };
	return calculateScenario(structure, {
		scenario: {
			code: 's',
			name: 'S',
			kind: 'actuals',
			...span,
			actualsThrough: span.last,
			follows: null,
			origin: null,
			locked: true,
			description: ''
		},
		models: [],
		series: [],
		bases: [],
		history: { first: FIRST, accounts: matrices },
		rates: [{ currency: 'EUR', average: rates, closing: rates }]
	});
}

/** Sums every value of the months once. */
function byHand(plans: readonly Plan[], rows: number, from: number, to: number): number {
	let all = 0;
	for (const { structure, calculation } of plans) {
		const first = from - calculation.axis.first;
		const last = to - calculation.axis.first;
		for (const { code } of structure.accounts.all) {
			if (!structure.accounts.isLeaf(code)) continue;
			const { values } = calculation.matrix(ACCOUNTS_BLOCK, code);
			for (let t = first; t <= last; t++) {
				let sum = 0;
				for (let r = 0; r < rows; r++) sum += values[t * rows + r];
				all += sum;
			}
		}
	}
	return all;
}

/** Every account in these departments, one scenario against the other; how many are over the threshold. */
function reported([a, b]: readonly Plan[], departments: readonly string[], from: number, to: number): number {
	const [ta, tb] = [totalsOf(a), totalsOf(b)];
	let marked = 0;
	for (const { code, type } of a.structure.accounts.all)
		for (const d of departments) {
			const v = variance(overTime(ta.of(code, d), from, to), overTime(tb.of(code, d), from, to), type);
			if (matters(v, THRESHOLD)) marked++;
		}
	return marked;
}

/** The report against the pass by hand; and the first one after a calculation, in which all totals are summed. */
function measure(
	metric: string,
	structure: Structure,
	departments: readonly string[],
	[from, to]: [number, number],
	note: string
): void {
	const plans = [planOf(structure, MONTHS, 1), planOf(structure, MONTHS, 2)];
	let check = 0;
	const [ours, pass] = medians(
		() => void (check += reported(plans, departments, from, to)),
		() => void (check += byHand(plans, structure.departmentRows.length, from, to))
	);
	report(metric, ours, pass, 'ms', note);
	const calculate = () => plans.forEach((p) => p.calculation.calculate());
	const [first, calculating] = medians(() => {
		calculate();
		check += reported(plans, departments, from, to);
	}, calculate);
	if (!Number.isFinite(check)) throw new Error('A report gave no number.');
	report(`${metric}.first`, first - calculating, pass, 'ms', 'the same after everything was calculated anew');
}

const MONTHS = 36;

export function benchReport(): void {
	const whole = structureOf(60, 300);
	measure(
		'report.query',
		whole,
		whole.departments.all.map((d) => d.code),
		[FIRST, FIRST + MONTHS - 1],
		'60 accounts × 300 departments × 36 months × 2 scenarios, with all totals'
	);
	const several = structureOf(60, 300, 4);
	measure(
		'report.query.currencies',
		several,
		several.departments.all.map((d) => d.code),
		[FIRST, FIRST + MONTHS - 1],
		'the same with 80 of the departments in another currency'
	);
	const page = structureOf(63, 316);
	measure(
		'report.page',
		page,
		['all', ...page.departments.children('all').map((d) => d.code)].slice(0, 16),
		[FIRST + 12, FIRST + 23],
		'63 accounts × 16 of 316 departments, 12 months'
	);
}
