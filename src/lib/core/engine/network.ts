/** Lines and the nodes that compute them, linked from the specification of all blocks. */
import { gatherIndex, memberRows, reduceShape, sharedDimensions, type Shape } from './align';
import type { Arena } from './machine/arena';
import { compile, type Linker, type Reference, type Source } from './compile';
import { inflowSource, type InflowSource } from './inflow';
import type { Program, Read } from './instructions';
import { meeting, type Meeting } from './retime';
import { allRows, MOST_RULE_ROWS, regionsOf, type Run } from './order/regions';
import {
	ACCOUNTS_BLOCK,
	attributeColumn,
	foreignBlock,
	ModelError,
	type BlockSpec,
	type LineSpec,
	type OverTime,
	type Surroundings
} from './spec';
import { blankPeriods, newColumn, unplacedMatrix, type Matrix } from './values';
import { print, walk, type Expr } from '../formula/ast';
import { FUNCTIONS } from '../formula/functions';
import { NONE } from '../formula/check';
import type { Axis } from './axis';

export interface Line {
	block: string;
	code: string;
	matrix: Matrix;
	additive: boolean;
	/** How it is carried to periods of another kind. */
	overTime: OverTime;
	/** What brings its rows to one unit where a dimension is summed away. */
	units: LineSpec['units'];
}

/** What computes some cells of a line. */
export type Node = {
	target: number;
	block: string;
	/** Place of the block’s axis in the network’s list. */
	axis: number;
	runs: readonly Run[];
	from: number;
	to: number;
} &
	/** With a mask, the rows between short runs are computed too, and left out of the result. */
	(
		| { kind: 'program'; program: Program; expr: Expr; rule: number; mask: Uint8Array | null }
		| { kind: 'inflow'; sources: InflowSource[] }
		/** A line of the same rows in periods of another kind. */
		| {
				kind: 'retime';
				/** At least so many periods back; −1 between axes. */
				lag: number;
				source: number;
				weight: number | null;
				how: 'sum' | 'last' | 'average';
				meeting: Meeting;
		  }
		/**
		 * A column: an expression summed over its whole life, or over what of it lies before the axis; over the axis
		 * where it stands in a line (`source`).
		 */
		| { kind: 'life'; program: Program; bounds: Program[]; source: number | null; part: 'whole' | 'before' }
	);

/** Runs shorter than this on average are computed together with the rows between them, and then picked out. */
const SHORT_RUN = 8;

export class Network {
	readonly blocks = new Map<string, BlockSpec>();
	readonly lines: Line[] = [];
	readonly nodes: Node[] = [];
	/** For each line the nodes that write it. */
	readonly writers: number[][] = [];
	/** Places of lines by block and code; asked for every figure, so without making a key. */
	private readonly lineIndex = new Map<string, Map<string, number>>();
	private readonly formulas = new Map<string, ReadonlyMap<string, string>>();
	private hidden = 0;

	/** @throws ModelError when a reference leads nowhere, or a line that cannot be summed would have to be */
	constructor(
		readonly surroundings: Surroundings,
		specs: readonly BlockSpec[]
	) {
		this.axes = [...new Set([surroundings.axis, ...specs.map((s) => this.axisOf(s))])];
		this.yearBacks = this.axes.map((axis) => [...new Set(axis.yearBack)]);
		for (const spec of specs) this.addBlock(spec);
		for (const spec of specs) for (const line of spec.lines) this.addNodes(spec, line);
	}

	/** How many cells all lines have. */
	get cells(): number {
		return this.lines.reduce((n, { matrix }) => n + matrix.rows * matrix.periods, 0);
	}

	/** Gives every line its memory; what was given for a line is copied there and not touched any more. */
	place(arena: Arena): void {
		for (const { matrix } of this.lines) {
			const given = matrix.values;
			matrix.values = arena.allocate(matrix.rows * matrix.periods);
			matrix.values.set(given);
			if (matrix.marks) matrix.marks = matrix.marks.slice();
		}
	}

