/** Puts a scenario together: its driver models and the planned accounts as blocks of one calculation. */
import type { Calendar, Period } from '../calendar/calendar';
import { axisOf, type Axis } from '../engine/axis';
import { Calculation } from '../engine/calculation';
import {
	attributeColumn,
	foreignBlock,
	ModelError,
	type BlockSpec,
	type InflowSpec,
	type LineSpec,
	type RuleSpec
} from '../engine/spec';
import { textCode } from '../engine/texts';
import {
	BLANK,
	cellAt,
	marksOf,
	newColumn,
	newMatrix,
	setCell,
	type Cell,
	type Matrix
} from '../engine/values';
import { print, walk, type Expr } from '../formula/ast';
import { checkFormula, type Names } from '../formula/check';
import { attributeNumber, attributeOf, attributeQuantity } from '../model/attributes';
import { isBalance } from '../model/sign';
import {
	LEDGER_BLOCK,
	rowKey,
	type Account,
	type Basis,
	type Department,
	type Dimension,
	type Line,
	type Member,
	type ModelDefinition,
	type Posting,
	type Scenario,
	type Series
} from '../model/schema';
import { buildTree, type Tree } from '../model/tree';
import { lineQuantity, namesFor } from './names';

/** Everything that does not differ between scenarios. */
export interface Structure {
	calendar: Calendar;
	/** The company's currency, in which accounts are kept. */
	currency: string;
	accounts: Tree<Account>;
	departments: Tree<Department>;
	dimensions: ReadonlyMap<string, { dimension: Dimension; members: Tree<Member> }>;
	/** Leaf departments in tree order: the rows of the ledger block. */
	departmentRows: readonly Department[];
	departmentRow: ReadonlyMap<string, number>;
}

export function buildStructure(
	calendar: Calendar,
	accounts: readonly Account[],
	departments: readonly Department[],
	dimensions: readonly Dimension[],
	currency: string
): Structure {
	const departmentTree = buildTree(departments);
	const rows = departmentTree.all.filter((d) => departmentTree.isLeaf(d.code));
	return {
		calendar,
		currency,
		accounts: buildTree(accounts),
		departments: departmentTree,
		dimensions: new Map(dimensions.map((d) => [d.code, { dimension: d, members: buildTree(d.members) }])),
		departmentRows: rows,
		departmentRow: new Map(rows.map((d, i) => [d.code, i]))
	};
}

/** A model as used in one scenario: its definition and the combinations of members that hold data. */
export interface ScenarioModel {
	definition: ModelDefinition;
	rows: readonly (readonly string[])[];
}

export interface BasisEntry {
	account: string;
	department: string;
	basis: Basis;
}

/** Values of accounts by leaf department before the plan opens: actuals, and what the followed scenario says after them. */
export interface History {
	/** Period ordinal of index 0. */
	first: Period;
	accounts: ReadonlyMap<string, Matrix>;
}

export interface ScenarioData {
	scenario: Scenario;
	models: readonly ScenarioModel[];
	series: readonly Series[];
	bases: readonly BasisEntry[];
	history: History;
	/** Other scenarios that formulas read, calculated. */
	others?: ReadonlyMap<string, Plan>;
}

/** Where an account in a department has its plan from; a posting wins over a chosen basis. */
export type Origin = { kind: 'posted'; models: string[] } | { kind: 'basis'; basis: Basis };

/** A calculated scenario. */
export interface Plan {
	structure: Structure;
	scenario: Scenario;
	calculation: Calculation;
	models: ReadonlyMap<string, ScenarioModel>;
	/** First open period (ordinal). */
	open: Period;
	origin(account: string, department: string): Origin;
	/** What the basis gives, without a typed value over it. */
	basisExpr(account: string, department: string): Expr | null;
	/** What was typed for an account in a department. */
	typed(account: string, department: string, period: Period): Cell;
	/** Which model lines post to an account in a department, with their rows. */
	postings(account: string, department: string): { model: string; line: string; rows: number[] }[];
}

/** First period that is plan: after the actuals, and not before the scenario's own first. */
export function firstOpen(scenario: Scenario): Period {
	return scenario.actualsThrough === null
		? scenario.first
		: Math.max(scenario.first, scenario.actualsThrough + 1);
}

