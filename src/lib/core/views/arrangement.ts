/** How a driver model is laid out: which axes are nested on rows, which one stands across, and what is filtered. */
import { attributeOf } from '../company/attributes';
import { rowKey } from '../engine/row-key';
import type { Line, ModelDefinition } from '../blocks/driver-model/schema';
import { ownValue } from '../text';
import { treeOf, type Structure } from '../company/structure';
import { rowName } from '../blocks/driver-model/rows';

export const LINES = 'line';
/** In the place of dimensions: every row of the model by its full name, without subtotals. */
export const EACH_ROW = 'row';

export interface Arrangement {
	/** Axes nested on rows, outermost first: `line`, dimensions, or `row`; dimensions left out are summed. */
	rows: readonly string[];
	/** An axis outside the periods on columns, `line` or a dimension. */
	across: string | null;
	/** Lines that are shown; none named shows all. */
	lines: readonly string[];
	/** Dimension → member: rows under it are kept; `dimension.attribute` → its value. */
	where: Readonly<Record<string, string>>;
	/** Keys of the opened nodes. */
	open: readonly string[];
	/** Words in lower case that a row's name, with the names above it, must hold: what is folded is searched too. */
	find?: string;
}

/** A node of the rows' tree. Its key is the path to it. */
export interface Node {
	key: string;
	label: string;
	depth: number;
	/** The path without lines: nodes that share it hold the same rows. */
	group: string;
	line: Line | null;
	/** Whether it stands for the line itself, not for members under it. */
	headsLine: boolean;
	/** Indexes of the model's rows under it. */
	rows: readonly number[];
	/** Dimension → member along the path. */
	where: Readonly<Record<string, string>>;
	opens: boolean;
	open: boolean;
	/** Its name and those above it, in lower case. */
	path: string;
}

/** One of the entries across; the only one of an arrangement without an axis across has no name. */
export interface Entry {
	key: string;
	label: string;
	line: Line | null;
	/** Indexes of rows, null for all. */
	rows: ReadonlySet<number> | null;
}

/** The usual arrangement: lines, and each of their rows under them. */
export const listed = (definition: ModelDefinition): readonly string[] =>
	definition.dimensions.length ? [LINES, EACH_ROW] : [LINES];

/**
 * An arrangement made to fit the model: axes it has not are left out, the line stands somewhere.
 */
export function fitting(definition: ModelDefinition, wanted: Partial<Arrangement>): Arrangement {
	const known = (axis: string) =>
		axis === LINES ||
		definition.dimensions.includes(axis) ||
		(axis === EACH_ROW && definition.dimensions.length > 0);
	const across = wanted.across && wanted.across !== EACH_ROW && known(wanted.across) ? wanted.across : null;
	const rows = [...new Set(wanted.rows ?? listed(definition))].filter((a) => known(a) && a !== across);
	if (across !== LINES && !rows.includes(LINES)) rows.unshift(LINES);
	const lines = (wanted.lines ?? []).filter((l) => definition.lines.some((x) => x.code === l));
	return { rows, across, lines, where: wanted.where ?? {}, open: wanted.open ?? [], find: wanted.find ?? '' };
}

interface Model {
	definition: ModelDefinition;
	rows: readonly (readonly string[])[];
	/** Rows that are not shown at all. */
	without?: ReadonlySet<number>;
}

/** Rows that the filters keep, as indexes. A dimension that the model has not filters nothing. */
export function keptRows(model: Model, structure: Structure, where: Arrangement['where']): number[] {
	const tests = Object.entries(where).flatMap(([key, value]) => {
		const [dimension, attribute] = key.split('.');
		const place = model.definition.dimensions.indexOf(dimension);
		const tree = treeOf(structure, dimension);
		if (place < 0 || !tree) return [];
		if (attribute === undefined) return [(row: readonly string[]) => tree.within(row[place], value)];
		const members = structure.dimensions.get(dimension)?.members;
		return [(row: readonly string[]) => attributeOf(members, row[place], attribute) === value];
	});
	return model.rows.flatMap((row, r) =>
		!model.without?.has(r) && tests.every((fits) => fits(row)) ? [r] : []
	);
}

const shownLines = (definition: ModelDefinition, { lines }: Arrangement): Line[] =>
	lines.length ? definition.lines.filter((l) => lines.includes(l.code)) : definition.lines;