	/** Periods of every kind; the first are the calculation’s own. */
	readonly axes: readonly Axis[];
	/** By axis: how far back the year before is, in each way that there is. */
	private readonly yearBacks: readonly (readonly number[])[];
	/** How axes meet, made when first needed. */
	private readonly meetings = new Map<string, Meeting>();
	/** By the rows that read and those that are read, places of the latter. */
	private readonly indices = new Map<Shape['rows'], Map<Shape['rows'], Int32Array>>();
	/** Of blocks summed down to some dimensions, for each row the one into which it goes. */
	private readonly sums = new Map<string, Int32Array>();

	axisOf(block: Pick<BlockSpec, 'axis'>): Axis {
		return block.axis ?? this.surroundings.axis;
	}
	private placeOfAxis(block: Pick<BlockSpec, 'axis'>): number {
		return this.axes.indexOf(this.axisOf(block));
	}
	private periodsOf(block: Pick<BlockSpec, 'axis'>): number {
		return this.axisOf(block).length;
	}

	private placeOf(block: string, line: string): number | undefined {
		return this.lineIndex.get(block)?.get(line);
	}
	find(block: string, line: string): number {
		const index = this.placeOf(block, line);
		if (index === undefined) throw new ModelError(block, line, `There is no line “${line}” in “${block}”.`);
		return index;
	}
	has(block: string, line: string): boolean {
		return this.placeOf(block, line) !== undefined;
	}
	block(id: string): BlockSpec {
		const block = this.blocks.get(id);
		if (!block) throw new ModelError(id, '', `There is no model “${id}”.`);
		return block;
	}

	private addBlock(spec: BlockSpec): void {
		this.blocks.set(spec.id, spec);
		for (const line of spec.lines)
			this.addLine(
				spec,
				line.code,
				line.additive,
				line.seed
					? { ...line.seed }
					: line.timeless
						? newColumn(spec.rows.map(() => 0))
						: unplacedMatrix(spec.rows.length, this.periodsOf(spec)),
				line.overTime,
				line.units
			);
	}

	private addLine(
		block: BlockSpec,
		code: string,
		additive: boolean,
		matrix: Matrix,
		overTime: OverTime = 'sum',
		units: LineSpec['units'] = null
	): number {
		const index = this.lines.length;
		this.lines.push({ block: block.id, code, matrix, additive, overTime, units });
		const own = this.lineIndex.get(block.id);
		if (own) own.set(code, index);
		else this.lineIndex.set(block.id, new Map([[code, index]]));
		this.writers.push([]);
		return index;
	}

	private addNode(node: Node): void {
		this.writers[node.target].push(this.nodes.length);
		this.nodes.push(node);
	}

	private addNodes(block: BlockSpec, spec: LineSpec): void {
		const target = this.find(block.id, spec.code);
		const rows = block.rows.length;
		const axis = this.placeOfAxis(block);
		const { matrix } = this.lines[target];
		const periods = matrix.timeless ? 1 : this.periodsOf(block);
		if (spec.inflows?.length)
			this.addNode({
				kind: 'inflow',
				target,
				block: block.id,
				axis,
				runs: allRows(rows),
				from: spec.inflowsFrom ?? this.axisOf(block).open,
				to: periods,
				sources: spec.inflows.map((f) =>
					inflowSource(
						this.inPeriodsOf(block, this.block(f.block), f.line).line,
						f.index,
						f.factors,
						this.axisOf(block)
					)
				)
			});
		const rules = spec.rules ?? [];
		if (rules.length > 1 && rules.length * rows > MOST_RULE_ROWS)
			throw new ModelError(
				block.id,
				spec.code,
				`${block.id}.${spec.code} has ${rules.length} scoped formulas over ${rows} rows; together at most ${MOST_RULE_ROWS} are allowed.`
			);
		const regions = regionsOf(rules, rows, periods);
		if (!spec.seed && rules.length && !spec.inflows?.length) {
			// Cells that no rule covers are blank.
			const [only] = regions;
			const [run] = only?.runs ?? [];
			const covered = regions.length === 1 && run[0] === 0 && run[1] === rows;
			if (covered) {
				blankPeriods(matrix, 0, only.from);
				blankPeriods(matrix, only.to, periods);
			} else blankPeriods(matrix, 0, periods);
		}
		const programs = new Map<number, Program>();
		for (const { rule, runs, from, to } of regions) {
			const expr = rules[rule].expr!;
			let program = programs.get(rule);
			if (!program) programs.set(rule, (program = compile(expr, this.linker(block, spec.code))));
			this.addNode({
				kind: 'program',
				target,
				block: block.id,
				axis,
				runs,
				from,
				to,
				program,
				expr,
				rule,
				mask: tooShort(runs) ? maskOf(runs, rows) : null
			});
		}
	}

