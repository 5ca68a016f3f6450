/** Which lines of models post to which accounts and departments. */
import { ModelError } from '../../engine/spec';
import { attributeOf } from '../../company/attributes';
import type { ModelDefinition, Posting, ScenarioModel } from './schema';
import type { Inflow } from '../block';
import { coordinatesOf } from './compile';
import { isUnder } from './rows';
import type { Structure } from '../../company/structure';
import { LOCAL } from '../../formula/units';
import { lineCurrency } from './names';

/** For each account the model lines that post to it, with their rows by department. */
export function collectPostings(
	models: readonly ScenarioModel[],
	structure: Structure
): Map<string, Inflow[]> {
	const found = new Map<string, Inflow[]>();
	for (const model of models) {
		const { definition } = model;
		const coordinates = coordinatesOf(model);
		const byLine = new Map<string, Inflow>();
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
						block: definition.code,
						line,
						rowsOf: new Map(),
						index: new Int32Array(coordinates.length).fill(-1),
						currencies: currenciesOf(definition, line, coordinates, structure),
						sign: 1,
						as: 'flow'
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

/** The currency of each row of a line; null where it holds no money. */
function currenciesOf(
	{ dimensions, lines }: ModelDefinition,
	code: string,
	coordinates: readonly (readonly string[])[],
	{ money, departmentRow, rowCurrency }: Structure
): (string | null)[] | null {
	const line = lines.find((l) => l.code === code);
	const currency = line ? lineCurrency(line, money) : null;
	if (currency === null) return null;
	const place = dimensions.indexOf('department');
	return coordinates.map((row) =>
		currency === LOCAL ? (rowCurrency[departmentRow.get(row[place]) ?? -1] ?? null) : currency
	);
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