const NOWHERE = { from: 0, to: 0 };
const ref = (line: string): Expr => ({ kind: 'reference', block: null, line, span: NOWHERE });
const num = (value: number): Expr => ({ kind: 'number', value, span: NOWHERE });
const call = (name: string, ...args: Expr[]): Expr => ({ kind: 'call', name, args, span: NOWHERE });
const times = (left: Expr, right: Expr): Expr => ({ kind: 'binary', op: '*', left, right, span: NOWHERE });

/** A basis as a formula over the account's own department. */
export function basisFormula(account: string, basis: Basis): Expr | null {
	switch (basis.kind) {
		case 'typed':
			return null;
		case 'last-year':
			return times(call('lag', ref(account), num(12)), num(1 + basis.percent));
		case 'percent-of':
			return times(ref(basis.account), num(basis.percent));
		case 'run-rate':
			return call('run_rate', ref(account), num(basis.months));
	}
}

const typedLine = (account: string) => `typed:${account}`;
const postedLine = (account: string) => `posted:${account}`;

/**
 * Builds and calculates a scenario.
 * @throws ModelError for a model that cannot be calculated
 */
export function calculateScenario(structure: Structure, data: ScenarioData): Plan {
	const { calendar, accounts } = structure;
	const { scenario, history } = data;
	const open = firstOpen(scenario);
	const first = Math.min(history.first, scenario.first - calendar.periodsPerYear);
	const axis = axisOf(calendar, first, scenario.last - first + 1, open - first);

	const seriesOf = new Map<string, Series[]>();
	for (const s of data.series) {
		const key = `${s.block}\u0000${s.line}`;
		const list = seriesOf.get(key);
		if (list) list.push(s);
		else seriesOf.set(key, [s]);
	}

	const definitions = data.models.map((m) => m.definition);
	const sources = {
		accounts,
		dimensions: [...structure.dimensions.values()].map((d) => d.dimension),
		currency: structure.currency,
		scenarios: [...(data.others?.keys() ?? [])]
	};
	const modelBlocks = data.models.map((m) =>
		modelBlock(m, namesFor(m.definition, definitions, sources), structure, seriesOf, axis)
	);
	const postings = collectPostings(data.models, structure);
	const basisOf = new Map(data.bases.map((b) => [`${b.account}\u0000${b.department}`, b.basis]));
	const originOf = (account: string, department: string): Origin => {
		const posted = postings.get(account)?.filter((p) => p.rowsOf.has(department));
		if (posted?.length) return { kind: 'posted', models: [...new Set(posted.map((p) => p.model))] };
		return { kind: 'basis', basis: basisOf.get(`${account}\u0000${department}`) ?? { kind: 'typed' } };
	};

	const basisExprOf = (account: string, department: string): Expr | null => {
		const origin = originOf(account, department);
		return origin.kind === 'posted' ? ref(postedLine(account)) : basisFormula(account, origin.basis);
	};

	const ledger: BlockSpec & { lines: LineSpec[] } = {
		id: LEDGER_BLOCK,
		dimensions: ['department'],
		rows: structure.departmentRows.map((d) => [d.code]),
		lines: []
	};
	for (const account of accounts.all) {
		if (!accounts.isLeaf(account.code)) continue;
		ledger.lines.push(
			...accountLines(account, structure, {
				axis,
				history,
				typed: seriesOf.get(`${LEDGER_BLOCK}\u0000${account.code}`) ?? [],
				inflows: postings.get(account.code) ?? [],
				expr: (department) => basisExprOf(account.code, department)
			})
		);
	}

	const within = (dimension: string, member: string, under: string) =>
		treeOf(structure, dimension)?.within(member, under) ?? member === under;
	const blocks = [...modelBlocks, ledger];
	const foreign = foreignBlocks(blocks, data.others ?? new Map(), axis);
	const calculation = new Calculation({ axis, within }, [...blocks, ...foreign]).calculate();
	return {
		structure,
		scenario,
		calculation,
		models: new Map(data.models.map((m) => [m.definition.code, m])),
		open,
		origin: originOf,
		basisExpr: basisExprOf,
		typed(account, department, period) {
			const row = structure.departmentRow.get(department);
			const line = typedLine(account);
			return row === undefined || !calculation.has(LEDGER_BLOCK, line)
				? null
				: calculation.cell(LEDGER_BLOCK, line, row, period);
		},
		postings: (account, department) =>
			(postings.get(account) ?? []).flatMap((p) => {
				const rows = p.rowsOf.get(department);
				return rows ? [{ model: p.model, line: p.line, rows }] : [];
			})
	};
}