	private linker(block: BlockSpec, line: string): Linker {
		const guarded = <T>(work: () => T): T => {
			try {
				return work();
			} catch (e) {
				throw e instanceof ModelError ? new ModelError(block.id, line, e.message) : e;
			}
		};
		const blockOf = (e: Reference, scenario: string | null) =>
			scenario === null ? (e.block ?? block.id) : foreignBlock(scenario, e.block ?? block.id);
		return {
			reference: (e, scenario) =>
				guarded(() => {
					const attribute = this.attribute(block, e);
					return attribute ?? this.source(block, blockOf(e, scenario), e.line);
				}),
			account: (code, scenario) =>
				guarded(() =>
					this.source(
						block,
						scenario === null ? ACCOUNTS_BLOCK : foreignBlock(scenario, ACCOUNTS_BLOCK),
						code
					)
				),
			member: (e, dimension, member) =>
				guarded(() => this.atMember(block, blockOf(e, null), e.line, dimension, member)),
			total: (e, over) => guarded(() => this.total(block, line, e, over)),
			ages: (e) => guarded(() => this.ages(block, e)),
			hoist: (expr) => this.hoist(block, line, expr),
			wholeLife: (expr) => this.life(block, line, expr, 'whole')!,
			lifeBefore: (expr) => this.life(block, line, expr, 'before'),
			yearBacks: this.yearBacks[this.placeOfAxis(block)],
			yearAgo: (line) => this.yearAgo(block, line),
			perMonth: (at) => this.axisOf(block).yearAgo !== undefined && this.lines[at].overTime === 'sum',
			timeless: (at) => this.lines[at].matrix.timeless === true
		};
	}

	/** An expression as a line of its own: one that is there, where it gives just that. */
	private hoist(block: BlockSpec, line: string, expr: Expr): number {
		const overTime = this.bareOverTime(block, line, expr);
		const same = this.linesByFormula(block).get(print(expr));
		if (same !== undefined && same !== line) {
			const place = this.find(block.id, same);
			if (this.lines[place].overTime === overTime) return place;
		}
		const target = this.addLine(
			block,
			`#${this.hidden++}`,
			true,
			unplacedMatrix(block.rows.length, this.periodsOf(block)),
			overTime
		);
		const program = compile(expr, this.linker(block, line));
		this.addNode({
			kind: 'program',
			target,
			block: block.id,
			axis: this.placeOfAxis(block),
			runs: allRows(block.rows.length),
			from: 0,
			to: this.periodsOf(block),
			program,
			expr,
			rule: 0,
			mask: null
		});
		return target;
	}

	/** Lines that one formula gives in all rows and periods, and that add up, by that formula. */
	private linesByFormula(block: BlockSpec): ReadonlyMap<string, string> {
		const have = this.formulas.get(block.id);
		if (have) return have;
		const found = new Map<string, string>();
		for (const { code, additive, seed, inflows, timeless, rules } of block.lines) {
			const [rule] = rules ?? [];
			if (rules?.length !== 1 || !rule.expr || rule.rows || rule.from || rule.to !== undefined) continue;
			if (additive && !seed && !inflows?.length && !timeless) found.set(print(rule.expr), code);
		}
		this.formulas.set(block.id, found);
		return found;
	}

