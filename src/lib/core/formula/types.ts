/** Works out the type and unit of a formula and says where they do not fit, before anything runs. */
import type { Expr, FormulaError } from './ast';
import { FUNCTIONS, parameterKind, type FunctionInfo } from './functions';
import {
	date,
	fits,
	inUnit,
	LOCAL,
	multiply,
	NUMBER_WRITTEN,
	plain,
	PLAIN,
	text,
	unitName,
	UNKNOWN,
	type MoneyUnits,
	type Quantity,
	type Unit
} from './units';

/** Types of what a formula refers to. */
export interface Scope {
	reference(expr: Expr & { kind: 'reference' }): Quantity;
	account(code: string): Quantity;
	money: MoneyUnits;
	/** Whether departments are among the dimensions that `total` and the like name after what they sum. */
	sumsDepartments(over: readonly Expr[]): boolean;
}

export function typeOf(expr: Expr, scope: Scope, errors: FormulaError[]): Quantity {
	const fail = (message: string, at: Expr): Quantity => {
		errors.push({ message, span: at.span });
		return UNKNOWN;
	};

	/** Each part is looked at once, however often its unit is asked for. */
	const known = new Map<Expr, Quantity>();
	function visit(e: Expr): Quantity {
		const have = known.get(e);
		if (have) return have;
		const found = work(e);
		known.set(e, found);
		return found;
	}

	function work(e: Expr): Quantity {
		switch (e.kind) {
			case 'number':
				return NUMBER_WRITTEN;
			case 'text':
				return text;
			case 'reference':
				return scope.reference(e);
			case 'negate':
			case 'percent': {
				const q = visit(e.arg);
				return q.kind === 'number' ? q : fail(`${capital(unitName(q))} has no sign.`, e.arg);
			}
			case 'binary':
				return binary(e);
			case 'call':
				return call(e);
		}
	}

	function binary(e: Expr & { kind: 'binary' }): Quantity {
		const [a, b] = [visit(e.left), visit(e.right)];
		switch (e.op) {
			case '+':
			case '-':
				return additive(e, a, b);
			case '*':
			case '/': {
				for (const [q, side] of [
					[a, e.left],
					[b, e.right]
				] as const)
					if (q.kind !== 'number')
						return fail(
							`${capital(unitName(q))} cannot be ${e.op === '*' ? 'multiplied' : 'divided'}.`,
							side
						);
				if (a.unit === null || b.unit === null) return UNKNOWN;
				const unit = multiply(a.unit, b.unit, e.op === '*' ? 1 : -1);
				// Pieces times a number written out may be anything: 12 a visit, 3 hours a piece.
				const written = (a.literal || b.literal) && Object.keys(unit).length === 0;
				return written ? NUMBER_WRITTEN : { kind: 'number', unit };
			}
			case '^': {
				if (a.kind !== 'number' || b.kind !== 'number')
					return fail('Only numbers have powers.', a.kind !== 'number' ? e.left : e.right);
				if (a.literal) return NUMBER_WRITTEN;
				if (a.unit === null || Object.keys(a.unit).length === 0) return a;
				return e.right.kind === 'number' && Number.isInteger(e.right.value)
					? { kind: 'number', unit: power(a.unit, e.right.value) }
					: UNKNOWN;
			}
			default:
				if (!fits(a, b)) fail(`This compares ${unitName(a)} with ${unitName(b)}.`, e);
				else if (a.kind === 'text' && e.op !== '=' && e.op !== '<>')
					fail('Text is compared with = or <> alone.', e);
				return plain;
		}
	}

	function additive(e: Expr & { kind: 'binary' }, a: Quantity, b: Quantity): Quantity {
		const word = e.op === '+' ? 'adds' : 'subtracts';
		if (a.kind === 'text' || b.kind === 'text')
			return fail('Text cannot be calculated with.', a.kind === 'text' ? e.left : e.right);
		if (a.kind === 'date' || b.kind === 'date') {
			if (a.kind === 'date' && b.kind === 'date')
				return e.op === '-' ? { kind: 'number', unit: { day: 1 } } : fail('Two dates cannot be added.', e);
			const days = a.kind === 'date' ? b : a;
			if (e.op === '-' && b.kind === 'date') return fail('A date cannot be subtracted from a number.', e);
			return fits(days, { kind: 'number', unit: { day: 1 } })
				? date
				: fail(`This ${word} ${unitName(days)} and a date; only days fit. edate() adds months.`, e);
		}
		if (!fits(a, b))
			return fail(
				`This ${word} ${e.op === '+' ? `${unitName(a)} and ${unitName(b)}` : `${unitName(b)} from ${unitName(a)}`}. Bring both to one unit first.`,
				e
			);
		return common([a, b]);
	}

	function call(e: Expr & { kind: 'call' }): Quantity {
		const f = FUNCTIONS.get(e.name);
		if (!f) return UNKNOWN;
		if (e.name === 'account') return e.args[0]?.kind === 'text' ? scope.account(e.args[0].value) : UNKNOWN;
		const types = e.args.map((arg, i) => (parameterKind(f, i) === 'name' ? UNKNOWN : argument(f, e, arg, i)));
		if (['total', 'share', 'at'].includes(e.name)) {
			const q = types[0];
			if (q?.unit?.[LOCAL] && scope.sumsDepartments(e.args.slice(1, e.name === 'at' ? 2 : undefined)))
				return overDepartments(e, q);
		}
		const same = types.filter((_, i) => ['same', 'series'].includes(parameterKind(f, i)));
		switch (f.result) {
			case 'plain':
				return plain;
			case 'days':
				return { kind: 'number', unit: { day: 1 } };
			case 'months':
				return { kind: 'number', unit: { month: 1 } };
			case 'date':
				return date;
			case 'first':
				return types[0] ?? UNKNOWN;
			case 'quotient': {
				const [a, b] = types;
				return a?.unit && b?.unit ? { kind: 'number', unit: multiply(a.unit, b.unit, -1) } : UNKNOWN;
			}
			case 'same':
				return common(same);
			case 'any':
				return types.every((q) => q.unit && Object.keys(q.unit).length === 0) ? plain : UNKNOWN;
		}
	}

	/** Amounts of departments in their own currencies are added up in the reporting one: a line, or an account, at a time. */
	function overDepartments(e: Expr & { kind: 'call' }, q: Quantity): Quantity {
		const [what] = e.args;
		if (e.name === 'share')
			return fail(
				'Shares cannot be taken of amounts in different currencies: departments plan in their own.',
				e
			);
		const line =
			what.kind === 'reference' || (what.kind === 'call' && ['account', 'scenario'].includes(what.name));
		return line
			? inUnit(q, LOCAL, scope.money.reporting)
			: fail(
					`This would add up amounts in different currencies. Make it a line, and add that up: it is translated to ${scope.money.reporting} then.`,
					what
				);
	}

	function argument(f: FunctionInfo, e: Expr & { kind: 'call' }, arg: Expr, i: number): Quantity {
		const q = visit(arg);
		const kind = parameterKind(f, i);
		const wanted = (what: string) =>
			fail(`${f.name} wants ${what} here, not ${unitName(q)}: ${f.signature}`, arg);
		if (kind === 'date')
			return q.kind === 'text' || (q.unit !== null && !q.literal && q.kind === 'number')
				? wanted('a date')
				: q;
		if (kind === 'text') return q.kind === 'text' ? q : wanted('text');
		if (kind === 'number') {
			// The last words of cohort() say what follows a curve.
			if (q.kind === 'text' && f.name === 'cohort' && i === e.args.length - 1 && i > 1) return q;
			return q.kind === 'number' ? q : wanted('a number');
		}
		if (kind === 'condition') return q.kind === 'number' ? q : wanted('a condition');
		if (kind === 'same') {
			const first = e.args.findIndex((_, k) => parameterKind(f, k) === 'same');
			if (i > first) {
				const before = visit(e.args[first]);
				if (!fits(before, q))
					fail(
						`${f.name} puts ${unitName(before)} and ${unitName(q)} together. Bring both to one unit first.`,
						arg
					);
			}
			if (q.kind === 'text' && !['if', 'coalesce', 'lag', 'opening', 'year_ago'].includes(f.name))
				return fail('Text cannot be calculated with.', arg);
		}
		return q;
	}
	return visit(expr);
}

/** One quantity for several that fit: the first that says most. */
function common(list: readonly Quantity[]): Quantity {
	const stated = list.filter((q) => q.kind !== 'number' || (q.unit !== null && !q.literal));
	if (stated.length) return stated[0];
	if (list.some((q) => q.unit === null)) return UNKNOWN;
	return list.length && list.every((q) => q.literal) ? NUMBER_WRITTEN : { kind: 'number', unit: PLAIN };
}

function power(unit: Unit, n: number): Unit {
	return n === 0 ? PLAIN : Object.fromEntries(Object.entries(unit).map(([base, k]) => [base, k * n]));
}

const capital = (s: string) => s[0].toUpperCase() + s.slice(1);
