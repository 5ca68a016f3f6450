/** Checks a formula against what it may refer to: names, arguments, types and units. */
import { walk, type Expr, type FormulaError } from './ast';
import { FUNCTIONS, parameterKind, type FunctionInfo } from './functions';
import { parseFormula } from './parse';
import { suggestion } from './suggest';
import { typeOf } from './types';
import { fits, unitName, UNKNOWN, type MoneyUnits, type Quantity } from './units';

export interface NamedQuantity {
	code: string;
	/** In words, for completion. */
	label?: string;
	quantity: Quantity;
}
/** A model, or another set of lines that formulas may name. */
export interface BlockNames {
	code: string;
	dimensions: readonly string[];
	/** Lines and columns. */
	lines: readonly NamedQuantity[];
	/** Columns in which an account stands, which `account(column)` reads. */
	accountColumns?: readonly string[];
}

/** What a formula may refer to, as seen from its own block; plain data. */
export interface Names {
	own: BlockNames;
	/** What amounts are counted in. */
	money: MoneyUnits;
	/** Other blocks. */
	blocks: readonly BlockNames[];
	/** Codes that `account("…")` may name. */
	accounts: readonly NamedQuantity[];
	dimensions: readonly {
		code: string;
		members: readonly string[];
		/** Of these, those that are not offered. */
		retired: readonly string[];
		attributes: readonly NamedQuantity[];
	}[];
	/** Codes that `scenario("…")` may name. */
	scenarios: readonly string[];
}

/** Stands for "nothing", e.g. an end that is not known: active(start, none). */
export const NONE = 'none';
/** Most periods that a look back or ahead may span. */
export const MOST_PERIODS = 600;

/** Lists of names are searched again and again; each gets an index once. */
const indexes = new WeakMap<readonly NamedQuantity[], Map<string, Quantity>>();
function quantityIn(list: readonly NamedQuantity[], code: string): Quantity | null {
	let index = indexes.get(list);
	if (!index) indexes.set(list, (index = new Map(list.map((n) => [n.code, n.quantity]))));
	return index.get(code) ?? null;
}

type Reference = Expr & { kind: 'reference' };
type Call = Expr & { kind: 'call' };

/**
 * Parses and checks a formula; all mistakes come back with their place.
 * @param result what the line is declared to hold, where that is to be checked too
 */
export function checkFormula(
	text: string,
	names: Names,
	result: Quantity = UNKNOWN
): { expr: Expr | null; errors: FormulaError[] } {
	const parsed = parseFormula(text);
	if (!parsed.expr) return parsed;
	const errors: FormulaError[] = [];
	const checker = new Checker(names, errors);
	checker.visit(parsed.expr, null);
	if (!errors.length) {
		const found = typeOf(parsed.expr, checker, errors);
		if (!errors.length && !fits(found, result))
			errors.push({
				message: `The line holds ${unitName(result)}, but the formula gives ${unitName(found)}.`,
				span: parsed.expr.span
			});
	}
	return { expr: errors.length ? null : parsed.expr, errors };
}

class Checker {
	constructor(
		private readonly names: Names,
		private readonly errors: FormulaError[]
	) {}

	private fail(message: string, span: Expr['span']): void {
		this.errors.push({ message, span });
	}

	/** `within` is the function whose argument the expression is. */
	visit(e: Expr, within: string | null): void {
		switch (e.kind) {
			case 'number':
				if (!Number.isFinite(e.value)) this.fail('This number is larger than any that can be kept.', e.span);
				return;
			case 'reference':
				return this.checkReference(e);
			case 'negate':
			case 'percent':
				return this.visit(e.arg, null);
			case 'binary':
				this.visit(e.left, null);
				return this.visit(e.right, null);
			case 'call':
				return this.checkCall(e, within);
		}
	}

