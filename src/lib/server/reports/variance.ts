/** The variance report: one scenario against another, or against last year. */
import { yearFrom } from '../../core/calendar/spans';
import { spanBefore, withoutLeapWeek } from '../../core/calendar/last-year';
import { overTime } from '../../core/statements/statement';
import { totalsOf } from '../../core/statements/totals';
import type { Structure } from '../../core/company/structure';
import { isMoney, missingRates, missingText } from '../../core/currency/rates';
import { currencyIn, moneyView, ratesIn, type MoneyView } from '../../core/currency/view';
import {
	currencySplit,
	matters,
	variance,
	type CurrencySplit,
	type Threshold,
	type Variance
} from '../../core/analysis/variance';
import type { Account } from '../../core/company/schema';
import type { Plan } from '../../core/scenario/plan';
import { mustRead } from '../platform/auth/policy';
import { plannedAccounts } from '../../core/views/plan-rows';
import { planOf } from '../scenarios/plans';
import { mustSee } from '../scenarios/scenarios';
import { companyState } from '../company/structure';
import type { Context } from '../platform/context';

/** Stands for the same scenario twelve months earlier. */
export const LAST_YEAR = 'last-year';
export type Span = 'month' | 'ytd' | 'year';

export interface ReportQuery {
	scenario: string;
	against: string;
	department: string;
	period: number;
	span: Span;
	/** Whether a leap week counts, in a span of several weeks that has one; it does where nothing is said. */
	leap?: 'with' | 'without';
	threshold: Threshold;
	/** In which currency; the department's own where nothing is said, or the reporting one where there are several. */
	money?: MoneyView;
}

/** In reporting currency: what comes of rates alone, and what of performance. */
type Split = Partial<CurrencySplit>;

export interface ReportRow extends Variance, Split {
	account: string;
	name: string;
	parent: string | null;
	depth: number;
	type: Account['type'];
	format: Account['format'];
	leaf: boolean;
	marked: boolean;
	/** The same figure of each department directly under the chosen one. */
	departments: ({ department: string; name: string; marked: boolean } & Variance & Split)[];
}

export interface Report {
	query: ReportQuery;
	from: number;
	to: number;
	/** Whether the span has a leap week that can be left out. */
	hasLeap: boolean;
	scenarioName: string;
	againstName: string;
	departmentName: string;
	money: MoneyView;
	/** Null for departments of several currencies, each as it is. */
	currency: string | null;
	/** Whether differences are split into currency and performance. */
	splits: boolean;
	/** Rates that are missing for it, in words. */
	missing: string[];
	rows: ReportRow[];
	/** Leaf accounts that matter. */
	marked: number;
}

/** The months of a span that ends with, or holds, a period. */
export function spanOf(
	calendar: Plan['structure']['calendar'],
	period: number,
	span: Span
): [number, number] {
	const start = calendar.yearStart(calendar.fiscalYear(period));
	return span === 'month'
		? [period, period]
		: span === 'ytd'
			? [start, period]
			: [start, yearFrom(calendar, start).to];
}

/** Rates that are missing for what a department's figures are translated from. */
function missingIn(
	structure: Structure,
	department: string,
	plans: readonly Plan[],
	spans: readonly { from: number; to: number }[]
): string[] {
	const { departments, departmentRow, rowCurrency, currency, calendar } = structure;
	const own = departments.leaves(department).map((d) => rowCurrency[departmentRow.get(d.code)!]);
	const foreign = [...new Set(own)].filter((c) => c !== currency);
	return [
		...new Set(
			plans.flatMap(({ rates, scenario }, i) =>
				missingRates(rates, foreign, spans[i].from, spans[i].to).map(
					(m) => `${missingText(m, calendar)} (${scenario.name})`
				)
			)
		)
	];
}

export async function varianceReport(context: Context, query: ReportQuery): Promise<Report> {
	const { db, user } = context;
	const { structure } = await companyState(db);
	const { accounts, departments, calendar } = structure;
	mustRead(user, query.department, departments);
	const [first, last] = spanOf(calendar, query.period, query.span);
	const even = withoutLeapWeek(calendar, { from: first, to: last });
	const { from, to } = query.leap === 'without' ? even : { from: first, to: last };
	await mustSee(context, query.scenario);
	if (query.against !== LAST_YEAR) await mustSee(context, query.against);
	const plan = await planOf(db, query.scenario);
	const lastYear = query.against === LAST_YEAR;
	const base = lastYear ? plan : await planOf(db, query.against);
	const other = lastYear ? spanBefore(calendar, { from, to }) : { from, to };
	const parts = departments.isLeaf(query.department) ? [] : departments.children(query.department);
	const money = moneyView(structure, query.department, query.money ?? null);
	const baseRates = lastYear ? base.exchange.yearBefore : base.exchange;
	const [a, b] = [plan, base].map((of) => totalsOf(of, calendar, ratesIn(of, money)));
	const splits = money === 'reporting';
	const atOthers = splits ? totalsOf(plan, calendar, baseRates) : null;
	const figures = (account: Account, department: string): Variance & Split => {
		const { code, type } = account;
		const [now, then] = [
			overTime(a.of(code, department), from, to),
			overTime(b.of(code, department), other.from, other.to)
		];
		const split =
			atOthers && isMoney(account)
				? currencySplit(now, overTime(atOthers.of(code, department), from, to), then)
				: {};
		return { ...variance(now, then, type), ...split };
	};
	const rows = plannedAccounts(plan).map((account): ReportRow => {
		const v = figures(account, query.department);
		return {
			account: account.code,
			name: account.name,
			parent: account.parent,
			depth: accounts.depth(account.code),
			type: account.type,
			format: account.format,
			leaf: accounts.isLeaf(account.code),
			marked: matters(v, query.threshold),
			...v,
			departments: parts
				.map((d) => ({ department: d.code, name: d.name, ...figures(account, d.code) }))
				.filter((p) => p.a !== null || p.b !== null)
				.map((p) => ({ ...p, marked: matters(p, query.threshold) }))
		};
	});
	return {
		query,
		from,
		to,
		hasLeap: even.to < last,
		scenarioName: plan.scenario.name,
		againstName: lastYear ? 'Last year' : base.scenario.name,
		departmentName: departments.get(query.department)!.name,
		money,
		currency: currencyIn(structure, query.department, money),
		splits,
		missing: splits ? missingIn(structure, query.department, [plan, base], [{ from, to }, other]) : [],
		rows,
		marked: rows.filter((r) => r.leaf && r.marked).length
	};
}
