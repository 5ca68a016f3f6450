/**
 * `account(column)` in a schedule's formulas: the account that stands in a column of the row, in the row's own department;
 * of all departments together where rows have none.
 */
import type { LineSpec, RuleSpec } from '../../engine/spec';
import { walk, type Expr } from '../../formula/ast';
import { parseFormula } from '../../formula/parse';
import { call, ref, text, withParts } from '../../formula/make';
import { departmentColumn, sharesCode, type ScenarioSchedule, type ScheduleDefinition } from './schema';
import { codeIn } from './shape';

/** The line that holds it: of the block by departments where rows have one, for it is by departments that accounts are kept. */
export const namedLine = (column: string) => `account:${column}`;

const columnOf = (e: Expr): string | null => {
	const [first] = e.kind === 'call' && e.name === 'account' ? e.args : [];
	return first?.kind === 'reference' && first.block === null ? first.line : null;
};

/** Columns whose accounts are read so. */
export function columnsNamed({ lines }: Pick<ScheduleDefinition, 'lines'>): string[] {
	const found = new Set<string>();
	for (const { formula } of lines) {
		const { expr } = formula?.includes('account') ? parseFormula(formula) : { expr: null };
		if (expr)
			walk(expr, (e) => {
				const column = columnOf(e);
				if (column !== null) found.add(column);
			});
	}
	return [...found];
}

/** A formula in which these are read from the lines that hold them. */
export function readNamed(definition: ScheduleDefinition, expr: Expr): Expr {
	const column = columnOf(expr);
	if (column !== null) {
		const block = departmentColumn(definition) ? sharesCode(definition.code) : null;
		return ref(namedLine(column), block);
	}
	return withParts(expr, (e) => readNamed(definition, e));
}

/**
 * The lines that hold what the columns name.
 * @param rowAt by place in the block the place of the row, −1 where it counts in a department that is not its own
 */
export function namedLines(
	{ definition, rows }: ScenarioSchedule,
	places: number,
	rowAt: (place: number) => number
): LineSpec[] {
	return columnsNamed(definition).map((column): LineSpec => {
		const of = new Map<string, number[]>();
		for (let place = 0; place < places; place++) {
			const account = rowAt(place) < 0 ? '' : codeIn(rows[rowAt(place)], column);
			if (account === '') continue;
			const list = of.get(account);
			if (list) list.push(place);
			else of.set(account, [place]);
		}
		const rules = [...of].map(([account, at]): RuleSpec => ({
			rows: at,
			expr: call('account', text(account))
		}));
		return { code: namedLine(column), additive: true, overTime: 'sum', rules };
	});
}
