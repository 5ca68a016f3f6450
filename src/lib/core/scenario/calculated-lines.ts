/** Lines as they are calculated, taken out of one plan and put into another calculation as given values. */
import type { Period } from '../calendar/calendar';
import type { AnyCalendarSpec } from '../calendar/spec';
import type { Structure } from '../company/structure';
import { departmentUnits, type Exchange } from '../currency/exchange';
import type { Axis } from '../engine/axis';
import type { BlockSpec } from '../engine/spec';
import { BLANK, marksOf, newMatrix, type Matrix } from '../engine/values';
import { walk } from '../formula/ast';
import type { CalculatedLines } from './data';
import type { Plan } from './plan';

/** Those lines, with what they are carried to other periods by; what the plan does not have is left out. */
export function calculatedLines(
	{ calculation, blocks }: Plan,
	wanted: Iterable<{ block: string; line: string }>
): CalculatedLines {
	const found: CalculatedLines = new Map();
	const take = (block: string, line: string): void => {
		if (!calculation.has(block, line)) return;
		const spec = calculation.block(block);
		const { calendar } = blocks.get(block)!;
		const have = found.get(block) ?? {
			calendar: calendar.spec,
			first: calculation.axisOf(block).first,
			dimensions: spec.dimensions,
			rows: spec.rows,
			lines: new Map()
		};
		found.set(block, have);
		if (have.lines.has(line)) return;
		const { additive = true, overTime = 'sum', units } = spec.lines.find((l) => l.code === line) ?? {};
		have.lines.set(line, {
			additive,
			overTime,
			matrix: calculation.matrix(block, line),
			units: units ? (overTime === 'last' ? 'closing' : 'average') : null
		});
		if (typeof overTime === 'object' && 'weight' in overTime) take(block, overTime.weight);
		else if (typeof overTime === 'object')
			walk(overTime.expr, (e) => {
				if (e.kind === 'reference' && e.block === null) take(block, e.line);
			});
	};
	for (const { block, line } of wanted) take(block, line);
	return found;
}

/**
 * Such lines as blocks of given values, as far as our periods go.
 * @param periods those of a calendar
 */
export function givenBlocks(
	lines: CalculatedLines,
	structure: Structure,
	exchange: Exchange,
	periods: (calendar: AnyCalendarSpec) => Axis
): BlockSpec[] {
	return [...lines].map(([id, { calendar, first, dimensions, rows, lines }]) => ({
		id,
		axis: periods(calendar),
		dimensions,
		rows,
		lines: [...lines].map(([code, { additive, overTime, matrix, units }]) => ({
			code,
			additive,
			overTime,
			units: units && departmentUnits(structure, exchange, departmentsOf({ dimensions, rows }), units),
			seed: moved(matrix, first, periods(calendar))
		}))
	}));
}

const departmentsOf = ({ dimensions, rows }: Pick<BlockSpec, 'dimensions' | 'rows'>): string[] => {
	const place = dimensions.indexOf('department');
	return rows.map((row) => row[place]);
};

/** Values on another axis; blank where there are none. Errors stay errors. */
function moved(source: Matrix, first: Period, axis: Axis): Matrix {
	if (source.timeless || (first === axis.first && source.periods === axis.length)) return { ...source };
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
