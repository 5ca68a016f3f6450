/** What must hold of the rows of a schedule. */
import { postingFault } from '../../company/chart';
import type { Structure } from '../../company/structure';
import { isNoKey, textFault } from '../../text';
import { columnNumber } from './columns';
import { limitsOf, type Limit } from './limits';
import { departmentColumn, type ScheduleColumn, type ScheduleDefinition, type ScheduleRow } from './schema';
import { namingColumn, sameSides, targetOf, targetsOf } from './postings';
import { codeIn } from './shape';
import { valueFault } from './values';

/** Most rows of one schedule in one scenario. */
export const MOST_ROWS = 20_000;
const MOST_ID = 64;
const MOST_SHARES = 50;

export interface ScheduleRowFault {
	/** Place of the row in the list. */
	row: number;
	/** The column that is wrong; null where it is the row as a whole. */
	column: string | null;
	message: string;
}

/**
 * Everything that is wrong with rows: identifiers that stand twice, what is missing, of another kind, beyond its limits or
 * gone, shares in departments that count in another currency.
 * @param ids identifiers in other schedules, which columns may name
 */
export function scheduleRowFaults(
	definition: ScheduleDefinition,
	rows: readonly ScheduleRow[],
	structure: Structure,
	ids: ReadonlyMap<string, ReadonlySet<string>>
): ScheduleRowFault[] {
	const faults: ScheduleRowFault[] = [];
	const sources = {
		accounts: structure.accounts,
		departments: structure.departments,
		dimensions: [...structure.dimensions.values()].map((d) => d.dimension)
	};
	const columns = new Map(definition.columns.map((c) => [c.code, c]));
	const byMember = targetsOf(definition).filter((target) => 'attribute' in target);
	const limited = definition.columns.map((column) => ({ column, limits: limitsOf(definition, column) }));
	const seen = new Map<string, number>();
	rows.forEach((row, at) => {
		const say = (column: string | null, message: string) => faults.push({ row: at, column, message });
		const idFault = identifierFault(row.id);
		if (idFault) say('id', idFault);
		const earlier = seen.get(row.id);
		if (earlier !== undefined) say('id', `“${row.id}” stands twice`);
		seen.set(row.id, at);
		for (const code of Object.keys(row.values))
			if (!columns.has(code)) say(code, `there is no column “${code}”`);
		for (const { column, limits } of limited) {
			const value = row.values[column.code];
			if (column.formula !== undefined) {
				if (value !== undefined) say(column.code, `“${column.label}” is worked out and takes no value`);
				continue;
			}
			if (value === undefined || value === '') {
				if (column.required) say(column.code, `“${column.label}” is missing`);
				continue;
			}
			const fault =
				valueFault(column, value, sources) ??
				(column.kind === 'row' && !ids.get(column.schedule!)?.has(value as string)
					? `there is no “${value}” in ${column.schedule}`
					: null) ??
				limitFault(column, limits, row);
			if (fault) say(column.code, fault);
		}
		for (const target of byMember) {
			const column = namingColumn(definition, target);
			const member = column === undefined ? '' : codeIn(row, column);
			if (member === '') continue;
			const account = targetOf(definition, target, row, structure);
			const attribute = target.attribute.split('.')[1];
			const fault = postingFault(structure.accounts, account);
			if (account === '') say(column!, `“${member}” has no “${attribute}”, to which it is posted`);
			else if (fault) say(column!, `the “${attribute}” of “${member}”: ${fault}`);
		}
		const twice = sameSides(definition, row, structure);
		if (twice !== null)
			say(twice, 'an amount is posted to this account and, as its other side, to the same one');
		for (const fault of sharesFaults(definition, row, structure)) say('shares', fault);
	});
	return faults;
}

/** Why a text cannot be a row's identifier; null where it can. */
export function identifierFault(id: string): string | null {
	if (id.trim() === '') return 'an identifier is missing';
	if (id.length > MOST_ID) return `“${id.slice(0, 20)}…” is longer than ${MOST_ID} characters`;
	if (id !== id.trim() || /[|;/]/.test(id) || isNoKey(id))
		return `“${id}” is no identifier: without blanks around it, “|”, “;” and “/”`;
	return textFault(id);
}

function limitFault(
	column: ScheduleColumn,
	{ least, most }: { least: Limit | null; most: Limit | null },
	row: ScheduleRow
): string | null {
	if (!least && !most) return null;
	const value = columnNumber(column.kind, row.values[column.code]);
	const of = (limit: Limit | null): { value: number; words: string } | null => {
		if (!limit || 'value' in limit) return limit;
		const other = columnNumber(limit.column.kind, row.values[limit.column.code]);
		return other === null ? null : { value: other, words: `“${limit.column.label}”` };
	};
	const [low, high] = [of(least), of(most)];
	const early = column.kind === 'date';
	if (value === null) return null;
	if (low && value < low.value) return `“${column.label}” is ${early ? 'before' : 'below'} ${low.words}`;
	if (high && value > high.value) return `“${column.label}” is ${early ? 'after' : 'above'} ${high.words}`;
	return null;
}

function sharesFaults(definition: ScheduleDefinition, row: ScheduleRow, structure: Structure): string[] {
	const shares = row.shares ?? [];
	if (!shares.length) return [];
	const column = departmentColumn(definition);
	if (!definition.divided || !column) return [`rows of ${definition.name} are not divided over departments`];
	const own = codeIn(row, column.code);
	const currency = (code: string) => structure.rowCurrency[structure.departmentRow.get(code) ?? -1];
	const faults: string[] = [];
	if (shares.length > MOST_SHARES) faults.push(`a row is divided over at most ${MOST_SHARES} departments`);
	for (const [i, code] of shares.entries()) {
		if (!structure.departmentRow.has(code)) faults.push(`“${code}” is no department that takes figures`);
		else if (code === own || shares.indexOf(code) !== i) faults.push(`“${code}” stands twice`);
		else if (own && currency(code) !== currency(own))
			faults.push(
				`“${code}” plans in ${currency(code)} and “${own}” in ${currency(own)}; a row is divided within one currency`
			);
	}
	return faults;
}
