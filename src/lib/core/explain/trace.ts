/** Opens a figure into what it is made of, as data: no text for a screen beyond names and formulas. */
import { operandsAt } from '../engine/explain';
import { meeting } from '../engine/retime';
import { ERROR_TEXT, RATE, type Cell } from '../engine/values';
import { LOCAL } from '../formula/units';
import { cellsOf, overTime } from '../statements/statement';
import { totalsOf } from '../statements/totals';
import { moneyView, ratesIn, type MoneyView } from '../currency/view';
import { isMoney, rateKindOf, type RateKind } from '../currency/rates';
import { currencyUnder } from '../company/structure';
import { print, walk, type Expr } from '../formula/ast';
import type { Basis } from '../inputs/basis';
import { rowKey } from '../engine/row-key';
import type { NumberFormat } from '../company/schema';
import type { Block, InflowKind, PostedFrom } from '../blocks/block';
import { signInParent } from '../company/sign';
import type { CellAddress } from '../inputs/cell';
import type { Plan } from '../scenario/plan';

/** The block in whose periods a figure is seen, where they are not its own: by days. */
interface Seen {
	in?: string;
}
/** A figure of the planned accounts: any node of both trees, a span of periods (ordinals, both included). */
export interface AccountRef extends Seen {
	kind: 'account';
	account: string;
	department: string;
	from: number;
	to: number;
	/** In the department's own currency when absent, or the reporting one where there are several. */
	money?: MoneyView;
}
/** A figure of a driver model: one row, one period. */
export interface LineRef extends Seen {
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
	/** How many of the part’s days lie in the figure’s period. */
	share?: { days: number; of: number };
	/** What it was before it was brought into the figure's currency; without a rate where that is missing. */
	exchanged?: { amount: Cell; from: string; rate: number | null };
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
	/** In periods of another kind than its own: their figures, which are divided, weighted or taken over by days. */
	| { kind: 'days'; how: 'sum' | 'last' | 'average'; parts: Part[] }
	/** Brought into the reporting currency from this one, at a rate; without one where it is taken as it arose. */
	| { kind: 'translated'; from: string; parts: Part[]; rate: { kind: RateKind; value: Cell } | null }
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
	/** The one cell that it is, on which notes and items hang; null where it is more than one. */
	cell: CellAddress | null;
	value: Cell;
	/** How the figure is written. */
	format: NumberFormat;
	explanations: Explanation[];
}

export function trace(plan: Plan, ref: FigureRef): Trace {
	const block = ref.kind === 'account' ? plan.accounts : plan.blocks.get(ref.model);
	const format = block?.line(ref.kind === 'account' ? ref.account : ref.line)?.format ?? 'number';
	if (ref.in !== undefined) return { ...traceCarried(plan, ref, ref.in), cell: null, format };
	return {
		...(ref.kind === 'account' ? traceAccount(plan, ref) : traceLine(plan, ref)),
		cell: cellOf(plan, ref),
		format
	};
}

