/** A driver model's lines and rows for the calculation. */
import { periodNamed } from '../../calendar/onto';
import { seed } from '../../inputs/seed';
import type { Axis } from '../../engine/axis';
import { ModelError, type BlockSpec, type LineSpec, type OverTime, type RuleSpec } from '../../engine/spec';
import { BLANK, marksOf, RATE } from '../../engine/values';
import type { Expr } from '../../formula/ast';
import { checkFormula } from '../../formula/check';
import { rowKey } from '../../engine/row-key';
import type { Line, ModelDefinition, ScenarioModel } from './schema';
import { AttributeLines } from '../attribute-lines';
import type { Parts } from '../block';
import { lineCurrency, lineQuantity } from './names';
import { modelCalendar } from './periods';
import { isUnder } from './rows';
import type { Structure } from '../../company/structure';
import { departmentUnits } from '../../currency/exchange';
import { LOCAL } from '../../formula/units';

/** Rows of a model; a table of assumptions has one. */
export const coordinatesOf = ({ definition, rows }: ScenarioModel): readonly (readonly string[])[] =>
	definition.dimensions.length ? rows : [[]];

export function compileModel(model: ScenarioModel, structure: Structure, parts: Parts): BlockSpec {
	const { definition } = model;
	const { axis } = parts;
	const names = parts.names(definition.code);
	const coordinates = coordinatesOf(model);
	const rowOf = new Map(coordinates.map((r, i) => [rowKey(r), i]));
	const attributes = new AttributeLines({ dimensions: definition.dimensions, rows: coordinates }, structure);
	const checked = (line: Line, formula: string): Expr => {
		const { expr, errors } = checkFormula(formula, names, lineQuantity(line, structure.money));
		if (!expr) throw new ModelError(definition.code, line.code, errors[0].message);
		attributes.read(expr);
		return expr;
	};
	const place = definition.dimensions.indexOf('department');
	const unitsOf = (line: Line) =>
		place >= 0 && lineCurrency(line, structure.money) === LOCAL
			? departmentUnits(
					structure,
					parts.exchange,
					coordinates.map((c) => c[place]),
					line.rollup.time === 'last' ? 'closing' : 'average'
				)
			: null;
	const lines = definition.lines.map((line): LineSpec => {
		const common = {
			code: line.code,
			units: unitsOf(line),
			additive: line.rollup.members === 'sum',
			overTime: overTimeOf(line, checked)
		};
		const begin = line.closed === 'keep' ? 0 : axis.open;
		const rules = rulesOf(line, begin, definition, coordinates, structure, axis, checked);
		const derived = line.closed === 'actuals' ? parts.derived(definition.code, line.code) : [];
		const typed = line.formula === undefined || line.scoped?.some((s) => s.formula === undefined);
		if (!typed && !derived.length) return { ...common, rules };
		const given = seed(typed ? parts.typed(definition.code, line.code) : [], rowOf, coordinates.length, axis);
		if (line.closed !== 'keep') {
			given.values.fill(0, 0, axis.open * coordinates.length);
			marksOf(given).fill(BLANK, 0, axis.open * coordinates.length);
		}
		const past = seed(derived, rowOf, coordinates.length, axis);
		if (derived.length)
			for (let i = 0; i < axis.open * coordinates.length; i++) {
				const known = Math.abs(past.values[i]) !== Infinity;
				given.values[i] = known ? past.values[i] : NaN;
				marksOf(given)[i] = known ? past.marks![i] : RATE;
				given.errors ||= !known;
			}
		return { ...common, seed: given, rules };
	});
	return {
		id: definition.code,
		dimensions: definition.dimensions,
		rows: coordinates,
		lines: [...lines, ...attributes.lines]
	};
}

/** How a line is carried to periods of another kind: as it rolls up over time. */
function overTimeOf(line: Line, checked: (line: Line, formula: string) => Expr): OverTime {
	const { time, members } = line.rollup;
	if (time !== 'formula') return time;
	if (members.startsWith('weighted:')) return { weight: members.slice('weighted:'.length) };
	return line.formula === undefined ? 'average' : { expr: checked(line, line.formula) };
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
	const calendar = modelCalendar(definition, structure.calendar);
	const index = (key: string | undefined, otherwise: number) => {
		if (key === undefined) return otherwise;
		const period = periodNamed(calendar, key);
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
	if (line.actual !== undefined) rules.push({ from: 0, to: axis.open, expr: checked(line, line.actual) });
	if (line.formula !== undefined) rules.push({ from: begin, expr: checked(line, line.formula) });
	return rules;
}