/** Typed values as a matrix, everything else blank. */
function seed(
	series: readonly Series[],
	rowOf: ReadonlyMap<string, number>,
	rows: number,
	axis: Axis
): Matrix {
	const matrix = newMatrix(rows, axis.length);
	marksOf(matrix).fill(BLANK);
	for (const s of series) {
		const row = rowOf.get(s.row);
		if (row === undefined) continue;
		s.values.forEach((value, i) => {
			const t = s.first + i - axis.first;
			if (t >= 0 && t < axis.length && !Number.isNaN(value)) setCell(matrix, row, t, value);
		});
	}
	return matrix;
}

function modelBlock(
	{ definition, rows }: ScenarioModel,
	names: Names,
	structure: Structure,
	seriesOf: ReadonlyMap<string, Series[]>,
	axis: Axis
): BlockSpec {
	const coordinates = definition.dimensions.length ? rows : [[]];
	const rowOf = new Map(coordinates.map((r, i) => [rowKey(r), i]));
	const attributes = new Map<string, LineSpec>();
	const checked = (line: Line, formula: string): Expr => {
		const { expr, errors } = checkFormula(formula, names, lineQuantity(line, structure.currency));
		if (!expr) throw new ModelError(definition.code, line.code, errors[0].message);
		walk(expr, (e) => {
			if (e.kind !== 'reference' || e.block === null || !definition.dimensions.includes(e.block)) return;
			const code = attributeColumn(e.block, e.line);
			if (!attributes.has(code) && structure.dimensions.has(e.block))
				attributes.set(code, attributeLine(code, e.block, e.line, definition, coordinates, structure));
		});
		return expr;
	};
	const lines = definition.lines.map((line): LineSpec => {
		const additive = line.rollup.members === 'sum';
		const begin = line.closed === 'keep' ? 0 : axis.open;
		const rules = rulesOf(line, begin, definition, coordinates, structure, axis, checked);
		const typed = line.formula === undefined || line.scoped?.some((s) => s.formula === undefined);
		if (!typed) return { code: line.code, additive, rules };
		const given = seed(
			seriesOf.get(`${definition.code}\u0000${line.code}`) ?? [],
			rowOf,
			coordinates.length,
			axis
		);
		if (line.closed === 'blank') {
			given.values.fill(0, 0, axis.open * coordinates.length);
			marksOf(given).fill(BLANK, 0, axis.open * coordinates.length);
		}
		return { code: line.code, additive, seed: given, rules };
	});
	return {
		id: definition.code,
		dimensions: definition.dimensions,
		rows: coordinates,
		lines: [...lines, ...attributes.values()]
	};
}

/** A line's formulas in the order in which they are tried. */
function rulesOf(
	line: Line,
	begin: number,
	definition: ModelDefinition,
	coordinates: readonly (readonly string[])[],
	structure: Structure,
	axis: Axis,
	checked: (line: Line, formula: string) => Expr
): RuleSpec[] {
	const index = (key: string | undefined, otherwise: number) => {
		if (key === undefined) return otherwise;
		const period = structure.calendar.parse(key);
		if (period === null)
			throw new ModelError(definition.code, line.code, `“${key}” is no period of the calendar.`);
		return Math.min(axis.length, Math.max(0, period - axis.first));
	};
	const rules = (line.scoped ?? []).map((scope): RuleSpec => {
		const rows = Object.keys(scope.where).length
			? coordinates.flatMap((c, i) => (isUnder(scope.where, definition, c, structure) ? [i] : []))
			: undefined;
		const last = index(scope.to, axis.length - 1);
		return {
			...(rows ? { rows } : {}),
			from: Math.max(begin, index(scope.from, 0)),
			to: Math.min(axis.length, last + 1),
			expr: scope.formula === undefined ? null : checked(line, scope.formula)
		};
	});
	if (line.formula !== undefined) rules.push({ from: begin, expr: checked(line, line.formula) });
	return rules;
}

/** Whether a row lies under all members named (dimension → member). */
export function isUnder(
	where: Readonly<Record<string, string>>,
	definition: ModelDefinition,
	coordinate: readonly string[],
	structure: Structure
): boolean {
	return Object.entries(where).every(([dimension, under]) => {
		const member = coordinate[definition.dimensions.indexOf(dimension)];
		return member !== undefined && treeOf(structure, dimension)?.within(member, under) === true;
	});
}