/** The nodes that are to be seen, parents first. */
export function nodesOf(model: Model, structure: Structure, arrangement: Arrangement): Node[] {
	const { definition } = model;
	const isOpen = new Set(arrangement.open);
	const find = arrangement.find ?? '';
	const names = new Map<number, string>();
	const nameOf = (r: number) => {
		const name = names.get(r) ?? rowName(structure, definition, rowKey(model.rows[r]));
		names.set(r, name);
		return name;
	};
	const lines = shownLines(definition, arrangement);
	const out: Node[] = [];

	const place = (parent: Node, segment: string, label: string, change: Partial<Node>, axis: number): void => {
		const key = parent.key ? `${parent.key}${segment.startsWith('@') ? '' : '>'}${segment}` : segment;
		const group = change.line ? parent.group : `${parent.group}>${segment}`;
		const depth = parent.key ? parent.depth + 1 : 0;
		const path = `${parent.path} ${label}`.toLowerCase();
		// What is found itself opens as ever; what is not is opened to see whether something under it is.
		const found = path.includes(find);
		const node = {
			...parent,
			path,
			headsLine: change.line !== undefined,
			...change,
			key,
			group,
			label,
			depth
		};
		// Thousands of rows under a folded line are not even looked at.
		const rows = arrangement.rows[axis] === EACH_ROW;
		const inner = rows && found && !isOpen.has(key) ? [] : children(node, axis);
		node.opens = rows ? node.rows.length > 0 : inner.length > 0;
		node.open = node.opens && (!found || isOpen.has(key));
		const at = out.push(node);
		if (node.open) for (const put of inner) put(node);
		if (!found && out.length === at) out.pop();
	};
	/** What stands under a node, on the axis it is in the midst of, or on the next. */
	const children = (node: Node, axis: number): ((parent: Node) => void)[] => {
		const name = arrangement.rows[axis];
		if (name === undefined) return [];
		if (name === LINES)
			return lines.map((line) => (p) => place(p, line.code, line.label, { line }, axis + 1));
		if (name === EACH_ROW)
			return node.rows.map((r) => (p) => {
				const key = rowKey(model.rows[r]);
				place(p, `@${key}`, nameOf(r), { rows: [r] }, arrangement.rows.length);
			});
		const at = definition.dimensions.indexOf(name);
		const tree = treeOf(structure, name)!;
		const now = ownValue(node.where, name);
		const below = now === undefined ? tree.roots : tree.children(now);
		const parts = below.flatMap((m) => {
			const rows = node.rows.filter((r) => tree.within(model.rows[r][at], m.code));
			return rows.length ? [{ member: m, rows }] : [];
		});
		// What is held by a parent itself goes on with the next axis there.
		if (!parts.length) return now === undefined ? [] : children(node, axis + 1);
		return parts.map(
			({ member, rows }) =>
				(p) =>
					place(
						p,
						`${name}:${member.code}`,
						member.name,
						{ rows, where: { ...p.where, [name]: member.code } },
						axis
					)
		);
	};
	const root: Node = {
		key: '',
		label: '',
		depth: 0,
		group: '',
		line: null,
		headsLine: false,
		rows: keptRows(model, structure, arrangement.where),
		where: {},
		opens: true,
		open: true,
		path: ''
	};
	for (const put of children(root, 0)) put(root);
	return out;
}

/** What stands across, outside the periods; for a dimension its members in use, and all of them together first. */
export function entriesOf(model: Model, structure: Structure, arrangement: Arrangement): Entry[] {
	const { definition } = model;
	const { across } = arrangement;
	const all: Entry = { key: '', label: '', line: null, rows: null };
	if (across === null) return [all];
	if (across === LINES)
		return shownLines(definition, arrangement).map((line) => ({
			key: line.code,
			label: line.label,
			line,
			rows: null
		}));
	const at = definition.dimensions.indexOf(across);
	const by = new Map<string, Set<number>>();
	for (const r of keptRows(model, structure, arrangement.where)) {
		const member = model.rows[r][at];
		by.set(member, (by.get(member) ?? new Set()).add(r));
	}
	const used = treeOf(structure, across)!.all.filter((m) => by.has(m.code));
	return [
		{ ...all, label: 'All' },
		...used.map((m) => ({ key: m.code, label: m.name, line: null, rows: by.get(m.code)! }))
	];
}
