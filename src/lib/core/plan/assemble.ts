/** Puts a scenario together: its driver models and the planned accounts as blocks of one calculation. */
import type { Calendar, Period } from '../calendar/calendar';
import { periodRange } from '../calendar/calendar';
import {
	Calculation,
	ModelError,
	type Axis,
	type BlockSpec,
	type InflowSpec,
	type LineSpec,
	type RuleSpec
} from '../engine/calculation';
import { BLANK, cellAt, marksOf, newMatrix, setCell, type Cell, type Matrix } from '../engine/values';
import type { Expr } from '../formula/ast';
import { checkFormula, type Names } from '../formula/check';
import { isBalance } from '../model/sign';
import {
	LEDGER_BLOCK,
	rowKey,
	type Account,
	type Basis,
	type Department,
	type Dimension,
	type Member,
	type ModelDefinition,
	type Posting,
	type Scenario,
	type Series
} from '../model/schema';
import { buildTree, type Tree } from '../model/tree';

/** Everything that does not differ between scenarios. */
export interface Structure {
	calendar: Calendar;
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
	dimensions: readonly Dimension[]
): Structure {
	const departmentTree = buildTree(departments);
	const rows = departmentTree.all.filter((d) => departmentTree.isLeaf(d.code));
	return {
		calendar,
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

/** What formulas of a model may refer to. */
export function namesFor(
	model: ModelDefinition,
	models: readonly ModelDefinition[],
	accounts: Tree<Account>
): Names {
	return {
		lines: model.lines.map((l) => l.code),
		blocks: new Map(
			models.filter((m) => m.code !== model.code).map((m) => [m.code, m.lines.map((l) => l.code)])
		),
		accounts: new Set(accounts.all.filter((a) => accounts.isLeaf(a.code)).map((a) => a.code))
	};
}

/**
 * Builds and calculates a scenario.
 * @throws ModelError for a model that cannot be calculated
 */
export function calculateScenario(structure: Structure, data: ScenarioData): Plan {
	const { calendar, accounts } = structure;
	const { scenario, history } = data;
	const open = firstOpen(scenario);
	const first = Math.min(history.first, scenario.first - calendar.periodsPerYear);
	const periods = periodRange(first, scenario.last);
	const axis: Axis = {
		first,
		length: periods.length,
		open: open - first,
		yearStart: Int32Array.from(periods, (p) => calendar.yearStart(calendar.fiscalYear(p)) - first)
	};

	const seriesOf = new Map<string, Series[]>();
	for (const s of data.series) {
		const key = `${s.block}\u0000${s.line}`;
		const list = seriesOf.get(key);
		if (list) list.push(s);
		else seriesOf.set(key, [s]);
	}

	const definitions = data.models.map((m) => m.definition);
	const modelBlocks = data.models.map((m) => modelBlock(m, definitions, structure, seriesOf, axis));
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

	const ledger: BlockSpec = {
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

	const calculation = new Calculation(axis, [...modelBlocks, ledger]).calculate();
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
	definitions: readonly ModelDefinition[],
	{ accounts }: Structure,
	seriesOf: ReadonlyMap<string, Series[]>,
	axis: Axis
): BlockSpec {
	const names = namesFor(definition, definitions, accounts);
	const coordinates = definition.dimensions.length ? rows : [[]];
	const rowOf = new Map(coordinates.map((r, i) => [rowKey(r), i]));
	const lines = definition.lines.map((line): LineSpec => {
		const additive = line.rollup.members === 'sum';
		if (line.formula !== undefined) {
			const { expr, errors } = checkFormula(line.formula, names);
			if (!expr) throw new ModelError(definition.code, line.code, errors[0].message);
			return { code: line.code, additive, rules: [{ from: line.closed === 'keep' ? 0 : axis.open, expr }] };
		}
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
		return { code: line.code, additive, seed: given };
	});
	return { id: definition.code, dimensions: definition.dimensions, rows: coordinates, lines };
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
	const rule = rules.find((p) =>
		Object.entries(p.where).every(([dimension, under]) => {
			const member = memberOf(dimension);
			const tree = treeOf(structure, dimension);
			return member !== undefined && tree !== undefined && tree.within(member, under);
		})
	);
	if (!rule) return null;
	const pick = (target: Posting['account']): string => {
		if ('code' in target) return target.code;
		const [dimension, attribute] = target.attribute.split('.');
		const member = memberOf(dimension);
		if (attribute === 'code') return member ?? '';
		return attributeOf(structure, dimension, member, attribute) ?? '';
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

/** A member's attribute, its own or the nearest ancestor's. */
function attributeOf(
	structure: Structure,
	dimension: string,
	member: string,
	attribute: string
): string | null {
	const tree = structure.dimensions.get(dimension)?.members;
	for (const m of tree?.ancestors(member) ?? []) if (m.attributes[attribute]) return m.attributes[attribute];
	return null;
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
		structure.departmentRows.forEach((department, row) => {
			const basis = parts.expr(department.code);
			const own = typedRows.has(department.code) ? ref(typedLine(account.code)) : null;
			const expr = own && basis ? call('coalesce', own, basis) : (own ?? basis);
			if (expr) rules.push({ rows: [row, row + 1], from: axis.open, expr });
		});
	}
	// Not additive over departments where it is a rate.
	lines.push({ code: account.code, additive: account.type !== 'rate', seed: values, rules });
	return lines;
}