	/** What is but a line of another block rolls up over time as that does. */
	private bareOverTime(block: BlockSpec, line: string, expr: Expr): OverTime {
		const linker = this.linker(block, line);
		const bare =
			expr.kind === 'reference' && expr.line !== NONE
				? linker.reference(expr, null)
				: expr.kind === 'call' && expr.name === 'account' && expr.args[0]?.kind === 'text'
					? linker.account(expr.args[0].value, null)
					: null;
		const { overTime } = bare ? this.lines[bare.line] : { overTime: 'sum' as const };
		return typeof overTime === 'string' ? overTime : 'average';
	}

	/** An expression of rows and dates alone lives outside the axis too; any other is summed over the axis. */
	private life(block: BlockSpec, line: string, expr: Expr, part: 'whole' | 'before'): number | null {
		const linker = this.linker(block, line);
		let overTime = false;
		const dates: Expr[] = [];
		walk(expr, (e) => {
			if (e.kind === 'reference' && e.line !== NONE) {
				const { line: at } = linker.reference(e, null);
				if (!this.lines[at].matrix.timeless) overTime = true;
			}
			if (e.kind !== 'call') return;
			if (FUNCTIONS.get(e.name)?.otherPeriods) overTime = true;
			if (['active', 'renewing', 'instalments'].includes(e.name)) dates.push(...e.args.slice(0, 2));
			if (e.name === 'depreciation') dates.push(e.args[4], afterLife(e));
		});
		if (part === 'before' && (overTime || !dates.length)) return null;
		const column: Matrix = newColumn(block.rows.map(() => 0));
		const target = this.addLine(block, `#${this.hidden++}`, true, column);
		this.addNode({
			kind: 'life',
			target,
			block: block.id,
			axis: this.placeOfAxis(block),
			runs: allRows(block.rows.length),
			from: 0,
			to: this.periodsOf(block),
			program: compile(expr, linker),
			bounds: dates.map((d) => compile(d, linker)),
			source: overTime ? this.hoist(block, line, expr) : null,
			part
		});
		return target;
	}

	/** `dimension.attribute` of our own rows, given as a column of the block. */
	private attribute(block: BlockSpec, e: Reference): Source | null {
		if (e.block === null || this.blocks.has(e.block) || !block.dimensions.includes(e.block)) return null;
		const code = attributeColumn(e.block, e.line);
		const line = this.placeOf(block.id, code);
		return line === undefined ? null : { line, index: null };
	}

	/** As `gatherIndex`, worked out once for all that is read from one in the other: the same rows have the same dimensions. */
	private linedUp(to: BlockSpec, from: BlockSpec): Int32Array {
		const known = this.indices.get(to.rows) ?? new Map<Shape['rows'], Int32Array>();
		this.indices.set(to.rows, known);
		const index = known.get(from.rows) ?? gatherIndex(to, from);
		known.set(from.rows, index);
		return index;
	}

	/** Where a line of the block `from` is read, lined up with the rows of `to`. */
	source(to: BlockSpec, from: string, code: string): Source {
		const there = this.blocks.get(from);
		if (!there) throw new ModelError(to.id, code, `There is no model “${from}”.`);
		if (!this.has(from, code)) throw new ModelError(to.id, code, `There is no line “${code}” in “${from}”.`);
		const { block, line } = this.inPeriodsOf(to, there, code);
		if (from === to.id) return { line, index: null };
		const shared = sharedDimensions(block, to);
		if (shared.length === block.dimensions.length) return { line, index: this.linedUp(to, block) };
		return this.reduced(to, block, line, shared);
	}

