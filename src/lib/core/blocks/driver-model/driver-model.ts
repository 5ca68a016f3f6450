/** A driver model as a block. */
import type { Calendar } from '../../calendar/calendar';
import { periodNamed } from '../../calendar/onto';
import { treeOf, type Structure } from '../../company/structure';
import { rowKey } from '../../engine/row-key';
import { print } from '../../formula/ast';
import type { Block } from '../block';
import { adjustedTyped, adoptingTyped, typedStepFault } from '../typed-line';
import { compileModel, coordinatesOf } from './compile';
import { lineCurrency, modelNames } from './names';
import { modelCalendar } from './periods';
import { modelPostings } from './postings';
import { rowName } from './rows';
import type { ScenarioModel, ScopedFormula } from './schema';
import { takesTyping } from './scope';

export function driverModelBlock(model: ScenarioModel, structure: Structure): Block {
	const { definition } = model;
	const { code, name, dimensions } = definition;
	const calendar = modelCalendar(definition, structure.calendar);
	const rows = coordinatesOf(model);
	const lineOf = (line: string) => definition.lines.find((l) => l.code === line);
	let places: Map<string, number> | null = null;
	const rowAt = (row: string) =>
		(places ??= new Map(rows.map((r, i) => [rowKey(r), i] as const))).get(row) ?? -1;
	return {
		code,
		kind: 'driver-model',
		name,
		told: true,
		has: `the model “${name}” has`,
		calendar,
		dimensions,
		rows,
		line(line) {
			const own = lineOf(line);
			if (!own) return undefined;
			const { label, format, extend, rollup } = own;
			// What is recomputed in totals is a price or a rate, where it is typed.
			return { label, format, extend, overTime: rollup.time === 'formula' ? 'average' : rollup.time };
		},
		rowAt,
		idOf: (row) => rowKey(rows[row]),
		rowName: (row) => rowName(structure, definition, row),
		missing: (line, row) =>
			!lineOf(line) ? `The line “${line}” of ${name}` : rowAt(row) < 0 ? `The row “${row}” of ${name}` : null,
		currencyOf(line) {
			const own = lineOf(line);
			return own ? lineCurrency(own, structure.money) : null;
		},
		names: () => modelNames(definition, structure.money),
		adjustable: () => definition.lines.filter((l) => l.formula === undefined),
		traits: [],
		adjustmentFault(line, step) {
			const own = lineOf(line);
			if (!own) return `there is no line “${code}.${line}”`;
			return takesTyping(own)
				? typedStepFault(step)
				: `${code}.${line} is computed; an adjustment changes what is typed. Adjust what it is computed from`;
		},
		typingFaults(line, row) {
			const own = lineOf(line);
			if (!own) return [{ column: 'line', message: `there is no line “${line}” in a model “${code}”` }];
			return [
				...(takesTyping(own)
					? []
					: [{ column: 'line' as const, message: `“${line}” is calculated and takes no values` }]),
				...(rowAt(row) >= 0
					? []
					: [{ column: 'row' as const, message: `“${row}” is no row of the model “${code}”` }])
			];
		},
		typedLine: (line) => line,
		inflows: () => modelPostings(model, structure),
		compile: (parts) => compileModel(model, structure, parts),
		adjusted: adjustedTyped,
		typedOverAdjusted: false,
		adopting: (without, with_, line) => adoptingTyped(without, with_, code, line),
		madeOf({ calculation }, line, row, period) {
			const own = lineOf(line)!;
			const open = calculation.openOf(code);
			const rule = calculation.ruleAt(code, line, row, period);
			if (!rule) {
				if (calculation.cell(code, line, row, period) === null) return { kind: 'nothing' };
				return { kind: own.closed === 'actuals' && period < open ? 'derived' : 'input' };
			}
			const scope = own.scoped?.[rule.rule];
			const past = period < open ? own.actual : undefined;
			return {
				kind: 'formula',
				formula: scope?.formula ?? past ?? own.formula ?? print(rule.expr),
				scope: scope ? scopeName(scope, structure, calendar) : '',
				expr: rule.expr
			};
		}
	};
}

/** "Kayaks, from Oct 26". */
function scopeName({ where, from, to }: ScopedFormula, structure: Structure, calendar: Calendar): string {
	const label = (key: string) => labelled(calendar, key);
	const parts = Object.entries(where).map(
		([dimension, member]) => treeOf(structure, dimension)?.get(member)?.name ?? member
	);
	if (from !== undefined) parts.push(`from ${label(from)}`);
	if (to !== undefined) parts.push(`to ${label(to)}`);
	return parts.join(', ');
}

function labelled(calendar: Calendar, key: string): string {
	const period = periodNamed(calendar, key);
	return period === null ? key : calendar.label(period);
}