/** A line as another block reads it, in the periods of that block. */
function traceCarried(plan: Plan, ref: FigureRef, reader: string): Omit<Trace, 'format' | 'cell'> {
	const { calculation } = plan;
	const nothing = { ref, value: null, explanations: [{ kind: 'nothing' as const }] };
	const [code, line, key, period] =
		ref.kind === 'line'
			? [ref.model, ref.line, ref.row, ref.period]
			: [plan.accounts.code, ref.account, ref.department, ref.from];
	const [own, other] = [plan.blocks.get(code), plan.blocks.get(reader)];
	const row = own?.rowAt(key) ?? -1;
	if (!own || !other || row < 0 || !calculation.has(code, line)) return nothing;
	const value = calculation.cellIn(reader, code, line, row, period);
	const overTime = calculation.block(code).lines.find((l) => l.code === line)?.overTime ?? 'sum';
	const at = (line: string, when: number, seen?: string): FigureRef => ({
		...refOf(plan, code, line, key, when),
		...(seen === undefined ? {} : { in: seen })
	});
	if (typeof overTime === 'object' && 'expr' in overTime) {
		const named = new Set<string>();
		walk(overTime.expr, (e) => {
			if (e.kind === 'reference' && own.line(e.line)) named.add(e.line);
		});
		const operands = [...named].map((operand) => ({
			name: own.line(operand)!.label,
			value: calculation.cellIn(reader, code, operand, row, period),
			format: own.line(operand)!.format,
			ref: at(operand, period, reader),
			period
		}));
		const formula = print(overTime.expr);
		return { ref, value, explanations: [{ kind: 'formula', formula, scope: '', operands }] };
	}
	const [from, to] = [calculation.axisOf(code), calculation.axisOf(reader)];
	const { starts, source, days, length } = meeting(from, to);
	const t = period - to.first;
	if (t < 0 || t >= to.length) return nothing;
	const how = typeof overTime === 'object' ? 'average' : overTime;
	const first = how === 'last' ? Math.max(starts[t], starts[t + 1] - 1) : starts[t];
	const parts = Array.from({ length: starts[t + 1] - first }, (_, k): Part => {
		const s = source[first + k];
		return {
			ref: at(line, from.first + s),
			name: own.calendar.label(from.first + s),
			value: calculation.cell(code, line, row, from.first + s),
			format: own.line(line)?.format ?? 'number',
			sign: 1,
			share: { days: days[first + k], of: length[s] }
		};
	});
	return { ref, value, explanations: [{ kind: 'days', how, parts }] };
}

function cellOf({ accounts }: Plan, ref: FigureRef): CellAddress | null {
	if (ref.kind === 'line') return { block: ref.model, line: ref.line, row: ref.row, period: ref.period };
	const { account: line, department: row, from: period, to } = ref;
	return period === to ? { block: accounts.code, line, row, period } : null;
}

