/** Which lines of models post to which accounts and departments. */
import { ModelError } from '../../engine/spec';
import { attributeOf } from '../../company/attributes';
import type { ModelDefinition, Posting, ScenarioModel } from './schema';
import type { Inflow } from '../block';
import { madeOnce } from '../made-once';
import { coordinatesOf } from './compile';
import { isUnder } from './rows';
import type { Structure } from '../../company/structure';
import { LOCAL } from '../../formula/units';
import { lineCurrency } from './names';

/** For each account the lines of a model that post to it, with their rows by department. */
export const modelPostings = madeOnce((model: ScenarioModel, structure: Structure) => {
	const found = new Map<string, Inflow[]>();
	const { definition } = model;
	const coordinates = coordinatesOf(model);
	const byLine = new Map<string, Inflow>();
	for (const [line, targetOf] of postingTargets(definition, structure)) {
		coordinates.forEach((coordinate, row) => {
			const target = targetOf(coordinate);
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
	return found;
});

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
 * Where a row posts to, by the line that posts: as the first posting that fits the row says; null where none does.
 * @throws ModelError, when asked, where that leads to no account or department that takes figures
 */
export function postingTargets(
	definition: ModelDefinition,
	structure: Structure
): Map<string, (coordinate: readonly string[]) => { account: string; department: string } | null> {
	const { dimensions, postings } = definition;
	/** Members have the same however many rows name them. */
	const attributes = new Map<string, string>();
	const valueOf = (path: string, coordinate: readonly string[]): string => {
		const [dimension, attribute] = path.split('.');
		const member = coordinate[dimensions.indexOf(dimension)];
		if (attribute === 'code' || member === undefined) return member ?? '';
		const key = `${path}\u0000${member}`;
		const have =
			attributes.get(key) ??
			attributeOf(structure.dimensions.get(dimension)?.members, member, attribute) ??
			'';
		attributes.set(key, have);
		return have;
	};
	const pick = (target: Posting['account'], coordinate: readonly string[]): string =>
		'code' in target ? target.code : valueOf(target.attribute, coordinate);
	const targetBy = (rules: readonly Posting[]) => (coordinate: readonly string[]) => {
		const rule = rules.find((p) => isUnder(p.where, definition, coordinate, structure));
		if (!rule) return null;
		const account = pick(rule.account, coordinate);
		const department = pick(rule.department, coordinate);
		const fail = (where: string, what: string) => {
			const from = coordinate.join(', ') || 'this line';
			throw new ModelError(
				definition.code,
				rule.line,
				`The posting of ${from} leads to “${where}”, which is no ${what} that takes figures.`
			);
		};
		if (!structure.accounts.get(account) || !structure.accounts.isLeaf(account)) fail(account, 'account');
		if (!structure.departmentRow.has(department)) fail(department, 'department');
		return { account, department };
	};
	const lines = new Set(postings.map((p) => p.line));
	return new Map([...lines].map((line) => [line, targetBy(postings.filter((p) => p.line === line))]));
}