	/**
	 * A line in the periods of another block: the line itself where they are the same, else one of the same rows in a
	 * block beside its own, made once and shared by all that read it so.
	 */
	inPeriodsOf(to: BlockSpec, from: BlockSpec, code: string): { block: BlockSpec; line: number } {
		const own = this.find(from.id, code);
		if (this.axisOf(to) === this.axisOf(from) || this.lines[own].matrix.timeless)
			return { block: from, line: own };
		const place = this.placeOfAxis(to);
		return this.beside(from, code, {
			id: besideId(from.id, place),
			axis: to.axis,
			meeting: this.meetingOf(this.placeOfAxis(from), place),
			lag: -1
		});
	}

	/** A line in the year before, where that is not so many periods back; null where it is. */
	private yearAgo(block: BlockSpec, line: number): number | null {
		const axis = this.axisOf(block);
		if (!axis.yearAgo) return null;
		const key = `${this.placeOfAxis(block)}/ago`;
		const met = this.meetings.get(key) ?? meeting(axis, { ...axis.yearAgo, length: axis.length });
		this.meetings.set(key, met);
		const { starts, source } = met;
		let lag = axis.length;
		for (let t = 0; t < axis.length; t++)
			if (starts[t + 1] > starts[t]) lag = Math.min(lag, t - source[starts[t + 1] - 1]);
		const carried = { id: `${block.id}#yearago`, axis: block.axis, meeting: met, lag };
		return this.beside(block, this.lines[line].code, carried).line;
	}

	/** A line of a block carried by days, in a block beside it of the same rows; made once. */
	private beside(from: BlockSpec, code: string, carried: Carried): { block: BlockSpec; line: number } {
		const own = this.find(from.id, code);
		const { id, axis } = carried;
		const spec: BlockSpec = this.blocks.get(id) ?? { ...from, id, axis, lines: [] };
		this.blocks.set(id, spec);
		return { block: spec, line: this.placeOf(id, code) ?? this.addCarried(spec, from, own, carried) };
	}

	private addCarried(spec: BlockSpec, from: BlockSpec, own: number, carried: Carried): number {
		const { code, additive, overTime, units } = this.lines[own];
		const periods = this.periodsOf(spec);
		const matrix = unplacedMatrix(spec.rows.length, periods);
		const target = this.addLine(spec, code, additive, matrix, 'sum', units);
		const common = { target, block: spec.id, axis: this.placeOfAxis(spec), runs: allRows(spec.rows.length) };
		if (typeof overTime === 'object' && 'expr' in overTime) {
			const { expr } = overTime;
			walk(expr, (e) => {
				if (e.kind === 'reference' && e.block === null && e.line !== NONE) this.beside(from, e.line, carried);
			});
			const program = compile(expr, this.linker(spec, code));
			this.addNode({ ...common, kind: 'program', from: 0, to: periods, program, expr, rule: 0, mask: null });
			return target;
		}
		const weight = typeof overTime === 'object' ? this.find(from.id, overTime.weight) : null;
		const how = typeof overTime === 'object' ? 'average' : overTime;
		const { meeting, lag } = carried;
		// Closed periods by themselves: what is derived in them does not wait for the plan.
		const { open } = this.axisOf(spec);
		for (const [a, b] of [
			[0, open],
			[open, periods]
		])
			if (a < b)
				this.addNode({ ...common, kind: 'retime', from: a, to: b, source: own, weight, how, meeting, lag });
		return target;
	}

	private meetingOf(source: number, target: number): Meeting {
		const key = `${source}/${target}`;
		const have = this.meetings.get(key);
		if (have) return have;
		const made = meeting(this.axes[source], this.axes[target]);
		this.meetings.set(key, made);
		return made;
	}

	/** A line summed down to some of its dimensions, made once and shared by all that read it so. */
	private reduced(to: BlockSpec, block: BlockSpec, line: number, kept: string[]): Source {
		const { code, additive } = this.lines[line];
		if (!additive) {
			const gone = block.dimensions.filter((d) => !kept.includes(d)).join(' and ');
			throw new ModelError(
				to.id,
				code,
				`${block.id}.${code} cannot be summed over ${gone}; its roll-up over members is not a sum.`
			);
		}
		const id = `${block.id}#${kept.join('|')}`;
		const spec = this.blocks.get(id) ?? this.summed(id, block, kept);
		const target = this.placeOf(id, code) ?? this.addSum(spec, code, line, this.sums.get(id)!);
		return { line: target, index: this.linedUp(to, spec) };
	}