function traceAccount(plan: Plan, ref: AccountRef): Omit<Trace, 'format' | 'cell'> {
	const { structure, scenario } = plan;
	const { accounts, departments, calendar } = structure;
	const account = accounts.get(ref.account);
	if (!account) return { ref, value: null, explanations: [{ kind: 'nothing' }] };
	const money = moneyView(structure, ref.department, ref.money ?? null);
	const totals = totalsOf(plan, calendar, ratesIn(plan, money));
	const valueOf = (of: string, department: string): Cell =>
		overTime(totals.of(of, department), ref.from, ref.to);
	const value = valueOf(ref.account, ref.department);
	const explanations: Explanation[] = [];

	if (!accounts.isLeaf(account.code))
		explanations.push({
			kind: 'accounts',
			parts: accounts.children(account.code).map((child) => ({
				ref: { ...ref, account: child.code },
				name: child.name,
				value: valueOf(child.code, ref.department),
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
					value: valueOf(account.code, child.code),
					format: account.format,
					sign: 1 as const
				}))
				.filter((part) => part.value !== null)
		});
	if (ref.to > ref.from) {
		const cells = cellsOf(totals.of(account.code, ref.department), ref.from, ref.to);
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
	const translated = money === 'reporting' && leaf ? translation(plan, ref) : null;
	if (translated) return { ref, value, explanations: [...explanations, translated] };
	const closed = scenario.kind === 'actuals' ? scenario.last : (scenario.actualsThrough ?? -Infinity);
	if (leaf && ref.from <= closed) explanations.push({ kind: 'actual' });
	if (leaf && departments.isLeaf(ref.department) && ref.from === ref.to && ref.from > closed)
		explanations.push(
			explained(plan, plan.accounts, ref.account, structure.departmentRow.get(ref.department)!, ref.from)
		);
	return { ref, value, explanations };
}

/** What a department's figure is in its own currency, and at which rate it is translated; null for what is not. */
function translation(plan: Plan, ref: AccountRef): Explanation | null {
	const { structure, calculation, exchange } = plan;
	const account = structure.accounts.get(ref.account)!;
	const from = currencyUnder(structure, ref.department);
	if (from === null || ref.from !== ref.to || !isMoney(account)) return null;
	const kind = rateKindOf(account.type);
	const { axis } = calculation;
	const rates = exchange.between(from, structure.currency, kind, axis);
	const rate = rates[ref.from - axis.first];
	const local = overTime(
		totalsOf(plan, structure.calendar, 'local').of(ref.account, ref.department),
		ref.from,
		ref.to
	);
	return {
		kind: 'translated',
		from,
		parts: [
			{
				ref: { ...ref, money: 'local' },
				name: `In ${from}`,
				value: local,
				format: account.format,
				sign: 1
			}
		],
		rate:
			account.type === 'equity'
				? null
				: { kind, value: rate === undefined || Number.isNaN(rate) ? null : rate }
	};
}

function traceLine(plan: Plan, ref: LineRef): Omit<Trace, 'format' | 'cell'> {
	const block = plan.blocks.get(ref.model);
	const row = block?.line(ref.line) ? block.rowAt(ref.row) : -1;
	if (!block || row < 0) return { ref, value: null, explanations: [{ kind: 'nothing' }] };
	return {
		ref,
		value: plan.calculation.cell(ref.model, ref.line, row, ref.period),
		explanations: [explained(plan, block, ref.line, row, ref.period)]
	};
}

/** What one cell is made of, with the names of what it refers to. */
function explained(plan: Plan, block: Block, line: string, row: number, period: number): Explanation {
	const made = block.madeOf(plan, line, row, period);
	const operands = (expr: Expr) => operandsOf(plan, block, expr, row, period);
	switch (made.kind) {
		case 'followed':
			return { kind: 'followed', scenario: plan.scenario.follows };
		case 'basis':
			return {
				kind: 'basis',
				basis: made.basis,
				formula: print(made.expr),
				operands: operands(made.expr)
			};
		case 'formula': {
			const { formula, scope, expr } = made;
			return { kind: 'formula', formula, scope, operands: operands(expr) };
		}
		case 'posted':
			return {
				kind: 'posted',
				parts: [
					...(made.before === null ? [] : [stoodBefore(plan, block, made.before, { line, row, period })]),
					...postedBy(plan, block, made.from, { line, row, period })
				]
			};
		default:
			return made;
	}
}

/** What a balance goes on from, as part of it. */
function stoodBefore(
	plan: Plan,
	block: Block,
	value: Cell,
	{ line, row, period }: { line: string; row: number; period: number }
): Part {
	const whole = value === plan.calculation.cell(block.code, line, row, period - 1);
	const when = block.calendar.label(period - 1);
	return {
		ref: whole ? refOf(plan, block.code, line, block.idOf(row), period - 1) : null,
		// Beside what stands on the account itself.
		name: whole ? `At the end of ${when}` : `Moved by the end of ${when}`,
		value,
		format: block.line(line)?.format ?? 'money',
		sign: 1
	};
}

/** Rows that are posted, largest first; with the line’s name where several lines are. */
function postedBy(
	plan: Plan,
	into: Block,
	from: readonly PostedFrom[],
	at: { line: string; row: number; period: number }
): Part[] {
	const several = new Set(from.map((f) => `${f.block}.${f.line}`)).size > 1;
	const size = ({ value }: Part) => (typeof value === 'number' ? Math.abs(value) : Infinity);
	return from
		.flatMap((f) => postedParts(plan, into, f, several, at))
		.sort((a, b) => (size(a) === size(b) ? 0 : size(b) - size(a)));
}

function postedParts(
	plan: Plan,
	into: Block,
	{ block, line, rows, sign, as }: PostedFrom,
	several: boolean,
	at: { line: string; row: number; period: number }
): Part[] {
	const own = plan.blocks.get(block)!;
	const { label, format } = own.line(line)!;
	return rows.map((r): Part => {
		const row = rowKey(own.rows[r]);
		const arriving = (period: number) => {
			const amount = plan.calculation.cellIn(into.code, block, line, r, period);
			const exchanged = exchangedAt(plan, own, line, r, amount, as, { ...at, period });
			return { value: exchanged ? worth(amount, exchanged.rate) : amount, exchanged };
		};
		const { value, exchanged } = arriving(at.period);
		const name = own.rowName(row) || label;
		const called = several && name !== label && as !== 'change' ? `${name}, ${label}` : name;
		return {
			ref: { kind: 'line', model: block, line, row, period: at.period, ...seenIn(own, into) },
			name: as === 'change' ? `${called}, change of ${label}` : called,
			value: as === 'change' ? difference(value, arriving(at.period - 1).value) : value,
			format,
			sign,
			// A change is one of two amounts at two rates.
			...(exchanged && as !== 'change' ? { exchanged } : {})
		};
	});
}

const difference = (a: Cell, b: Cell): Cell =>
	typeof a === 'string' ? a : typeof b === 'string' ? b : (a ?? 0) - (b ?? 0);

/** How a row's amount arrives in an account's department that plans in another currency; null where it is the same. */
function exchangedAt(
	{ structure, calculation, exchange }: Plan,
	own: Block,
	line: string,
	row: number,
	amount: Cell,
	as: InflowKind,
	into: { line: string; row: number; period: number }
): Part['exchanged'] | null {
	const { departmentRow, rowCurrency } = structure;
	const account = structure.accounts.get(into.line);
	const currency = own.currencyOf(line);
	if (currency === null || !account || !isMoney(account)) return null;
	const department = own.rows[row][own.dimensions.indexOf('department')];
	const from = currency === LOCAL ? rowCurrency[departmentRow.get(department) ?? -1] : currency;
	const to = rowCurrency[into.row];
	if (from === undefined || from === to) return null;
	const { axis } = calculation;
	const kind = as === 'flow' ? 'average' : 'closing';
	const rate = exchange.between(from, to, kind, axis)[into.period - axis.first];
	return { amount, from, rate: rate === undefined || Number.isNaN(rate) ? null : rate };
}

/** An amount at a rate, as the calculation has it. */
const worth = (amount: Cell, rate: number | null): Cell =>
	typeof amount !== 'number' || amount === 0 ? amount : rate === null ? ERROR_TEXT[RATE] : amount * rate;

/** What is read in periods of another kind says so. */
const seenIn = (own: Block, reader: Block): { in?: string } =>
	own.calendar === reader.calendar ? {} : { in: reader.code };

/** A cell of a block as a figure that can be opened in turn. */
const refOf = (plan: Plan, block: string, line: string, row: string, period: number): FigureRef =>
	block === plan.accounts.code
		? { kind: 'account', account: line, department: row, from: period, to: period }
		: { kind: 'line', model: block, line, row, period };

function operandsOf(plan: Plan, own: Block, expr: Expr, row: number, period: number): Operand[] {
	const seen = new Set<string>();
	return operandsAt(plan.calculation, own.code, expr, row, period).flatMap((o): Operand[] => {
		const key = `${o.block}.${o.line}@${o.period}`;
		if (seen.has(key)) return [];
		seen.add(key);
		const through = own.readThrough?.(o.block, o.line, row);
		if (through) {
			const { account, department } = through;
			const known = plan.accounts.line(account);
			if (!known) return [];
			const ref = refOf(plan, plan.accounts.code, account, department, o.period);
			return [{ name: known.label, value: o.value, format: known.format, ref, period: o.period }];
		}
		const block = plan.blocks.get(o.block);
		const line = block?.line(o.line);
		const label = line?.label ?? o.line.replace(/^@/, '');
		const days = block ? seenIn(block, own) : {};
		const whole = days.in === undefined ? wholeOf(plan, o.block) : null;
		const at = o.row >= 0 ? plan.calculation.block(o.block).rows[o.row] : whole;
		return [
			{
				name: o.block === own.code || block?.told === false ? label : `${block?.name ?? o.block}: ${label}`,
				value: o.value,
				format: line?.format ?? 'number',
				// An attribute of a member opens nowhere.
				ref: at && line ? { ...refOf(plan, o.block, o.line, rowKey(at), o.period), ...days } : null,
				period: o.period
			}
		];
	});
}

/** All departments together can be opened as one; rows of a model that were summed cannot. */
const wholeOf = ({ accounts, structure }: Plan, block: string): readonly string[] | null =>
	block === accounts.code ? [structure.departments.roots[0].code] : null;
