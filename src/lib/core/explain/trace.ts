/** Opens a figure into what it is made of, as data: no text for a screen beyond names and formulas. */
import { operandsAt } from '../engine/explain';
import type { Cell } from '../engine/values';
import { accountSeries, cellsOf, overTime } from '../statements/statement';
import { print, type Expr } from '../formula/ast';
import { LEDGER_BLOCK, type Basis } from '../blocks/accounts/schema';
import { rowKey } from '../engine/row-key';
import type { NumberFormat } from '../company/schema';
import type { ScopedFormula } from '../blocks/driver-model/schema';
import { signInParent } from '../company/sign';
import { rowName } from '../blocks/driver-model/rows';
import type { Plan } from '../scenario/plan';
import { treeOf } from '../company/structure';

/** A figure of the planned accounts: any node of both trees, a span of periods (ordinals, both included). */
export interface AccountRef {
	kind: 'account';
	account: string;
	department: string;
	from: number;
	to: number;
}
/** A figure of a driver model: one row, one period. */
export interface LineRef {
	kind: 'line';
	model: string;
	line: string;
	row: string;
	period: number;
}
export type FigureRef = AccountRef | LineRef;

export interface Part {
	ref: FigureRef | null;
	name: string;
	value: Cell;
	format: NumberFormat;
	/** Enters the sum with this factor. */
	sign: 1 | -1;
}

export interface Operand {
	/** Where the reference stands in the printed formula's source order. */
	name: string;
	value: Cell;
	format: NumberFormat;
	ref: FigureRef | null;
	period: number;
}

export type Explanation =
	| { kind: 'accounts' | 'departments' | 'periods' | 'posted'; parts: Part[] }
	| { kind: 'actual' }
	| { kind: 'followed'; scenario: string | null }
	| { kind: 'typed'; basis: Basis | null; basisValue: Cell }
	| { kind: 'basis'; basis: Basis; formula: string; operands: Operand[] }
	/** `scope` says in words for which members and months a scoped formula stands; empty for the line's own. */
	| { kind: 'formula'; formula: string; scope: string; operands: Operand[] }
	| { kind: 'input' }
	/** A line's closed month, from ledger entries tagged with the row's members. */
	| { kind: 'derived' }
	| { kind: 'nothing' };

export interface Trace {
	ref: FigureRef;
	value: Cell;
	/** How the figure is written. */
	format: NumberFormat;
	explanations: Explanation[];
}

export function trace(plan: Plan, ref: FigureRef): Trace {
	const format =
		ref.kind === 'account' ? accountFormat(plan, ref.account) : lineFormat(plan, ref.model, ref.line);
	return { ...(ref.kind === 'account' ? traceAccount(plan, ref) : traceLine(plan, ref)), format };
}

const accountFormat = (plan: Plan, account: string): NumberFormat =>
	plan.structure.accounts.get(account)?.format ?? 'money';
const lineFormat = (plan: Plan, model: string, line: string): NumberFormat =>
	plan.models.get(model)?.definition.lines.find((l) => l.code === line)?.format ?? 'number';

function traceAccount(plan: Plan, ref: AccountRef): Omit<Trace, 'format'> {
	const { structure, scenario } = plan;
	const { accounts, departments, calendar } = structure;
	const valueOf = (account: string, department: string, from: number, to: number): Cell => {
		const series = accountSeries(
			plan,
			departments.leaves(department).map((d) => d.code)
		).get(account);
		return series ? overTime(plan, series, from, to) : null;
	};
	const value = valueOf(ref.account, ref.department, ref.from, ref.to);
	const account = accounts.get(ref.account);
	if (!account) return { ref, value, explanations: [{ kind: 'nothing' }] };
	const explanations: Explanation[] = [];

	if (!accounts.isLeaf(account.code))
		explanations.push({
			kind: 'accounts',
			parts: accounts.children(account.code).map((child) => ({
				ref: { ...ref, account: child.code },
				name: child.name,
				value: valueOf(child.code, ref.department, ref.from, ref.to),
				format: child.format,
				sign: signInParent(child.type, account.type)
			}))
		});
	if (!departments.isLeaf(ref.department))
		explanations.push({
			kind: 'departments',
			parts: departments
				.children(ref.department)
				.map((child) => ({
					ref: { ...ref, department: child.code },
					name: child.name,
					value: valueOf(account.code, child.code, ref.from, ref.to),
					format: account.format,
					sign: 1 as const
				}))
				.filter((part) => part.value !== null)
		});
	if (ref.to > ref.from) {
		const series = accountSeries(
			plan,
			departments.leaves(ref.department).map((d) => d.code)
		).get(account.code)!;
		const cells = cellsOf(plan, series, ref.from, ref.to);
		explanations.push({
			kind: 'periods',
			parts: cells.map((cell, i) => ({
				ref: { ...ref, from: ref.from + i, to: ref.from + i },
				name: calendar.label(ref.from + i),
				value: cell,
				format: account.format,
				sign: 1
			}))
		});
	}
	const leaf = accounts.isLeaf(account.code);
	const closed = scenario.kind === 'actuals' ? scenario.last : (scenario.actualsThrough ?? -Infinity);
	if (leaf && ref.from <= closed) explanations.push({ kind: 'actual' });
	if (leaf && departments.isLeaf(ref.department) && ref.from === ref.to && ref.from > closed)
		explanations.push(...traceCell(plan, ref, value));
	return { ref, value, explanations };
}

