/** What may be typed at a place in a formula. */
import { type NamedQuantity, type Names, checkFormula } from './check';
import { FUNCTIONS, parameterKind, type FunctionInfo, type ParameterKind } from './functions';
import { parseFormula } from './parse';
import { typeOf } from './types';
import { fits, UNKNOWN, type Quantity } from './units';
import { METHODS, POLICIES } from '../functions/depreciation';

export interface Completion {
	label: string;
	detail?: string;
	help?: string;
	kind: 'line' | 'function' | 'name';
	/** What is put in instead of the word before the caret. */
	insert: string;
	/** Whether it fits as it is; what does not may still begin a product that does. */
	fits: boolean;
}

/** Offers for the word that ends at `position`; null where nothing can be offered. */
export function completionsAt(
	text: string,
	position: number,
	names: Names
): { from: number; options: Completion[] } | null {
	const before = text.slice(0, position);
	const place = placeIn(before);
	const quoted = /"([^"]*)$/.exec(insideQuotes(before) ? before : '');
	const word = quoted ? quoted[0] : (/[A-Za-z_][A-Za-z0-9_]*(\.[A-Za-z0-9_]*)?$/.exec(before)?.[0] ?? '');
	const from = position - word.length;
	const options = place.call ? argumentOptions(place.call, place.argument, place.written, names) : null;
	if (options) return { from, options };
	if (quoted) return null;
	return { from, options: valueOptions(place, text, from, names) };
}

interface Place {
	/** The function whose arguments the caret stands in, and which of them. */
	call: FunctionInfo | null;
	argument: number;
	/** The arguments before, as written. */
	written: string[];
	/** Where the current argument, or the formula, begins. */
	start: number;
}