	private summed(id: string, block: BlockSpec, kept: string[]): BlockSpec {
		const { shape, index } = reduceShape(block, kept);
		const spec: BlockSpec = { id, ...shape, axis: block.axis, lines: [] };
		this.blocks.set(id, spec);
		this.sums.set(id, index);
		return spec;
	}

	private addSum(spec: BlockSpec, code: string, line: number, index: Int32Array): number {
		const { matrix: given, units } = this.lines[line];
		const { timeless } = given;
		const mixed = units && !spec.dimensions.includes(units.dimension);
		const periods = this.periodsOf(spec);
		const matrix = timeless ? newColumn(spec.rows.map(() => 0)) : unplacedMatrix(spec.rows.length, periods);
		const target = this.addLine(spec, code, true, matrix);
		this.addNode({
			kind: 'inflow',
			target,
			block: spec.id,
			axis: this.placeOfAxis(spec),
			runs: allRows(spec.rows.length),
			from: 0,
			to: timeless ? 1 : periods,
			sources: [inflowSource(line, index, mixed ? units.factors : null, this.axisOf(spec))]
		});
		return target;
	}

	private total(block: BlockSpec, line: string, expr: Expr, over: string[]): Source {
		const account = wholeAccount(expr, over, block.dimensions);
		if (account) return this.source({ ...block, dimensions: [] }, account.block, account.code);
		const at =
			expr.kind === 'reference' &&
			expr.line !== NONE &&
			this.linker(block, line).reference(expr, null).index === null
				? this.linker(block, line).reference(expr, null).line
				: this.hoist(block, line, expr);
		const kept = over.length ? block.dimensions.filter((d) => !over.includes(d)) : [];
		return this.reduced(block, block, at, kept);
	}

	/** A line at one member: its rows under the member, summed over it and over what we lack. */
	private atMember(to: BlockSpec, from: string, code: string, dimension: string, member: string): Source {
		this.find(from, code);
		const { block, line } = this.inPeriodsOf(to, this.block(from), code);
		const chosen = memberRows(block, dimension, (m) =>
			this.surroundings.within ? this.surroundings.within(dimension, m, member) : m === member
		);
		const kept = block.dimensions.filter((d) => d !== dimension && to.dimensions.includes(d));
		const id = `${block.id}@${dimension}=${member}#${kept.join('|')}`;
		const places = chosen.map((r) => block.rows[r]);
		const { shape, index } = reduceShape({ dimensions: block.dimensions, rows: places }, kept);
		if (!this.lines[line].additive && places.length > shape.rows.length)
			throw new ModelError(
				to.id,
				code,
				`${from}.${code} cannot be summed under “${member}”; its roll-up over members is not a sum.`
			);
		const spec: BlockSpec = this.blocks.get(id) ?? { id, ...shape, axis: block.axis, lines: [] };
		this.blocks.set(id, spec);
		const whole = new Int32Array(block.rows.length).fill(-1);
		chosen.forEach((r, i) => (whole[r] = index[i]));
		const target = this.placeOf(id, code) ?? this.addSum(spec, code, line, whole);
		return { line: target, index: this.linedUp(to, spec) };
	}

	private ages(to: BlockSpec, e: Reference): { line: number; ages: Int32Array[] } {
		this.find(e.block!, e.line);
		const { block, line } = this.inPeriodsOf(to, this.block(e.block!), e.line);
		const extra = block.dimensions.filter((d) => !to.dimensions.includes(d));
		if (extra.length !== 1)
			throw new ModelError(
				to.id,
				e.line,
				`${e.block}.${e.line} is no curve: it needs one dimension more than the model that reads it.`
			);
		const place = block.dimensions.indexOf(extra[0]);
		const members = [...new Set(block.rows.map((r) => r[place]))];
		const ages = members.map((member) => {
			const chosen = memberRows(block, extra[0], (m) => m === member);
			const rest = block.dimensions.filter((d) => d !== extra[0]);
			const rows = chosen.map((r) => block.rows[r].filter((_, i) => i !== place));
			return gatherIndex(to, { dimensions: rest, rows }).map((i) => (i < 0 ? -1 : chosen[i]));
		});
		return { line, ages };
	}

