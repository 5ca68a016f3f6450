/** A schedule as blocks: its rows as they are, and, where rows have departments, what they come to in these. */
import type { NumberFormat } from '../../company/schema';
import type { Structure } from '../../company/structure';
import { rowKey } from '../../engine/row-key';
import { ModelError } from '../../engine/spec';
import { print } from '../../formula/ast';
import { currencyOfUnit } from '../../formula/units';
import type { Block, BlockLine, CellMadeOf, Calculated } from '../block';
import { adjustedTyped, adoptingTyped, typedStepFault } from '../typed-line';
import type { Trait } from '../traits';
import { adjustableAs, adjustedColumn, adoptingColumn, choicesOf, columnStepFault } from './adjust-column';
import { columnQuantity, lineQuantity } from './columns';
import { compileSchedule, compileShares, shareKey } from './compile';
import { columnsNamed, namedLine } from './named-accounts';
import { scheduleNames, sharesNames } from './names';
import { schedulePostings } from './postings';
import {
	departmentColumn,
	SHARE,
	SHARE_IN_FORCE,
	sharesCode,
	type ScenarioSchedule,
	type ScheduleColumn,
	type ScheduleDefinition,
	type ScheduleLine
} from './schema';
import { codeIn, departmentsOf, rowsShape, sharesShape, type ScheduleShape } from './shape';
import { traitsOf } from './traits';

export function scheduleBlocks(schedule: ScenarioSchedule, structure: Structure): Block[] {
	const placed = departmentColumn(schedule.definition) !== undefined;
	const whole = wholeBlock(schedule, structure, placed);
	return placed ? [whole, sharesBlock(schedule, structure)] : [whole];
}

/** A row in words, by the column that names it. */
export function rowWords({ named }: ScheduleDefinition, row: ScenarioSchedule['rows'][number]): string {
	const name = row.values[named];
	return name === undefined ? row.id : String(name);
}

const FORMATS: Partial<Record<ScheduleColumn['kind'], NumberFormat>> = { money: 'money', percent: 'percent' };

function wholeBlock(schedule: ScenarioSchedule, structure: Structure, placed: boolean): Block {
	const { definition, rows } = schedule;
	const { code, lines, columns } = definition;
	const lineOf = (line: string) => lines.find((l) => l.code === line);
	const columnOf = (line: string) => columns.find((c) => c.code === line);
	const block = blockOf(structure, {
		definition,
		code,
		shape: rowsShape(schedule),
		traits: traitsOf(schedule, structure, (i) => rows[i]),
		idOf: (i) => rows[i].id,
		nameOf: (i) => rowWords(definition, rows[i]),
		typed: lines.filter((l) => l.formula === undefined).map((l) => l.code),
		formula: (line) => lineOf(line)?.formula ?? columnOf(line)?.formula,
		line(line) {
			const own = lineOf(line);
			if (own) return lineAs(own);
			const column = columnOf(line);
			return (
				column && {
					label: column.label,
					format: FORMATS[column.kind] ?? 'number',
					extend: null,
					overTime: 'last',
					timeless: true
				}
			);
		}
	});
	return {
		...block,
		adjustable: () => [
			...block.adjustable(),
			...columns.flatMap((c) => {
				const as = adjustableAs(c);
				const format = FORMATS[c.kind] ?? 'number';
				return as ? [{ code: c.code, label: c.label, format, column: as, choices: choicesOf(c) }] : [];
			})
		],
		adjustmentFault(line, step) {
			const column = columnOf(line);
			return column ? columnStepFault(column, step) : block.adjustmentFault(line, step);
		},
		adjusted(spec, line, axis, steps) {
			const column = columnOf(line.code);
			if (!column) return block.adjusted(spec, line, axis, steps);
			const fault = columnStepFault(column);
			if (fault) throw new ModelError(code, line.code, `${fault}.`);
			return adjustedColumn(column, line);
		},
		adopting(without, with_, line) {
			const column = columnOf(line);
			return column
				? { cells: [], values: adoptingColumn(without, with_, code, column, rows) }
				: block.adopting(without, with_, line);
		},
		currencyOf(line) {
			const [own, column] = [lineOf(line), columnOf(line)];
			if (own) return currencyOfUnit(lineQuantity(definition, own, structure.money));
			return column ? currencyOfUnit(columnQuantity(definition, column, structure.money)) : null;
		},
		readThrough(block, line, row) {
			const column = columnsNamed(definition).find((c) => namedLine(c) === line);
			if (column === undefined || (block !== code && block !== sharesCode(code))) return null;
			const department = placed
				? departmentsOf(definition, rows[row])[0]
				: structure.departments.roots[0].code;
			return { account: codeIn(rows[row], column), department };
		},
		names: () => scheduleNames(definition, structure.money),
		// What rows come to in departments posts, where they have any.
		inflows: () => (placed ? new Map() : schedulePostings(schedule, structure)),
		compile: (parts) => compileSchedule(schedule, structure, parts)
	};
}

