/** Formulas that are made here, not written by anybody: they stand in no text. */
import type { BinaryOp, Expr } from './ast';

const NOWHERE = { from: 0, to: 0 };
export const ref = (line: string, block: string | null = null): Expr => ({
	kind: 'reference',
	block,
	line,
	span: NOWHERE
});
export const num = (value: number): Expr => ({ kind: 'number', value, span: NOWHERE });
export const text = (value: string): Expr => ({ kind: 'text', value, span: NOWHERE });
export const call = (name: string, ...args: Expr[]): Expr => ({ kind: 'call', name, args, span: NOWHERE });
const binary =
	(op: BinaryOp) =>
	(left: Expr, right: Expr): Expr => ({ kind: 'binary', op, left, right, span: NOWHERE });
export const plus = binary('+');
export const minus = binary('-');
export const times = binary('*');

/** A tree with other parts directly under its node. */
export function withParts(expr: Expr, part: (e: Expr) => Expr): Expr {
	switch (expr.kind) {
		case 'call':
			return { ...expr, args: expr.args.map(part) };
		case 'binary':
			return { ...expr, left: part(expr.left), right: part(expr.right) };
		case 'negate':
		case 'percent':
			return { ...expr, arg: part(expr.arg) };
		default:
			return expr;
	}
}
