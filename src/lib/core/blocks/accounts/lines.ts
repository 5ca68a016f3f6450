/** An account by departments as lines of the calculation. */
import type { Axis } from '../../engine/axis';
import type { LineSpec, RuleSpec } from '../../engine/spec';
import { BLANK, cellAt, copyPeriods, marksOf, newMatrix, RATE } from '../../engine/values';
import { print, type Expr } from '../../formula/ast';
import { isBalance } from '../../company/sign';
import type { Account } from '../../company/schema';
import type { Series } from '../../inputs/series';
import { call, ref } from '../../formula/make';
import { exchangeLine } from './basis-formula';
import { seed } from '../../inputs/seed';
import type { Inflow } from '../block';
import { postedLines, postedPlan, standsOn } from './posted';
import type { History } from './schema';
import type { Structure } from '../../company/structure';
import { departmentUnits, type Exchange } from '../../currency/exchange';
import { isMoney, rateKindOf } from '../../currency/rates';

/** What was typed for an account stands in a line of its own, as what is posted to it does. */
export const typedLine = (account: string) => `typed:${account}`;
/** What the basis gives where something is typed over it. */
export const basisLine = (account: string) => `basis:${account}`;

export interface AccountParts {
	axis: Axis;
	history: History;
	typed: readonly Series[];
	inflows: readonly Inflow[];
	expr(department: string): Expr | null;
	exchange: Exchange;
}

/** An account as lines: its values, and where needed what was typed and what was posted. */
export function accountLines(account: Account, structure: Structure, parts: AccountParts): LineSpec[] {
	const { axis, typed, inflows, exchange } = parts;
	const { departmentRows } = structure;
	const rows = departmentRows.length;
	const units = isMoney(account)
		? departmentUnits(
				structure,
				exchange,
				departmentRows.map((d) => d.code),
				rateKindOf(account.type)
			)
		: null;
	const lines: LineSpec[] = [];
	const values = newMatrix(rows, axis.length);
	marksOf(values).fill(BLANK);
	const past = parts.history.accounts.get(account.code);
	if (past) {
		const before = axis.first - parts.history.first;
		const from = Math.max(0, -before);
		const count = Math.min(axis.open, past.periods - before) - from;
		if (count > 0) copyPeriods(past, from + before, values, from, count);
	}
	// Also where nothing is typed yet: so that it can be tried what typing would give.
	const overTime = account.rollup;
	const planned = !isBalance(account.type);
	if (planned)
		lines.push({
			code: typedLine(account.code),
			additive: true,
			overTime,
			seed: seed(typed, structure.departmentRow, rows, axis)
		});
	if (inflows.length) lines.push(...postedLines(account, inflows, structure, exchange, axis));
	const rules: RuleSpec[] = [];
	if (planned) {
		// Departments with the same basis share rules; others must not, or they would seem to need each other's.
		const shared = new Map<string, { rows: number[]; basis: Expr | null }>();
		structure.departmentRows.forEach((department, row) => {
			const basis = parts.expr(department.code);
			const key = basis ? print(basis) : '';
			const rule = shared.get(key);
			if (rule) rule.rows.push(row);
			else shared.set(key, { rows: [row], basis });
		});
		const own = ref(typedLine(account.code));
		const over = call('coalesce', own, ref(basisLine(account.code)));
		const based: RuleSpec[] = [];
		for (const { rows, basis } of shared.values()) {
			if (basis) based.push({ rows, expr: basis, from: axis.open });
			rules.push({ rows, expr: basis ? over : own, from: axis.open });
		}
		if (based.length)
			lines.push({
				code: basisLine(account.code),
				additive: account.type !== 'rate',
				overTime,
				rules: based
			});
	} else if (inflows.length) {
		const expr = postedPlan(account, inflows);
		const reached = (row: number) => inflows.some((f) => f.rowsOf.has(departmentRows[row].code));
		const held = (row: number) => axis.open > 0 && cellAt(values, row, axis.open - 1) !== null;
		const carries = standsOn(inflows) ? reached : (row: number) => reached(row) || held(row);
		rules.push({ rows: [...departmentRows.keys()].filter(carries), expr, from: axis.open });
	}
	// Not additive over departments where it is a rate.
	lines.push({ code: account.code, additive: account.type !== 'rate', overTime, units, seed: values, rules });
	return lines;
}

/** One unit of a currency in that of each department, at the average rate. */
export function exchangeValues(
	currency: string,
	{ rowCurrency }: Structure,
	exchange: Exchange,
	axis: Axis
): LineSpec {
	const rows = rowCurrency.length;
	const values = newMatrix(rows, axis.length);
	rowCurrency.forEach((to, r) => {
		const rates = exchange.between(currency, to, 'average', axis);
		for (let t = 0; t < axis.length; t++) {
			values.values[t * rows + r] = rates[t];
			if (!Number.isNaN(rates[t])) continue;
			marksOf(values)[t * rows + r] = RATE;
			values.errors = true;
		}
	});
	return { code: exchangeLine(currency), additive: false, overTime: 'average', seed: values };
}
