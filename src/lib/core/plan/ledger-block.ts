/** The planned accounts by department as a block of the calculation. */
import type { Axis } from '../engine/axis';
import type { InflowSpec, LineSpec, RuleSpec } from '../engine/spec';
import { BLANK, cellAt, marksOf, newMatrix, setCell } from '../engine/values';
import { print, type Expr } from '../formula/ast';
import { isBalance } from '../model/sign';
import type { Account, Series } from '../model/schema';
import { call, ref } from './basis';
import { seed } from './model-block';
import type { AccountInflow } from './postings';
import type { History } from './scenario';
import type { Structure } from './structure';

/** What was typed for an account, and what models post to it, stand in lines of their own. */
export const typedLine = (account: string) => `typed:${account}`;
export const postedLine = (account: string) => `posted:${account}`;
/** What the basis gives where something is typed over it. */
export const basisLine = (account: string) => `basis:${account}`;

export interface AccountParts {
	axis: Axis;
	history: History;
	typed: readonly Series[];
	inflows: readonly AccountInflow[];
	expr(department: string): Expr | null;
}

/** An account as lines: its values, and where needed what was typed and what was posted. */
export function accountLines(account: Account, structure: Structure, parts: AccountParts): LineSpec[] {
	const { axis, typed, inflows } = parts;
	const rows = structure.departmentRows.length;
	const lines: LineSpec[] = [];
	const values = newMatrix(rows, axis.length);
	marksOf(values).fill(BLANK);
	const past = parts.history.accounts.get(account.code);
	if (past)
		for (let t = 0; t < axis.open; t++) {
			const p = t + axis.first - parts.history.first;
			if (p < 0 || p >= past.periods) continue;
			for (let r = 0; r < rows; r++) {
				const cell = cellAt(past, r, p);
				if (typeof cell === 'number') setCell(values, r, t, cell);
			}
		}
	if (typed.length)
		lines.push({
			code: typedLine(account.code),
			additive: true,
			seed: seed(typed, structure.departmentRow, rows, axis)
		});
	if (inflows.length) {
		const specs: InflowSpec[] = inflows.map((f) => ({ block: f.model, line: f.line, index: f.index }));
		lines.push({ code: postedLine(account.code), additive: true, inflows: specs });
	}
	const rules: RuleSpec[] = [];
	if (!isBalance(account.type)) {
		const typedRows = new Set(typed.map((s) => s.row));
		// Departments with the same basis share one rule.
		const shared = new Map<string, { rows: number[]; expr: Expr }>();
		const under = new Map<string, { rows: number[]; expr: Expr }>();
		const share = (by: typeof shared, row: number, expr: Expr) => {
			const rule = by.get(print(expr));
			if (rule) rule.rows.push(row);
			else by.set(print(expr), { rows: [row], expr });
		};
		structure.departmentRows.forEach((department, row) => {
			const basis = parts.expr(department.code);
			const own = typedRows.has(department.code) ? ref(typedLine(account.code)) : null;
			const over = own && basis;
			if (over) share(under, row, basis);
			const expr = over ? call('coalesce', own, ref(basisLine(account.code))) : (own ?? basis);
			if (expr) share(shared, row, expr);
		});
		if (under.size)
			lines.push({
				code: basisLine(account.code),
				additive: account.type !== 'rate',
				rules: [...under.values()].map((rule) => ({ ...rule, from: axis.open }))
			});
		for (const rule of shared.values()) rules.push({ ...rule, from: axis.open });
	}
	// Not additive over departments where it is a rate.
	lines.push({ code: account.code, additive: account.type !== 'rate', seed: values, rules });
	return lines;
}
