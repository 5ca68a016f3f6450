/** What must hold of a schedule's definition before anything is calculated with it. */
import { postingFault } from '../../company/chart';
import { isMoney } from '../../currency/rates';
import { attributesOf } from '../../company/attributes';
import { RESERVED_CODES } from '../../company/code';
import { partsOf, type Expr } from '../../formula/ast';
import { FUNCTIONS, type FunctionGroup } from '../../formula/functions';
import { checkFormula, NONE, type BlockNames } from '../../formula/check';
import { parseFormula } from '../../formula/parse';
import type { DefinitionFault, DefinitionSources } from '../definition';
import { namesAmong } from '../names';
import { columnQuantity, lineQuantity } from './columns';
import { limitsOf } from './limits';
import { columnOfAttribute } from './shape';
import { personalIn, PLACING } from './personal';
import { scheduleNames } from './names';
import { DIVIDED, IDENTIFIER } from './row-changes';
import {
	departmentColumn,
	SHARE,
	SHARE_IN_FORCE,
	sharesCode,
	type ScheduleColumn,
	type ScheduleDefinition
} from './schema';
import { valueFault } from './values';

const LIMITED: readonly ScheduleColumn['kind'][] = ['number', 'money', 'percent', 'date'];
/** What its dimension's places are called by cannot be a line's name, nor what files have beside its columns. */
const TAKEN = new Set([SHARE, SHARE_IN_FORCE, NONE, IDENTIFIER, DIVIDED]);

/**
 * @param others all other blocks that its formulas may read
 * @returns where in the definition (`lines.pay.formula`), and for formulas where in the text
 */
