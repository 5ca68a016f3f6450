/** The account to which a figure of a schedule is posted. */
import { rowValue } from '../../core/blocks/schedule/row-changes';
import {
	departmentColumn,
	type ScheduleDefinition,
	type ScheduleRow,
	type ScheduleTarget
} from '../../core/blocks/schedule/schema';
import { namingColumn } from '../../core/blocks/schedule/postings';
import { ownValue } from '../../core/text';
import type { FigureRef } from '../../core/explain/trace';
import type { ScheduleViewRow } from '../../core/views/schedule-view';

/** By attribute, and by member, the account that it names. */
type AccountsBy = Readonly<Record<string, Readonly<Record<string, string>>>>;

/** @returns null where the line is not posted; of a divided row that of its own department */
export function postedTo(
	{ definition, accountsBy }: { definition: ScheduleDefinition; accountsBy: AccountsBy },
	{ line, target }: Pick<ScheduleViewRow, 'line' | 'target'>,
	row: ScheduleRow | undefined,
	{ period }: Extract<FigureRef, { kind: 'line' }>
): FigureRef | null {
	const posting = definition.postings.find((p) => p.line === line);
	if (!posting || !row || !target) return null;
	const account = accountOf(definition, posting.account, row, accountsBy);
	const own = departmentColumn(definition);
	const part = target.row.split('|')[1];
	const department = own ? (part ?? rowValue(row, own.code)) : posting.department;
	if (typeof account !== 'string' || typeof department !== 'string') return null;
	return { kind: 'account', account, department, from: period, to: period };
}

function accountOf(
	definition: ScheduleDefinition,
	target: ScheduleTarget,
	row: ScheduleRow,
	accountsBy: AccountsBy
) {
	if ('code' in target) return target.code;
	if ('column' in target) return rowValue(row, target.column);
	const column = namingColumn(definition, target);
	const member = column && rowValue(row, column);
	return typeof member === 'string' ? ownValue(accountsBy[target.attribute] ?? {}, member) : undefined;
}
