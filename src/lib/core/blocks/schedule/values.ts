/** Whether a value may stand in a column, whatever else its row holds. */
import { fromIsoDate } from '../../calendar/dates';
import type { Account, Department, Dimension } from '../../company/schema';
import type { Tree } from '../../company/tree';
import { textFault } from '../../text';
import type { ColumnValue, ScheduleColumn } from './schema';

export interface ValueSources {
	accounts: Tree<Account>;
	departments: Tree<Department>;
	dimensions: readonly Dimension[];
}

/** Why it may not, as a clause that follows what stands there; null where it may. */
export function valueFault(
	column: ScheduleColumn,
	value: ColumnValue,
	{ accounts, departments, dimensions }: ValueSources
): string | null {
	switch (column.kind) {
		case 'number':
		case 'money':
		case 'percent':
			return typeof value === 'number' ? null : `“${value}” is no number`;
		case 'yes-no':
			return typeof value === 'boolean' ? null : `“${value}” is neither yes nor no`;
	}
	if (typeof value !== 'string') return `“${value}” is no text`;
	switch (column.kind) {
		case 'date':
			return fromIsoDate(value) === null ? `“${value}” is no date such as 2027-01-31` : null;
		case 'pick':
			return column.choices?.includes(value) ? null : `“${value}” is none of ${column.choices?.join(', ')}`;
		case 'account':
			if (!accounts.get(value)) return `there is no account “${value}”`;
			return accounts.isLeaf(value) ? null : `“${value}” is a total of the accounts under it`;
		case 'department':
			if (!departments.get(value)) return `there is no department “${value}”`;
			return departments.isLeaf(value) ? null : `“${value}” is a total of the departments under it`;
		case 'member': {
			const own = dimensions.find((d) => d.code === column.dimension);
			if (!own?.members.some((m) => m.code === value))
				return `there is no ${own?.name.toLowerCase() ?? 'member'} “${value}”`;
			return own.members.some((m) => m.parent === value) ? `“${value}” is a total of others` : null;
		}
		default:
			return textFault(value, column.kind === 'text');
	}
}