/** One account, one department, one open month. */
function traceCell(plan: Plan, ref: AccountRef, value: Cell): Explanation[] {
	if (ref.from < plan.open) return [{ kind: 'followed', scenario: plan.scenario.follows }];
	const row = plan.structure.departmentRow.get(ref.department)!;
	const origin = plan.origin(ref.account, ref.department);
	const expr = plan.basisExpr(ref.account, ref.department);
	const typed = plan.typedAt(ref.account, ref.department)(ref.from);
	if (typed !== null) {
		const basis = origin.kind === 'basis' && origin.basis.kind !== 'typed' ? origin.basis : null;
		return [
			{
				kind: 'typed',
				basis,
				basisValue: basis ? plan.basisCell(ref.account, ref.department, ref.from) : null
			}
		];
	}
	if (origin.kind === 'posted')
		return [
			{
				kind: 'posted',
				parts: plan.postings(ref.account, ref.department).flatMap(({ model, line, rows }) =>
					rows.map((r): Part => {
						const key = rowKey(plan.calculation.block(model).rows[r]);
						return {
							ref: { kind: 'line', model, line, row: key, period: ref.from },
							name:
								rowName(plan.structure, plan.models.get(model)!.definition, key) ||
								lineName(plan, model, line),
							value: plan.calculation.cell(model, line, r, ref.from),
							format: lineFormat(plan, model, line),
							sign: 1
						};
					})
				)
			}
		];
	if (expr && origin.kind === 'basis')
		return [
			{
				kind: 'basis',
				basis: origin.basis,
				formula: print(expr),
				operands: operandsOf(plan, LEDGER_BLOCK, expr, row, ref.from)
			}
		];
	return value === null ? [{ kind: 'nothing' }] : [{ kind: 'input' }];
}

function traceLine(plan: Plan, ref: LineRef): Omit<Trace, 'format'> {
	const model = plan.models.get(ref.model);
	const line = model?.definition.lines.find((l) => l.code === ref.line);
	if (!model || !line) return { ref, value: null, explanations: [{ kind: 'nothing' }] };
	const row = plan.calculation.block(ref.model).rows.findIndex((r) => rowKey(r) === ref.row);
	const value = plan.calculation.cell(ref.model, ref.line, row, ref.period);
	const rule = plan.calculation.ruleAt(ref.model, ref.line, row, ref.period);
	if (!rule) {
		const kind =
			value === null
				? ('nothing' as const)
				: line.closed === 'actuals' && ref.period < plan.open
					? ('derived' as const)
					: ('input' as const);
		return { ref, value, explanations: [{ kind }] };
	}
	const past = line.actual !== undefined && ref.period < plan.open ? line.actual : undefined;
	return {
		ref,
		value,
		explanations: [
			{
				kind: 'formula',
				formula: line.scoped?.[rule.rule]?.formula ?? past ?? line.formula ?? print(rule.expr),
				scope: scopeName(plan, line.scoped?.[rule.rule]),
				operands: operandsOf(plan, ref.model, rule.expr, row, ref.period)
			}
		]
	};
}

/** "Kayaks, from Oct 26"; empty where there is no scope. */
function scopeName({ structure }: Plan, scope: ScopedFormula | undefined): string {
	if (!scope) return '';
	const { calendar } = structure;
	const label = (key: string) => {
		const period = calendar.parse(key);
		return period === null ? key : calendar.label(period);
	};
	const parts = Object.entries(scope.where).map(
		([dimension, member]) => treeOf(structure, dimension)?.get(member)?.name ?? member
	);
	if (scope.from !== undefined) parts.push(`from ${label(scope.from)}`);
	if (scope.to !== undefined) parts.push(`to ${label(scope.to)}`);
	return parts.join(', ');
}

function operandsOf(plan: Plan, block: string, expr: Expr, row: number, period: number): Operand[] {
	const seen = new Set<string>();
	return operandsAt(plan.calculation, block, expr, row, period).flatMap((o): Operand[] => {
		const key = `${o.block}.${o.line}@${o.period}`;
		if (seen.has(key)) return [];
		seen.add(key);
		const rowOfOperand = o.row >= 0 ? plan.calculation.block(o.block).rows[o.row] : null;
		if (o.block === LEDGER_BLOCK) {
			const department = rowOfOperand?.[0] ?? plan.structure.departments.roots[0].code;
			return [
				{
					name: plan.structure.accounts.get(o.line)?.name ?? o.line,
					value: o.value,
					format: accountFormat(plan, o.line),
					ref: { kind: 'account', account: o.line, department, from: o.period, to: o.period },
					period: o.period
				}
			];
		}
		return [
			{
				name:
					o.block === block
						? lineName(plan, o.block, o.line)
						: `${modelName(plan, o.block)}: ${lineName(plan, o.block, o.line)}`,
				value: o.value,
				format: lineFormat(plan, o.block, o.line),
				ref: rowOfOperand
					? { kind: 'line', model: o.block, line: o.line, row: rowKey(rowOfOperand), period: o.period }
					: null,
				period: o.period
			}
		];
	});
}

const modelName = (plan: Plan, model: string) => plan.models.get(model)?.definition.name ?? model;
const lineName = (plan: Plan, model: string, line: string) =>
	plan.models.get(model)?.definition.lines.find((l) => l.code === line)?.label ?? line;