/** A dimension's attribute for each row, as a column of the block. */
function attributeLine(
	code: string,
	dimension: string,
	attribute: string,
	definition: ModelDefinition,
	coordinates: readonly (readonly string[])[],
	structure: Structure
): LineSpec {
	const { dimension: own, members } = structure.dimensions.get(dimension)!;
	const place = definition.dimensions.indexOf(dimension);
	const quantity = attributeQuantity(own, attribute);
	const values = coordinates.map((c) =>
		attributeNumber(quantity, attributeOf(members, c[place], attribute), textCode)
	);
	return { code, additive: false, seed: newColumn(values) };
}

/** Lines of other scenarios that formulas read, as given values on our axis. */
function foreignBlocks(
	blocks: readonly BlockSpec[],
	others: ReadonlyMap<string, Plan>,
	axis: Axis
): BlockSpec[] {
	const wanted = new Map<string, { plan: Plan; block: string; lines: Set<string> }>();
	const want = (scenario: string, block: string, line: string) => {
		const plan = others.get(scenario);
		if (!plan?.calculation.has(block, line)) return;
		const id = foreignBlock(scenario, block);
		const have = wanted.get(id) ?? { plan, block, lines: new Set() };
		have.lines.add(line);
		wanted.set(id, have);
	};
	for (const block of blocks)
		for (const { rules } of block.lines)
			for (const { expr } of rules ?? [])
				if (expr)
					walk(expr, (e) => {
						if (e.kind !== 'call' || e.name !== 'scenario' || e.args[0].kind !== 'text') return;
						const [{ value: scenario }, what] = e.args as [Expr & { kind: 'text' }, Expr];
						if (what.kind === 'reference') want(scenario, what.block ?? block.id, what.line);
						else if (what.kind === 'call' && what.args[0].kind === 'text')
							want(scenario, LEDGER_BLOCK, what.args[0].value);
					});
	return [...wanted].map(([id, { plan, block, lines }]) => {
		const { dimensions, rows, lines: specs } = plan.calculation.block(block);
		return {
			id,
			dimensions,
			rows,
			lines: [...lines].map((code) => ({
				code,
				additive: specs.find((l) => l.code === code)?.additive ?? true,
				seed: moved(plan.calculation.matrix(block, code), plan.calculation.axis.first, axis)
			}))
		};
	});
}

/** Values on another axis; blank where there are none. Errors stay errors. */
function moved(source: Matrix, first: Period, axis: Axis): Matrix {
	const matrix = newMatrix(source.rows, axis.length);
	const marks = marksOf(matrix).fill(BLANK);
	matrix.errors = source.errors;
	for (let t = 0; t < axis.length; t++) {
		const s = axis.first + t - first;
		if (s < 0 || s >= source.periods) continue;
		const [to, from] = [t * source.rows, s * source.rows];
		matrix.values.set(source.values.subarray(from, from + source.rows), to);
		if (source.marks) marks.set(source.marks.subarray(from, from + source.rows), to);
		else marks.fill(0, to, to + source.rows);
	}
	return matrix;
}

interface AccountInflow {
	model: string;
	line: string;
	/** Department → rows of the model that post to it. */
	rowsOf: Map<string, number[]>;
	index: Int32Array;
}

/** For each account the model lines that post to it, with their rows by department. */
function collectPostings(
	models: readonly ScenarioModel[],
	structure: Structure
): Map<string, AccountInflow[]> {
	const found = new Map<string, AccountInflow[]>();
	for (const { definition, rows } of models) {
		const coordinates = definition.dimensions.length ? rows : [[]];
		const byLine = new Map<string, AccountInflow>();
		const lines = [...new Set(definition.postings.map((p) => p.line))];
		for (const line of lines) {
			const rules = definition.postings.filter((p) => p.line === line);
			coordinates.forEach((coordinate, row) => {
				const target = postingTarget(rules, definition, coordinate, structure);
				if (!target) return;
				const key = `${target.account}\u0000${line}`;
				let inflow = byLine.get(key);
				if (!inflow) {
					inflow = {
						model: definition.code,
						line,
						rowsOf: new Map(),
						index: new Int32Array(coordinates.length).fill(-1)
					};
					byLine.set(key, inflow);
					const list = found.get(target.account);
					if (list) list.push(inflow);
					else found.set(target.account, [inflow]);
				}
				inflow.index[row] = structure.departmentRow.get(target.department)!;
				const list = inflow.rowsOf.get(target.department);
				if (list) list.push(row);
				else inflow.rowsOf.set(target.department, [row]);
			});
		}
	}
	return found;
}

