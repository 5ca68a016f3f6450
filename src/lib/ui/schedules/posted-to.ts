/** The account to which a figure of a schedule is posted. */
import { rowValue } from '../../core/blocks/schedule/row-changes';
import {
	departmentColumn,
	type ScheduleDefinition,
	type ScheduleRow
} from '../../core/blocks/schedule/schema';
import type { FigureRef } from '../../core/explain/trace';
import type { ScheduleViewRow } from '../../core/views/schedule-view';

/** @returns null where the line is not posted; of a divided row that of its own department */
export function postedTo(
	definition: ScheduleDefinition,
	{ line, target }: Pick<ScheduleViewRow, 'line' | 'target'>,
	row: ScheduleRow | undefined,
	{ period }: Extract<FigureRef, { kind: 'line' }>
): FigureRef | null {
	const posting = definition.postings.find((p) => p.line === line);
	if (!posting || !row || !target) return null;
	const account = 'code' in posting.account ? posting.account.code : rowValue(row, posting.account.column);
	const own = departmentColumn(definition);
	const part = target.row.split('|')[1];
	const department = own ? (part ?? rowValue(row, own.code)) : posting.department;
	if (typeof account !== 'string' || typeof department !== 'string') return null;
	return { kind: 'account', account, department, from: period, to: period };
}
