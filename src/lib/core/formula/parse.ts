import type { SyntaxNode } from '@lezer/common';
import { FORMULA_LIMITS, type BinaryOp, type Expr, type FormulaError } from './ast';
import { parser } from './grammar/parser';

export type Parsed = { expr: Expr; errors: [] } | { expr: null; errors: FormulaError[] };

const fail = (message: string, from: number, to: number): Parsed => ({
	expr: null,
	errors: [{ message, span: { from, to } }]
});

/** Parses a formula. Never throws: what is wrong comes back with its place. */
export function parseFormula(text: string): Parsed {
	if (text.trim() === '') return fail('The formula is empty.', 0, text.length);
	if (text.length > FORMULA_LIMITS.length)
		return fail(
			`The formula has ${text.length} characters; at most ${FORMULA_LIMITS.length} are allowed. Split it over several lines of the model.`,
			FORMULA_LIMITS.length,
			text.length
		);
	const deepAt = tooDeepAt(text);
	if (deepAt !== null)
		return fail(
			`More than ${FORMULA_LIMITS.depth} brackets or signs are nested here. Split the formula over several lines of the model.`,
			deepAt,
			deepAt + 1
		);
	const operators = text.match(/[-+*/^=<>]+/g)?.length ?? 0;
	if (operators > FORMULA_LIMITS.operators)
		return fail(
			`The formula has ${operators} operators; at most ${FORMULA_LIMITS.operators} are allowed. Split it over several lines of the model.`,
			0,
			text.length
		);
	const tree = parser.parse(text);
	const broken = firstError(tree.topNode);
	if (broken) return { expr: null, errors: [describe(text, broken)] };
	const body = lastChild(tree.topNode);
	return body ? { expr: convert(text, body), errors: [] } : fail('The formula is empty.', 0, text.length);
}

/** Where brackets or signs nest beyond the limit; long flat sums are fine. */
function tooDeepAt(text: string): number | null {
	let depth = 0;
	let signs = 0;
	for (let i = 0; i < text.length; i++) {
		const c = text[i];
		if (c === '(') depth++;
		else if (c === ')') depth--;
		if (c === '-' || c === '+') signs++;
		else if (c.trim() !== '') signs = 0;
		if (depth + signs > FORMULA_LIMITS.depth) return i;
	}
	return null;
}

function firstError(top: SyntaxNode): SyntaxNode | null {
	const cursor = top.cursor();
	do if (cursor.type.isError) return cursor.node;
	while (cursor.next());
	return null;
}

function describe(text: string, node: SyntaxNode): FormulaError {
	const before = text.slice(0, node.from).trimEnd();
	const open = [...before].filter((c) => c === '(').length - [...before].filter((c) => c === ')').length;
	const rest = text.slice(node.from).trim();
	const last = before.slice(-1);
	if (rest === '' || node.from >= text.trimEnd().length) {
		const at = { from: Math.max(0, before.length - 1), to: Math.max(1, text.length) };
		if (/[-+*/^=<>(,.]/.test(last))
			return { message: `The formula ends too early: something is missing after “${last}”.`, span: at };
		if (open > 0) return { message: 'A closing bracket “)” is missing.', span: at };
		return { message: 'The formula ends too early.', span: at };
	}
	const word = /^([A-Za-z_][A-Za-z0-9_]*|[0-9.]+|\S)/.exec(rest)?.[0] ?? rest[0];
	const from = text.indexOf(word, node.from);
	const span = { from, to: from + word.length };
	if (word === ')' && open <= 0) return { message: 'There is no opening bracket for this “)”.', span };
	if (word === '"')
		return { message: 'This text has no closing quotation mark.', span: { from, to: text.length } };
	if (/^[*/^)=<>,%]/.test(word) && (before === '' || /[-+*/^=<>(,]/.test(last)))
		return { message: `A value is missing before “${word}”.`, span };
	if (/^[A-Za-z0-9_("]/.test(word) && /[A-Za-z0-9_)"%]/.test(last))
		return { message: `An operator such as + or * is missing before “${word}”.`, span };
	if (word === ';') return { message: 'Arguments are separated by commas.', span };
	return { message: `“${word}” is not expected here.`, span };
}

function children(node: SyntaxNode): SyntaxNode[] {
	const list: SyntaxNode[] = [];
	for (let child = node.firstChild; child; child = child.nextSibling) list.push(child);
	return list;
}
const EXPRESSIONS = new Set(['Number', 'Text', 'Reference', 'Call', 'Paren', 'Prefix', 'Percent', 'Binary']);
const expressions = (node: SyntaxNode) => children(node).filter((child) => EXPRESSIONS.has(child.name));
const lastChild = (node: SyntaxNode) => expressions(node).at(-1) ?? null;

function convert(text: string, node: SyntaxNode): Expr {
	const span = { from: node.from, to: node.to };
	const own = text.slice(node.from, node.to);
	switch (node.name) {
		case 'Number':
			return { kind: 'number', value: Number(own), span };
		case 'Text':
			return { kind: 'text', value: own.slice(1, -1).replaceAll('""', '"'), span };
		case 'Reference': {
			const names = node.getChildren('Name').map((n) => text.slice(n.from, n.to));
			return names.length === 2
				? { kind: 'reference', block: names[0], line: names[1], span }
				: { kind: 'reference', block: null, line: names[0], span };
		}
		case 'Call': {
			const name = node.getChild('FunctionName')!;
			const list = node.getChild('ArgList')!;
			return {
				kind: 'call',
				name: text.slice(name.from, name.to).toLowerCase(),
				args: expressions(list).map((arg) => convert(text, arg)),
				span
			};
		}
		case 'Paren':
			return convert(text, lastChild(node)!);
		case 'Prefix': {
			const arg = convert(text, lastChild(node)!);
			return own.startsWith('-') ? { kind: 'negate', arg, span } : arg;
		}
		case 'Percent':
			return { kind: 'percent', arg: convert(text, lastChild(node)!), span };
		default: {
			const [left, right] = expressions(node);
			const op = children(node).find((child) => /Op$/.test(child.name))!;
			return {
				kind: 'binary',
				op: text.slice(op.from, op.to) as BinaryOp,
				left: convert(text, left),
				right: convert(text, right),
				span
			};
		}
	}
}