/**
 * Where a row's line posts to: the first posting that fits the row.
 * @throws ModelError when that leads to no account or department that takes figures
 */
function postingTarget(
	rules: readonly Posting[],
	definition: ModelDefinition,
	coordinate: readonly string[],
	structure: Structure
): { account: string; department: string } | null {
	const memberOf = (dimension: string) => coordinate[definition.dimensions.indexOf(dimension)];
	const rule = rules.find((p) => isUnder(p.where, definition, coordinate, structure));
	if (!rule) return null;
	const pick = (target: Posting['account']): string => {
		if ('code' in target) return target.code;
		const [dimension, attribute] = target.attribute.split('.');
		const member = memberOf(dimension);
		if (attribute === 'code') return member ?? '';
		return attributeOf(structure.dimensions.get(dimension)?.members, member, attribute) ?? '';
	};
	const account = pick(rule.account);
	const department = pick(rule.department);
	const where = coordinate.join(', ');
	if (!structure.accounts.get(account) || !structure.accounts.isLeaf(account))
		throw new ModelError(
			definition.code,
			rule.line,
			`The posting of ${where || 'this line'} leads to “${account}”, which is no account that takes figures.`
		);
	if (!structure.departmentRow.has(department))
		throw new ModelError(
			definition.code,
			rule.line,
			`The posting of ${where || 'this line'} leads to “${department}”, which is no department that takes figures.`
		);
	return { account, department };
}

function treeOf(
	structure: Structure,
	dimension: string
): Tree<{ code: string; name: string; parent: string | null }> | undefined {
	return dimension === 'department' ? structure.departments : structure.dimensions.get(dimension)?.members;
}

interface AccountParts {
	axis: Axis;
	history: History;
	typed: readonly Series[];
	inflows: readonly AccountInflow[];
	expr(department: string): Expr | null;
}

/** An account as lines: its values, and where needed what was typed and what was posted. */
function accountLines(account: Account, structure: Structure, parts: AccountParts): LineSpec[] {
	const { axis, typed, inflows } = parts;
	const rows = structure.departmentRows.length;
	const lines: LineSpec[] = [];
	const values = newMatrix(rows, axis.length);
	marksOf(values).fill(BLANK);
	const past = parts.history.accounts.get(account.code);
	if (past)
		for (let t = 0; t < axis.open; t++) {
			const p = t + axis.first - parts.history.first;
			if (p < 0 || p >= past.periods) continue;
			for (let r = 0; r < rows; r++) {
				const cell = cellAt(past, r, p);
				if (typeof cell === 'number') setCell(values, r, t, cell);
			}
		}
	if (typed.length)
		lines.push({
			code: typedLine(account.code),
			additive: true,
			seed: seed(typed, structure.departmentRow, rows, axis)
		});
	if (inflows.length) {
		const specs: InflowSpec[] = inflows.map((f) => ({ block: f.model, line: f.line, index: f.index }));
		lines.push({ code: postedLine(account.code), additive: true, inflows: specs });
	}
	const rules: RuleSpec[] = [];
	if (!isBalance(account.type)) {
		const typedRows = new Set(typed.map((s) => s.row));
		// Departments with the same basis share one rule.
		const shared = new Map<string, { rows: number[]; expr: Expr }>();
		structure.departmentRows.forEach((department, row) => {
			const basis = parts.expr(department.code);
			const own = typedRows.has(department.code) ? ref(typedLine(account.code)) : null;
			const expr = own && basis ? call('coalesce', own, basis) : (own ?? basis);
			if (!expr) return;
			const key = print(expr);
			const rule = shared.get(key);
			if (rule) rule.rows.push(row);
			else shared.set(key, { rows: [row], expr });
		});
		for (const rule of shared.values()) rules.push({ ...rule, from: axis.open });
	}
	// Not additive over departments where it is a rate.
	lines.push({ code: account.code, additive: account.type !== 'rate', seed: values, rules });
	return lines;
}
