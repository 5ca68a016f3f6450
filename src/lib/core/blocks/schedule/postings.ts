/** Which lines of a schedule post to which accounts and departments. */
import { attributeOf } from '../../company/attributes';
import type { Account } from '../../company/schema';
import { isBalance, naturalFromDebit } from '../../company/sign';
import type { Structure } from '../../company/structure';
import { ModelError } from '../../engine/spec';
import { currencyOfUnit, LOCAL } from '../../formula/units';
import type { Inflow, InflowKind } from '../block';
import { madeOnce } from '../made-once';
import { lineQuantity } from './columns';
import {
	departmentColumn,
	sharesCode,
	type ScenarioSchedule,
	type ScheduleDefinition,
	type ScheduleRow,
	type ScheduleTarget
} from './schema';
import { codeIn, columnOfAttribute, sharesShape } from './shape';

/**
 * By account: rows by department where rows have one, else as they are, to the department that the posting names. Each
 * posting is met on both its accounts, where it names the other one.
 * @throws ModelError where a posting leads to no account or department that takes figures
 */
export const schedulePostings = madeOnce((schedule: ScenarioSchedule, structure: Structure) => {
	const { definition, rows } = schedule;
	const { accounts, rowCurrency, departmentRow, money } = structure;
	const placed = departmentColumn(definition) !== undefined;
	const shares = placed ? sharesShape(schedule) : null;
	const block = placed ? sharesCode(definition.code) : definition.code;
	const of = shares ? shares.of : rows.map((_, r) => r);
	const found = new Map<string, Inflow[]>();
	for (const posting of definition.postings) {
		const line = definition.lines.find((l) => l.code === posting.line);
		const currency = line ? currencyOfUnit(lineQuantity(definition, line, money)) : null;
		const currencies =
			currency === null
				? null
				: of.map((_, j) =>
						currency === LOCAL ? rowCurrency[departmentRow.get(shares!.rows[j].at(-1)!)!] : currency
					);
		const own = new Map<string, Inflow>();
		of.forEach((r, i) => {
			const department = shares ? shares.rows[i].at(-1)! : (posting.department ?? '');
			const at = `The posting of “${rows[r].id}” leads to`;
			const fail = (message: string) => {
				throw new ModelError(definition.code, posting.line, message);
			};
			const named = (code: string): Account => {
				const account = accounts.get(code);
				if (!account || !accounts.isLeaf(code))
					return fail(`${at} “${code}”, which is no account that takes figures.`)!;
				return account;
			};
			const account = named(targetOf(definition, posting.account, rows[r], structure));
			const other = posting.other && named(targetOf(definition, posting.other, rows[r], structure));
			const place = departmentRow.get(department);
			if (place === undefined)
				return fail(`${at} “${department}”, which is no department that takes figures.`);
			if (other?.code === account.code)
				return fail(`${at} “${account.name}” on both sides. The other side is another account.`);
			for (const side of sides(account, other, posting.lowers ?? false, line?.time === 'last')) {
				const key = `${side.account}\u0000${side.as}\u0000${side.sign}`;
				let inflow = own.get(key);
				if (!inflow) {
					inflow = {
						block,
						line: posting.line,
						rowsOf: new Map(),
						index: new Int32Array(of.length).fill(-1),
						currencies,
						sign: side.sign,
						as: side.as
					};
					own.set(key, inflow);
					const list = found.get(side.account);
					if (list) list.push(inflow);
					else found.set(side.account, [inflow]);
				}
				inflow.index[i] = place;
				const list = inflow.rowsOf.get(department);
				if (list) list.push(i);
				else inflow.rowsOf.set(department, [i]);
			}
		});
	}
	return found;
});

/** What an amount does on its account, and on the other: debits and credits are equal. */
function sides(
	account: Account,
	other: Account | undefined,
	lowers: boolean,
	last: boolean
): { account: string; sign: 1 | -1; as: InflowKind }[] {
	const sign = lowers ? -1 : 1;
	const stands = last && isBalance(account.type);
	const own = { account: account.code, sign, as: stands ? 'standing' : 'flow' } as const;
	if (!other) return [own];
	const debit = sign * naturalFromDebit(account.type);
	const opposite = -debit * naturalFromDebit(other.type) > 0 ? 1 : -1;
	return [own, { account: other.code, sign: opposite, as: stands ? 'change' : 'flow' }];
}

/** The account to which a posting of a row leads; empty where the row, or the member that it names, says none. */
export function targetOf(
	definition: ScheduleDefinition,
	target: ScheduleTarget,
	row: ScheduleRow,
	{ dimensions }: Pick<Structure, 'dimensions'>
): string {
	if ('code' in target) return target.code;
	if ('column' in target) return codeIn(row, target.column);
	const [dimension, attribute] = target.attribute.split('.');
	const column = columnOfAttribute(definition, target.attribute);
	const member = column ? codeIn(row, column.code) : '';
	return attributeOf(dimensions.get(dimension)?.members, member, attribute) ?? '';
}

/** Where a definition's amounts go, each once. */
export const targetsOf = ({ postings }: Pick<ScheduleDefinition, 'postings'>): ScheduleTarget[] => [
	...new Map(
		postings.flatMap(({ account, other }) =>
			[account, ...(other ? [other] : [])].map((to) => [JSON.stringify(to), to] as const)
		)
	).values()
];

/** The column of a row that says where a posting leads; undefined where that is fixed. */
export function namingColumn(definition: ScheduleDefinition, target: ScheduleTarget): string | undefined {
	if ('code' in target) return undefined;
	return 'column' in target ? target.column : columnOfAttribute(definition, target.attribute)?.code;
}

/** The column by which an amount of a row would be posted to one account on both sides; null where none is. */
export function sameSides(
	definition: ScheduleDefinition,
	row: ScheduleRow,
	structure: Pick<Structure, 'dimensions'>
): string | null {
	for (const { account, other } of definition.postings) {
		const [a, b] = [account, other].map((to) => (to ? targetOf(definition, to, row, structure) : ''));
		if (a !== '' && a === b)
			return namingColumn(definition, other!) ?? namingColumn(definition, account) ?? null;
	}
	return null;
}

/** Accounts and departments to which rows are posted, as `account\u0000department`; whether these take figures is not asked. */
export function placesPosted(schedule: ScenarioSchedule, structure: Structure): Set<string> {
	const { definition, rows } = schedule;
	const shares = departmentColumn(definition) === undefined ? null : sharesShape(schedule);
	const found = new Set<string>();
	for (const posting of definition.postings)
		(shares ? shares.of : rows.map((_, r) => r)).forEach((r, i) => {
			const department = shares ? shares.rows[i].at(-1)! : (posting.department ?? '');
			if (!structure.departmentRow.has(department)) return;
			for (const to of [posting.account, ...(posting.other ? [posting.other] : [])])
				found.add(`${targetOf(definition, to, rows[r], structure)}\u0000${department}`);
		});
	return found;
}
