/** A formula as a tree; every node knows where in the text it stands. */
export interface Span {
	from: number;
	to: number;
}
export type BinaryOp = '+' | '-' | '*' | '/' | '^' | '=' | '<>' | '<' | '<=' | '>' | '>=';

export type Expr = { span: Span } & (
	| { kind: 'number'; value: number }
	| { kind: 'text'; value: string }
	| { kind: 'reference'; block: string | null; line: string }
	| { kind: 'call'; name: string; args: Expr[] }
	| { kind: 'negate'; arg: Expr }
	| { kind: 'percent'; arg: Expr }
	| { kind: 'binary'; op: BinaryOp; left: Expr; right: Expr }
);

/** A mistake in a formula, in plain words, at its place. */
export interface FormulaError {
	message: string;
	span: Span;
}

/** `operators`: the parser gives up the shape of longer chains, so they are refused with a word instead. */
export const FORMULA_LIMITS = { length: 4000, depth: 100, operators: 250 } as const;

/** The parts directly under a node. */
export function partsOf(expr: Expr): Expr[] {
	switch (expr.kind) {
		case 'call':
			return expr.args;
		case 'negate':
		case 'percent':
			return [expr.arg];
		case 'binary':
			return [expr.left, expr.right];
		default:
			return [];
	}
}

/** Calls `visit` on the node and all under it, outermost first. */
export function walk(expr: Expr, visit: (expr: Expr) => void): void {
	visit(expr);
	for (const part of partsOf(expr)) walk(part, visit);
}

const PRECEDENCE: Record<BinaryOp, number> = {
	'=': 1,
	'<>': 1,
	'<': 1,
	'<=': 1,
	'>': 1,
	'>=': 1,
	'+': 2,
	'-': 2,
	'*': 3,
	'/': 3,
	'^': 4
};

/** Prints a tree in its standard form; parsing the result gives the same tree. */
export function print(expr: Expr): string {
	const at = (e: Expr, level: number): string => {
		switch (e.kind) {
			case 'number':
				return String(e.value);
			case 'text':
				return `"${e.value.replaceAll('"', '""')}"`;
			case 'reference':
				return e.block === null ? e.line : `${e.block}.${e.line}`;
			case 'call':
				return `${e.name}(${e.args.map((a) => at(a, 0)).join(', ')})`;
			case 'negate':
				return `-${at(e.arg, 6)}`;
			case 'percent':
				return level > 5 ? `(${at(e.arg, 5)}%)` : `${at(e.arg, 5)}%`;
			case 'binary': {
				const own = PRECEDENCE[e.op];
				const text = `${at(e.left, own)} ${e.op} ${at(e.right, own + 1)}`;
				return own < level ? `(${text})` : text;
			}
		}
	};
	return at(expr, 0);
}
