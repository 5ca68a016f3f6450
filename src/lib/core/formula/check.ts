import { walk, type Expr, type FormulaError } from './ast';
import { FUNCTIONS } from './functions';
import { parseFormula } from './parse';

/** What a formula may refer to, as seen from its own block. */
export interface Names {
	/** Lines of the formula's own block. */
	lines: readonly string[];
	/** Lines of other blocks, by block. */
	blocks: ReadonlyMap<string, readonly string[]>;
	/** Codes that `account("…")` may name. */
	accounts: ReadonlySet<string>;
}

/** Parses and checks a formula; all mistakes come back with their place. */
export function checkFormula(text: string, names: Names): { expr: Expr | null; errors: FormulaError[] } {
	const parsed = parseFormula(text);
	if (!parsed.expr) return parsed;
	const errors: FormulaError[] = [];
	const textAllowed = new Set<Expr>();
	walk(parsed.expr, (e) => {
		if (e.kind === 'reference') checkReference(e, names, errors);
		if (e.kind === 'call') {
			if (e.name === 'account') for (const arg of e.args) textAllowed.add(arg);
			checkCall(e, names, errors);
		}
		if (e.kind === 'text' && !textAllowed.has(e))
			errors.push({ message: 'Text cannot be calculated with.', span: e.span });
	});
	return { expr: errors.length ? null : parsed.expr, errors };
}

function checkReference(e: Expr & { kind: 'reference' }, names: Names, errors: FormulaError[]) {
	if (e.block === null) {
		if (names.lines.includes(e.line)) return;
		const elsewhere = [...names.blocks].find(([, lines]) => lines.includes(e.line));
		const hint = elsewhere
			? ` Did you mean ${elsewhere[0]}.${e.line}?`
			: suggestion(e.line, [...names.lines, ...FUNCTIONS.keys()]);
		errors.push({ message: `There is no line “${e.line}” in this model.${hint}`, span: e.span });
		return;
	}
	const lines = names.blocks.get(e.block);
	if (!lines)
		errors.push({
			message: `There is no model “${e.block}”.${suggestion(e.block, [...names.blocks.keys()])}`,
			span: { from: e.span.from, to: e.span.from + e.block.length }
		});
	else if (!lines.includes(e.line))
		errors.push({
			message: `The model “${e.block}” has no line “${e.line}”.${suggestion(e.line, lines)}`,
			span: { from: e.span.to - e.line.length, to: e.span.to }
		});
}

function checkCall(e: Expr & { kind: 'call' }, names: Names, errors: FormulaError[]) {
	const info = FUNCTIONS.get(e.name);
	const nameSpan = { from: e.span.from, to: e.span.from + e.name.length };
	if (!info) {
		errors.push({
			message: `There is no function “${e.name}”.${suggestion(e.name, [...FUNCTIONS.keys()])}`,
			span: nameSpan
		});
		return;
	}
	if (e.args.length < info.min || e.args.length > info.max) {
		const wanted = info.min === info.max ? `${info.min}` : `${info.min} to ${info.max}`;
		errors.push({
			message: `${info.name} takes ${wanted} ${wanted === '1' ? 'argument' : 'arguments'}, here are ${e.args.length}: ${info.signature}`,
			span: e.span
		});
		return;
	}
	if (info.constant !== undefined && e.args.length > info.constant) {
		const n = e.args[info.constant];
		if (n.kind !== 'number' || !Number.isInteger(n.value) || n.value < 1 || n.value > 600)
			errors.push({
				message: `The number of periods in ${info.name} is a whole number from 1 to 600, written out.`,
				span: n.span
			});
	}
	if (e.name === 'account') {
		const arg = e.args[0];
		if (arg.kind !== 'text')
			errors.push({ message: 'account takes a code in quotation marks: account("4000")', span: arg.span });
		else if (!names.accounts.has(arg.value))
			errors.push({
				message: `There is no planning account “${arg.value}” that takes figures.${suggestion(arg.value, [...names.accounts])}`,
				span: arg.span
			});
	}
}

function suggestion(word: string, candidates: readonly string[]): string {
	let best: string | null = null;
	let least = Math.max(2, Math.floor(word.length / 3)) + 1;
	for (const candidate of candidates) {
		const d = distance(word.toLowerCase(), candidate.toLowerCase(), least);
		if (d < least) {
			least = d;
			best = candidate;
		}
	}
	return best === null ? '' : ` Did you mean “${best}”?`;
}

/** Levenshtein distance, given up at `limit`. */
function distance(a: string, b: string, limit: number): number {
	if (Math.abs(a.length - b.length) >= limit) return limit;
	let previous = Array.from({ length: b.length + 1 }, (_, i) => i);
	for (let i = 1; i <= a.length; i++) {
		const row = [i];
		for (let j = 1; j <= b.length; j++)
			row[j] = Math.min(previous[j] + 1, row[j - 1] + 1, previous[j - 1] + (a[i - 1] === b[j - 1] ? 0 : 1));
		previous = row;
	}
	return previous[b.length];
}