	get money(): MoneyUnits {
		return this.names.money;
	}
	sumsDepartments(over: readonly Expr[]): boolean {
		const named = over.flatMap((e) => (e.kind === 'reference' ? [e.line] : []));
		return (named.length ? named : this.names.own.dimensions).includes('department');
	}
	/** Type of a reference that has been found to lead somewhere. */
	reference(e: Reference): Quantity {
		return this.find(e) ?? UNKNOWN;
	}
	account(code: string): Quantity {
		return quantityIn(this.names.accounts, code) ?? UNKNOWN;
	}

	private find(e: Reference): Quantity | null {
		const inBlock = (block: BlockNames) => quantityIn(block.lines, e.line);
		if (e.block === null) return inBlock(this.names.own) ?? (e.line === NONE ? UNKNOWN : null);
		if (e.block === this.names.own.code) return inBlock(this.names.own);
		const block = this.names.blocks.find((b) => b.code === e.block);
		if (block) return inBlock(block);
		if (!this.names.own.dimensions.includes(e.block)) return null;
		const dimension = this.names.dimensions.find((d) => d.code === e.block);
		return dimension ? quantityIn(dimension.attributes, e.line) : null;
	}

	private checkReference(e: Reference): void {
		if (this.find(e)) return;
		const { own, blocks, dimensions } = this.names;
		const codes = (list: readonly { code: string }[]) => list.map((x) => x.code);
		const lineSpan = { from: e.span.to - e.line.length, to: e.span.to };
		if (e.block === null) {
			const elsewhere = blocks.find((b) => b.lines.some((l) => l.code === e.line));
			const hint = elsewhere
				? ` Did you mean ${elsewhere.code}.${e.line}?`
				: suggestion(e.line, [...codes(own.lines), ...FUNCTIONS.keys()]);
			return this.fail(`There is no line “${e.line}” here.${hint}`, e.span);
		}
		const block = e.block === own.code ? own : blocks.find((b) => b.code === e.block);
		if (block)
			return this.fail(
				`The model “${e.block}” has no line “${e.line}”.${suggestion(e.line, codes(block.lines))}`,
				lineSpan
			);
		const dimension = dimensions.find((d) => d.code === e.block);
		if (dimension && own.dimensions.includes(e.block))
			return this.fail(
				`Members of “${e.block}” have no attribute “${e.line}”.${suggestion(e.line, codes(dimension.attributes))}`,
				lineSpan
			);
		const span = { from: e.span.from, to: e.span.from + e.block.length };
		if (dimension) return this.fail(`This model has no dimension “${e.block}”.`, span);
		this.fail(
			`There is no model “${e.block}”.${suggestion(e.block, [...codes(blocks), ...own.dimensions])}`,
			span
		);
	}

	private checkCall(e: Call, within: string | null): void {
		const f = FUNCTIONS.get(e.name);
		if (!f)
			return this.fail(`There is no function “${e.name}”.${suggestion(e.name, [...FUNCTIONS.keys()])}`, {
				from: e.span.from,
				to: e.span.from + e.name.length
			});
		if (e.args.length < f.min || e.args.length > f.max) {
			const wanted = f.min === f.max ? `${f.min}` : `${f.min} to ${f.max}`;
			return this.fail(
				`${f.name} takes ${wanted} ${wanted === '1' ? 'argument' : 'arguments'}, here are ${e.args.length}: ${f.signature}`,
				e.span
			);
		}
		if (e.name === 'series' && (within === null || !['npv', 'irr', 'xnpv', 'xirr'].includes(within)))
			return this.fail('series() stands only in npv, irr, xnpv and xirr.', e.span);
		e.args.forEach((arg, i) => {
			const kind = parameterKind(f, i);
			if (kind === 'periods') this.checkPeriods(f, arg);
			else if (kind !== 'name') this.visit(arg, e.name);
		});
		if (['total', 'share', 'at', 'scenario', 'account'].includes(e.name)) this.checkNames(e);
		if (e.name === 'cohort') this.checkCohort(e);
		if (e.name === 'whole_life' || e.name === 'series')
			walk(e.args[0], (inner) => {
				if (inner !== e && inner.kind === 'call' && inner.name === 'whole_life')
					this.fail('whole_life() cannot stand inside another.', inner.span);
			});
	}

