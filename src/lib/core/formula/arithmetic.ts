/** Arithmetic typed into a cell: =1200*1.05. */
import type { Expr } from './ast';
import { parseFormula } from './parse';

/** The value of a sum of numbers written out; null when it names anything, or is no number. */
export function arithmetic(text: string): number | null {
	const { expr } = parseFormula(text);
	const value = expr && valueOf(expr);
	return value !== null && Number.isFinite(value) ? Number(value.toPrecision(15)) : null;
}

function valueOf(e: Expr): number | null {
	switch (e.kind) {
		case 'number':
			return e.value;
		case 'negate': {
			const v = valueOf(e.arg);
			return v === null ? null : -v;
		}
		case 'percent': {
			const v = valueOf(e.arg);
			return v === null ? null : v / 100;
		}
		case 'binary': {
			const [a, b] = [valueOf(e.left), valueOf(e.right)];
			return a === null || b === null ? null : operate(e.op, a, b);
		}
		default:
			return null;
	}
}

function operate(op: string, a: number, b: number): number | null {
	switch (op) {
		case '+':
			return a + b;
		case '-':
			return a - b;
		case '*':
			return a * b;
		case '/':
			return a / b;
		case '^':
			return a ** b;
		default:
			return null;
	}
}
