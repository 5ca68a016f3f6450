/** A schedule's columns and lines for the calculation: its rows as they are, and what they come to in departments. */
import type { Structure } from '../../company/structure';
import { departmentUnits } from '../../currency/exchange';
import { ModelError, type BlockSpec, type LineSpec } from '../../engine/spec';
import { newColumn } from '../../engine/values';
import type { Expr } from '../../formula/ast';
import { checkFormula } from '../../formula/check';
import { currencyOfUnit, LOCAL, type Quantity } from '../../formula/units';
import { seed } from '../../inputs/seed';
import type { Parts } from '../block';
import { AttributeLines } from '../attribute-lines';
import { columnNumber, columnQuantity, lineQuantity } from './columns';
import { namedLines, readNamed } from './named-accounts';
import {
	departmentColumn,
	SHARE,
	SHARE_IN_FORCE,
	sharesCode,
	type ScenarioSchedule,
	type ScheduleColumn,
	type ScheduleLine
} from './schema';
import { departmentsOf, rowsShape, sharesShape } from './shape';

/** In closed months as in open ones: what was paid before counts towards a yearly cap. */
export function compileSchedule(schedule: ScenarioSchedule, structure: Structure, parts: Parts): BlockSpec {
	const { definition, rows } = schedule;
	const { code } = definition;
	const { money } = structure;
	const shape = rowsShape(schedule);
	const attributes = new AttributeLines(shape, structure);
	const checked = reader(code, parts);
	const read: typeof checked = (...formula) => {
		const expr = readNamed(definition, checked(...formula));
		attributes.read(expr);
		return expr;
	};
	const rowOf = new Map(rows.map((row, i) => [row.id, i]));
	const departments = rows.map((row) => departmentsOf(definition, row)[0] ?? '');
	const units = unitsIn(structure, parts, code, departments);
	const column = (c: ScheduleColumn): LineSpec => {
		const quantity = columnQuantity(definition, c, money);
		const common = {
			code: c.code,
			additive: c.kind === 'money' || c.kind === 'number',
			overTime: 'last' as const,
			units: units(quantity, 'average')
		};
		return c.formula === undefined
			? { ...common, seed: newColumn(rows.map((r) => columnNumber(c.kind, r.values[c.code]))) }
			: { ...common, timeless: true, rules: [{ expr: read(c.code, c.formula, quantity) }] };
	};
	const line = (l: ScheduleLine): LineSpec => {
		const quantity = lineQuantity(definition, l, money);
		const common = {
			code: l.code,
			additive: l.adds,
			overTime: l.time,
			units: units(quantity, l.time === 'last' ? 'closing' : 'average')
		};
		return l.formula === undefined
			? { ...common, seed: seed(parts.typed(code, l.code), rowOf, rows.length, parts.axis) }
			: { ...common, rules: [{ expr: read(l.code, l.formula, quantity) }] };
	};
	const lines = [...definition.columns.map(column), ...definition.lines.map(line)];
	const named = departmentColumn(definition) ? [] : namedLines(schedule, rows.length, (place) => place);
	return { id: code, ...shape, lines: [...lines, ...attributes.lines, ...named] };
}

/** Each line that adds up, times the share of a row that counts in a department. */
export function compileShares(schedule: ScenarioSchedule, structure: Structure, parts: Parts): BlockSpec {
	const { definition, rows } = schedule;
	const id = sharesCode(definition.code);
	const { dimensions, rows: coordinates, of } = sharesShape(schedule);
	const read = reader(id, parts);
	const departments = coordinates.map((c) => c.at(-1)!);
	const units = unitsIn(structure, parts, 'department', departments);
	const rowOf = new Map(of.map((r, i) => [shareKey(rows[r].id, departments[i]), i]));
	const shares: LineSpec[] = definition.divided
		? [
				{
					code: SHARE,
					additive: false,
					overTime: 'average',
					seed: seed(parts.typed(id, SHARE), rowOf, coordinates.length, parts.axis)
				},
				{
					code: SHARE_IN_FORCE,
					additive: true,
					overTime: 'average',
					rules: [{ expr: read(SHARE_IN_FORCE, `coalesce(${SHARE}, 1)`) }]
				}
			]
		: [];
	const lines = definition.lines
		.filter((l) => l.adds)
		.map((l): LineSpec => {
			const whole = `${definition.code}.${l.code}`;
			const quantity = lineQuantity(definition, l, structure.money);
			return {
				code: l.code,
				additive: true,
				overTime: l.time,
				units: units(quantity, l.time === 'last' ? 'closing' : 'average'),
				rules: [{ expr: read(l.code, definition.divided ? `${whole} * ${SHARE_IN_FORCE}` : whole, quantity) }]
			};
		});
	const home = (place: number) =>
		departments[place] === departmentsOf(definition, rows[of[place]])[0] ? of[place] : -1;
	const named = namedLines(schedule, coordinates.length, home);
	return { id, dimensions, rows: coordinates, lines: [...shares, ...lines, ...named] };
}

/** By which a typed share is known. */
export const shareKey = (row: string, department: string): string => `${row}|${department}`;

/** Reads formulas of a block. @throws ModelError for one that cannot be calculated */
function reader(block: string, parts: Parts) {
	const names = parts.names(block);
	return (line: string, formula: string, quantity?: Quantity): Expr => {
		const { expr, errors } = checkFormula(formula, names, quantity);
		if (!expr) throw new ModelError(block, line, errors[0].message);
		return expr;
	};
}

/** What brings rows in the currencies of their departments together, where a dimension is summed away. */
function unitsIn(
	structure: Structure,
	{ exchange }: Parts,
	dimension: string,
	departments: readonly string[]
) {
	const kept = new Map<string, LineSpec['units']>();
	return (quantity: Quantity, kind: 'average' | 'closing'): LineSpec['units'] => {
		if (currencyOfUnit(quantity) !== LOCAL) return null;
		if (!kept.has(kind)) {
			const found = departmentUnits(structure, exchange, departments, kind);
			kept.set(kind, found && { ...found, dimension });
		}
		return kept.get(kind)!;
	};
}