	private checkPeriods(f: FunctionInfo, n: Expr): void {
		if (n.kind !== 'number' || !Number.isInteger(n.value) || n.value < 1 || n.value > MOST_PERIODS)
			this.fail(
				`The number of periods in ${f.name} is a whole number from 1 to ${MOST_PERIODS}, written out.`,
				n.span
			);
	}

	private checkNames(e: Call): void {
		const { own, blocks, dimensions, accounts, scenarios } = this.names;
		const [first, second, third] = e.args;
		switch (e.name) {
			case 'account':
				if (first.kind === 'reference' && first.block === null && own.accountColumns?.includes(first.line))
					return;
				if (first.kind !== 'text')
					this.fail('account takes a code in quotation marks: account("4000")', first.span);
				else if (!accounts.some((a) => a.code === first.value))
					this.fail(
						`There is no planning account “${first.value}” that takes figures.${suggestion(
							first.value,
							accounts.map((a) => a.code)
						)}`,
						first.span
					);
				return;
			case 'scenario':
				if (first.kind !== 'text')
					this.fail('scenario takes a code in quotation marks: scenario("budget", units)', first.span);
				else if (!scenarios.includes(first.value))
					this.fail(
						`There is no scenario “${first.value}” that can be read here.${suggestion(first.value, scenarios)}`,
						first.span
					);
				if (second.kind !== 'reference' && !(second.kind === 'call' && second.name === 'account'))
					this.fail('scenario takes a line or an account to read: scenario("budget", units)', second.span);
				return;
			case 'at': {
				if (first.kind !== 'reference')
					return this.fail('at takes a line: at(units, channel, "dealer")', first.span);
				const block = first.block === null ? own : [own, ...blocks].find((b) => b.code === first.block);
				if (!block) return;
				const dimension = this.dimension(second, block.dimensions);
				if (!dimension) return;
				const members = dimensions.find((d) => d.code === dimension)?.members ?? [];
				if (third.kind !== 'text')
					this.fail('The member stands in quotation marks: at(units, channel, "dealer")', third.span);
				else if (!members.includes(third.value))
					this.fail(
						`“${dimension}” has no member “${third.value}”.${suggestion(third.value, members)}`,
						third.span
					);
				return;
			}
			default:
				for (const arg of e.args.slice(1)) this.dimension(arg, own.dimensions);
		}
	}

	private dimension(e: Expr, allowed: readonly string[]): string | null {
		if (e.kind === 'reference' && e.block === null && allowed.includes(e.line)) return e.line;
		const list = allowed.length ? `one of ${allowed.join(', ')}` : 'none: the model has no dimension';
		this.fail(`A dimension is wanted here, ${list}.`, e.span);
		return null;
	}

	private checkCohort(e: Call): void {
		const after = e.args.at(-1)!;
		if (after.kind === 'text' && !['hold', 'decay', 'zero'].includes(after.value))
			this.fail('After the end of a curve comes "hold", "decay" or "zero".', after.span);
		const curve = e.args.slice(1).filter((a) => a.kind !== 'text');
		if (!curve.length)
			return this.fail('cohort needs a curve: a line by age, or shares written out.', e.span);
		if (curve.length > 1 || curve[0].kind !== 'reference') return;
		const block = this.names.blocks.find((b) => b.code === (curve[0] as Reference).block);
		const extra = block?.dimensions.filter((d) => !this.names.own.dimensions.includes(d)) ?? [];
		if (extra.length !== 1)
			this.fail(
				'A retention curve is a line of another model that has one dimension more than this one: the age.',
				curve[0].span
			);
	}
}