	/** What a node reads, in the form in which order and changes are worked out. */
	readsOf(node: Node): readonly Read[] {
		switch (node.kind) {
			case 'program':
				return node.program.reads;
			case 'inflow':
				return node.sources.map(({ line }) => ({ line, reach: 0, sameRows: false }));
			case 'retime': {
				const { lag, meeting } = node;
				const { starts, source, reaches } = meeting;
				const [first, end] = [starts[node.from], starts[node.to]];
				if (first === end) return [];
				const reach = { from: source[first], to: source[end - 1] + 1, reaches, lag };
				return [node.source, ...(node.weight === null ? [] : [node.weight])].map((line) => ({
					line,
					reach,
					sameRows: true
				}));
			}
			case 'life':
				return node.source === null
					? node.program.reads.map((r) => ({ ...r, reach: 'all' as const }))
					: [{ line: node.source, reach: 'all', sameRows: true }];
		}
	}

	/** A line's name for messages; null for hidden ones. */
	nameOf(line: number): string | null {
		const { block, code } = this.lines[line];
		if (isHelper(code) || block.includes('#')) return null;
		return block === ACCOUNTS_BLOCK ? `account ${code}` : `${block}.${code}`;
	}
}

/**
 * The account that a total over departments is of, with its block: in a model by department an account is the row’s own
 * department’s, but its total is that of all departments, whether the model has rows for them or not.
 */
export function wholeAccount(
	e: Expr,
	over: readonly string[],
	dimensions: readonly string[]
): { block: string; code: string } | null {
	const named = over.length ? over : dimensions;
	if (e.kind !== 'call' || named.length !== 1 || named[0] !== 'department') return null;
	const [first, second] = e.args;
	const code = (x: Expr | undefined) => (x?.kind === 'text' ? x.value : '');
	if (e.name === 'account') return { block: ACCOUNTS_BLOCK, code: code(first) };
	if (e.name === 'scenario' && second.kind === 'call' && second.name === 'account')
		return { block: foreignBlock(code(first), ACCOUNTS_BLOCK), code: code(second.args[0]) };
	return null;
}

/** How lines of a block are carried by days into one beside it. */
interface Carried {
	id: string;
	axis: Axis | undefined;
	meeting: Meeting;
	/** At least so many periods back; −1 between axes. */
	lag: number;
}

/** The block beside another that holds lines of it in periods of another kind, by the place of these. */
export const besideId = (block: string, axis: number) => `${block}#time${axis}`;

/** Lines that serve another one: `#…` of the engine, `part:line` of what is put together. */
export const isHelper = (code: string) => code.startsWith('#') || code.includes(':');

/** A day by which an asset's depreciation has surely ended. */
function afterLife({ args, span }: Expr & { kind: 'call' }): Expr {
	const months: Expr = {
		kind: 'binary',
		op: '+',
		left: args[3],
		right: { kind: 'number', value: 2, span },
		span
	};
	return { kind: 'call', name: 'edate', args: [args[4], months], span };
}

function tooShort(runs: readonly Run[]): boolean {
	if (runs.length < 2) return false;
	const rows = runs.reduce((n, [from, to]) => n + to - from, 0);
	const span = runs[runs.length - 1][1] - runs[0][0];
	return rows / runs.length < SHORT_RUN && span < rows * 8;
}

function maskOf(runs: readonly Run[], rows: number): Uint8Array {
	const mask = new Uint8Array(rows);
	for (const [from, to] of runs) mask.fill(1, from, to);
	return mask;
}