function sharesBlock(schedule: ScenarioSchedule, structure: Structure): Block {
	const { definition, rows } = schedule;
	const { name, lines, divided } = definition;
	const shape = sharesShape(schedule);
	const lineOf = (line: string) => lines.find((l) => l.adds && l.code === line);
	const departmentAt = (i: number) => shape.rows[i].at(-1)!;
	const share = (label: string): BlockLine => ({
		label,
		format: 'percent',
		extend: 'last',
		overTime: 'average'
	});
	const home = departmentColumn(definition)?.code;
	const block = blockOf(structure, {
		definition: { ...definition, name: `${name}, by department` },
		code: sharesCode(definition.code),
		shape,
		// Of which department a part is, its own place says.
		traits: traitsOf(schedule, structure, (i) => rows[shape.of[i]]).filter((t) => t.code !== home),
		idOf: (i) => shareKey(rows[shape.of[i]].id, departmentAt(i)),
		nameOf: (i) =>
			`${rowWords(definition, rows[shape.of[i]])} · ${structure.departments.get(departmentAt(i))?.name ?? departmentAt(i)}`,
		typed: divided ? [SHARE] : [],
		formula: (line) => (lineOf(line) || line === SHARE_IN_FORCE ? '' : undefined),
		line(line) {
			if (divided && line === SHARE) return share('Share');
			if (divided && line === SHARE_IN_FORCE) return share('Share in force');
			const own = lineOf(line);
			return own && lineAs(own);
		}
	});
	return {
		...block,
		currencyOf(line) {
			const own = lineOf(line);
			return own ? currencyOfUnit(lineQuantity(definition, own, structure.money)) : null;
		},
		names: () => sharesNames(definition, structure.money),
		inflows: () => schedulePostings(schedule, structure),
		compile: (parts) => compileShares(schedule, structure, parts)
	};
}

const lineAs = ({ label, format, extend, time }: ScheduleLine): BlockLine => ({
	label,
	format,
	extend,
	overTime: time
});

/** What both kinds of block have in common. */
interface Common {
	definition: ScheduleDefinition;
	code: string;
	shape: ScheduleShape;
	traits: Trait[];
	/** By what typed values of a row are known. */
	idOf(row: number): string;
	nameOf(row: number): string;
	/** Lines that are typed. */
	typed: readonly string[];
	/** Undefined where nothing is worked out; empty where the calculation itself says how. */
	formula(line: string): string | undefined;
	line(line: string): BlockLine | undefined;
}

function blockOf(
	structure: Structure,
	common: Common
): Omit<Block, 'currencyOf' | 'names' | 'inflows' | 'compile'> {
	const { definition, code, shape, line } = common;
	const { name } = definition;
	let places: Map<string, number> | null = null;
	/** A row is known by its place among the members that it names, and by itself. */
	const rowAt = (row: string): number => {
		places ??= new Map(shape.rows.flatMap((c, i) => [[common.idOf(i), i] as const, [rowKey(c), i] as const]));
		return places.get(row) ?? -1;
	};
	return {
		code,
		kind: 'schedule',
		name,
		told: true,
		has: `the schedule “${name}” has`,
		calendar: structure.calendar,
		dimensions: shape.dimensions,
		rows: shape.rows,
		line,
		rowAt,
		idOf: common.idOf,
		rowName: (row) => (rowAt(row) < 0 ? row : common.nameOf(rowAt(row))),
		missing: (own, row) =>
			!line(own) ? `The line “${own}” of ${name}` : rowAt(row) < 0 ? `The row “${row}” of ${name}` : null,
		adjustable: () =>
			common.typed.map((own) => ({ code: own, label: line(own)!.label, format: line(own)!.format })),
		traits: common.traits,
		adjustmentFault(own, step) {
			if (!line(own)) return `there is no line “${code}.${own}”`;
			return common.typed.includes(own)
				? typedStepFault(step)
				: `${code}.${own} is computed; an adjustment changes what is typed. Adjust what it is computed from`;
		},
		typingFaults: (own, row) => [
			...(!line(own)
				? [{ column: 'line' as const, message: `there is no line “${own}” in a schedule “${code}”` }]
				: common.typed.includes(own)
					? []
					: [{ column: 'line' as const, message: `“${own}” is calculated and takes no values` }]),
			...(rowAt(row) < 0
				? [{ column: 'row' as const, message: `“${row}” is no row of the schedule “${code}”` }]
				: [])
		],
		typedLine: (own) => own,
		adjusted: adjustedTyped,
		typedOverAdjusted: false,
		adopting: (without, with_, own) => ({
			cells: adoptingTyped(without, with_, code, own).cells.map((e) => ({
				...e,
				row: common.idOf(rowAt(e.row))
			})),
			values: []
		}),
		madeOf: (plan, own, row, period) => madeOf(plan, code, own, row, period, common.formula(own))
	};
}

function madeOf(
	{ calculation }: Calculated,
	code: string,
	line: string,
	row: number,
	period: number,
	formula: string | undefined
): CellMadeOf {
	// A column is worked out once for all periods.
	const at = calculation.matrix(code, line).timeless ? calculation.axisOf(code).first : period;
	const rule = calculation.ruleAt(code, line, row, at);
	if (!rule) return { kind: calculation.cell(code, line, row, period) === null ? 'nothing' : 'input' };
	return { kind: 'formula', formula: formula || print(rule.expr), scope: '', expr: rule.expr };
}