export function scheduleFaults(
	definition: ScheduleDefinition,
	others: readonly BlockNames[],
	sources: DefinitionSources
): DefinitionFault[] {
	const faults: DefinitionFault[] = [];
	const expect = (good: boolean, column: string, message: string) => {
		if (!good) faults.push({ column, message });
	};
	const { code, columns, lines, postings, divided } = definition;
	const dimensions = new Map(sources.dimensions.map((d) => [d.code, d]));
	const columnOf = new Map(columns.map((c) => [c.code, c]));
	const lineOf = new Map(lines.map((l) => [l.code, l]));
	const names = namesAmong(scheduleNames(definition, sources.money), others, sources);
	const formula = (text: string, at: string, quantity: Parameters<typeof checkFormula>[2]) => {
		for (const e of checkFormula(text, names, quantity).errors)
			faults.push({ column: at, message: e.message, span: e.span });
	};
	const another = (name: string) =>
		RESERVED_CODES.has(name) || dimensions.has(name) || others.some((o) => o.code === name);
	expect(
		!another(code) && !another(sharesCode(code)) && !code.endsWith(sharesCode('')),
		'code',
		`“${code}” has another meaning; call the schedule something else`
	);
	const seen = new Set<string>();
	for (const [at, own] of [
		...columns.map((c) => [`columns.${c.code}`, c.code] as const),
		...lines.map((l) => [`lines.${l.code}`, l.code] as const)
	]) {
		expect(!seen.has(own), at, 'it stands twice');
		expect(!TAKEN.has(own), at, `“${own}” has another meaning`);
		seen.add(own);
	}
	for (const column of columns) {
		const at = `columns.${column.code}`;
		const { kind } = column;
		expect(
			kind !== 'pick' || !!column.choices?.length,
			`${at}.choices`,
			'a pick-list needs what to pick from'
		);
		expect(
			!column.choices || new Set(column.choices).size === column.choices.length,
			`${at}.choices`,
			'a choice stands twice'
		);
		expect(
			kind !== 'member' || (column.dimension !== undefined && dimensions.has(column.dimension)),
			`${at}.dimension`,
			`there is no dimension “${column.dimension ?? ''}”`
		);
		expect(
			kind !== 'row' || (column.schedule !== code && others.some((o) => o.code === column.schedule)),
			`${at}.schedule`,
			`there is no other schedule “${column.schedule ?? ''}”`
		);
		for (const end of ['least', 'most'] as const) {
			if (column[end] === undefined) continue;
			expect(LIMITED.includes(kind), `${at}.${end}`, 'only numbers and dates have limits');
			const limit = limitsOf(definition, column)[end];
			expect(
				limit !== null,
				`${at}.${end}`,
				`“${column[end]}” is neither such a value nor a column of that kind`
			);
		}
		if (column.default !== undefined) {
			const fault = valueFault(column, column.default, sources);
			expect(fault === null, `${at}.default`, fault ?? '');
		}
		if (column.formula === undefined) continue;
		expect(!column.required && column.default === undefined, at, 'what is worked out is not typed in');
		formula(column.formula, `${at}.formula`, columnQuantity(definition, column, sources.money));
		const { expr } = parseFormula(column.formula);
		if (expr)
			for (const span of changingIn(expr, columnOf, dimensions))
				faults.push({
					column: `${at}.formula`,
					message:
						'A column is the same in all months: it can use columns of its own row, and attributes of members that stand in it.',
					span
				});
	}
	expect(columnOf.has(definition.named), 'named', `there is no column “${definition.named}”`);
	const personal = personalIn([definition]).get(code);
	for (const column of columns)
		if (column.code === definition.named || PLACING.has(column.kind))
			expect(
				!personal?.has(column.code),
				`columns.${column.code}.personal`,
				'by it rows are called or placed, so it cannot be kept from anybody'
			);
	for (const line of lines)
		if (line.formula !== undefined)
			formula(line.formula, `lines.${line.code}.formula`, lineQuantity(definition, line, sources.money));
	const department = departmentColumn(definition);
	expect(
		!divided || department !== undefined,
		'divided',
		'rows are divided over departments; there is no such column'
	);
	expect(
		!department || !postings.length || (department.required && department.formula === undefined),
		`columns.${department?.code}.required`,
		'its lines are posted to the department of a row; so each row has to have one'
	);
	const noMoney = (code: string): string | null => {
		const account = sources.accounts.get(code)!;
		return isMoney(account) ? null : `“${account.name}” holds no money, and has no other side`;
	};
	postings.forEach((posting, i) => {
		const at = `postings.${i + 1}`;
		const line = lineOf.get(posting.line);
		expect(line !== undefined, `${at}.line`, `there is no line “${posting.line}”`);
		expect(line?.adds ?? true, `${at}.line`, `“${posting.line}” does not add up, and cannot be posted`);
		for (const side of ['account', 'other'] as const) {
			const to = posting[side];
			if (!to) continue;
			if ('code' in to) {
				const fault = postingFault(sources.accounts, to.code) ?? (posting.other ? noMoney(to.code) : null);
				expect(fault === null, `${at}.${side}`, fault ?? '');
				continue;
			}
			if ('attribute' in to) {
				const [dimension, attribute] = to.attribute.split('.');
				const column = columnOfAttribute(definition, to.attribute);
				const known = dimensions.get(dimension);
				expect(
					column !== undefined && column.required,
					`${at}.${side}`,
					`there is no column of members of “${dimension}” that each row has to have`
				);
				expect(
					!known || attributesOf(known).includes(attribute),
					`${at}.${side}`,
					`members of “${dimension}” have no attribute “${attribute}”`
				);
				continue;
			}
			const column = columnOf.get(to.column);
			expect(
				column?.kind === 'account' && column.required && column.formula === undefined,
				`${at}.${side}`,
				`“${to.column}” is no column of accounts that each row has to have`
			);
		}
		expect(
			!posting.other || JSON.stringify(posting.other) !== JSON.stringify(posting.account),
			`${at}.other`,
			'the other side is another account'
		);
		if (department) return;
		const own = posting.department;
		expect(
			own !== undefined && sources.departments.get(own) !== undefined && sources.departments.isLeaf(own),
			`${at}.department`,
			own === undefined
				? 'rows have no department of their own: the posting has to say which'
				: `“${own}” is no department that takes figures`
		);
	});
	return faults;
}

/** What in a column's formula would be another in each period; over a whole life it is one figure. */
function changingIn(
	expr: Expr,
	columns: ReadonlyMap<string, unknown>,
	dimensions: ReadonlyMap<string, unknown>,
	life = false
): Expr['span'][] {
	if (expr.kind === 'reference') {
		const { block, line } = expr;
		const steady = block === null ? columns.has(line) : dimensions.has(block);
		return line === NONE || steady ? [] : [expr.span];
	}
	const whole = expr.kind === 'call' && expr.name === 'whole_life';
	if (expr.kind === 'call' && !whole && !life) {
		const { group } = FUNCTIONS.get(expr.name) ?? {};
		if ((group && CHANGING.includes(group)) || expr.name === 'depreciation') return [expr.span];
	}
	return partsOf(expr).flatMap((part) => changingIn(part, columns, dimensions, life || whole));
}
/** Groups of functions that look at the period, at others, or at other rows. */
const CHANGING: readonly FunctionGroup[] = ['time', 'totals', 'schedules', 'references'];