const insideQuotes = (text: string) => (text.match(/"/g)?.length ?? 0) % 2 === 1;

function placeIn(before: string): Place {
	const open: { name: string; starts: number[] }[] = [];
	let inText = false;
	for (let i = 0; i < before.length; i++) {
		const c = before[i];
		if (c === '"') inText = !inText;
		if (inText) continue;
		if (c === '(')
			open.push({
				name: /([A-Za-z_][A-Za-z0-9_]*)\s*$/.exec(before.slice(0, i))?.[1] ?? '',
				starts: [i + 1]
			});
		else if (c === ')') open.pop();
		else if (c === ',') open.at(-1)?.starts.push(i + 1);
	}
	const inner = open.at(-1);
	if (!inner) return { call: null, argument: 0, written: [], start: /^\s*=/.exec(before)?.[0].length ?? 0 };
	const { starts } = inner;
	return {
		call: FUNCTIONS.get(inner.name.toLowerCase()) ?? null,
		argument: starts.length - 1,
		written: starts.slice(0, -1).map((s, i) => before.slice(s, starts[i + 1] - 1).trim()),
		start: starts[starts.length - 1]
	};
}

/** Offers where a function wants something that is written out; null where it wants a value. */
function argumentOptions(
	f: FunctionInfo,
	argument: number,
	written: string[],
	names: Names
): Completion[] | null {
	const name = (label: string, insert: string, detail?: string): Completion => ({
		kind: 'name',
		label,
		insert,
		detail,
		fits: true
	});
	const texts = (list: readonly string[]) => list.map((t) => name(t, `"${t}"`));
	const kind = parameterKind(f, argument);
	if (kind === 'periods') return [];
	if (f.name === 'account') {
		const columns = names.own.lines.filter((l) => names.own.accountColumns?.includes(l.code));
		return [
			...columns.map((c) => name(c.code, c.code, c.label)),
			...names.accounts.map((a) => name(a.code, `"${a.code}"`, a.label))
		];
	}
	if (f.name === 'scenario' && argument === 0) return texts(names.scenarios);
	if (f.name === 'depreciation' && argument === 0) return texts(METHODS);
	if (f.name === 'depreciation' && argument === 5) return texts(POLICIES);
	if (kind !== 'name') return null;
	if (f.name === 'at') {
		const reference = written[0]?.split('.') ?? [];
		const block =
			reference.length === 2 ? [names.own, ...names.blocks].find((b) => b.code === reference[0]) : names.own;
		if (argument === 1) return (block?.dimensions ?? []).map((d) => name(d, d));
		const dimension = names.dimensions.find((d) => d.code === written[1]);
		return texts(dimension?.members.filter((m) => !dimension.retired.includes(m)) ?? []);
	}
	return names.own.dimensions.filter((d) => !written.includes(d)).map((d) => name(d, d));
}

const KIND_FITS: Record<ParameterKind, (q: Quantity) => boolean> = {
	number: (q) => q.kind === 'number',
	condition: (q) => q.kind === 'number',
	date: (q) => q.kind === 'date' || q.unit === null,
	text: (q) => q.kind === 'text',
	same: () => true,
	any: () => true,
	series: () => true,
	periods: () => false,
	name: () => false
};

/** Lines, columns, attributes and functions of the kind that is wanted; with the unit that fits after + and − first. */
function valueOptions(place: Place, text: string, from: number, names: Names): Completion[] {
	const wanted = place.call ? KIND_FITS[parameterKind(place.call, place.argument)] : () => true;
	const beside = quantityBefore(text.slice(place.start, from), names);
	const good = (q: Quantity) => (beside ? beside.kind !== 'number' || q.kind === 'number' : wanted(q));
	const exact = (q: Quantity) => beside === null || fits(beside, q);
	const line = (insert: string, { label, quantity }: NamedQuantity): Completion[] =>
		good(quantity) ? [{ kind: 'line', label: insert, detail: label, insert, fits: exact(quantity) }] : [];
	const attributes = names.dimensions
		.filter((d) => names.own.dimensions.includes(d.code))
		.flatMap((d) => d.attributes.flatMap((a) => line(`${d.code}.${a.code}`, a)));
	return [
		...names.own.lines.flatMap((l) => line(l.code, l)),
		...attributes,
		...names.blocks.flatMap((b) => b.lines.flatMap((l) => line(`${b.code}.${l.code}`, l))),
		...[...FUNCTIONS.values()]
			.filter((f) => good(resultOf(f)))
			.map((f): Completion => ({
				kind: 'function',
				label: f.name,
				detail: f.signature,
				help: f.help,
				insert: f.max === 0 ? `${f.name}()` : `${f.name}(`,
				fits: true
			}))
	].sort((a, b) => Number(b.fits) - Number(a.fits));
}

function resultOf(f: FunctionInfo): Quantity {
	if (f.result === 'date') return { kind: 'date', unit: null };
	if (f.result === 'days') return { kind: 'number', unit: { day: 1 } };
	if (f.result === 'months') return { kind: 'number', unit: { month: 1 } };
	return UNKNOWN;
}

/** What stands before a + or − at the caret; null where something else does. */
function quantityBefore(text: string, names: Names): Quantity | null {
	const m = /^(.*[^-+*/^(,=<>\s])\s*[-+]\s*$/s.exec(text);
	if (!m) return null;
	const { expr } = parseFormula(m[1]);
	if (!expr || !checkFormula(m[1], names).expr) return null;
	// Only the last summand stands beside the operator, but all summands have one unit.
	const quantityOf = (list: readonly NamedQuantity[] | undefined, code: string) =>
		list?.find((l) => l.code === code)?.quantity ?? UNKNOWN;
	return typeOf(
		expr,
		{
			reference: (e) =>
				quantityOf(
					e.block === null
						? names.own.lines
						: (names.blocks.find((b) => b.code === e.block)?.lines ??
								names.dimensions.find((d) => d.code === e.block)?.attributes),
					e.line
				),
			account: (code) => quantityOf(names.accounts, code),
			money: names.money,
			sumsDepartments: () => names.own.dimensions.includes('department')
		},
		[]
	);
}
