/** Which rows of schedules are there for somebody: all of them, or those that count in departments which they read. */
import type { Block } from '../../core/blocks/block';
import { ownerOf } from '../../core/blocks/schedule/personal';
import type { ScenarioSchedule, ScheduleDefinition, ScheduleRow } from '../../core/blocks/schedule/schema';
import { departmentsOf } from '../../core/blocks/schedule/shape';
import type { Structure } from '../../core/company/structure';
import { coversAll, may, mayRead } from '../platform/auth/policy';
import type { User } from '../platform/auth/sessions';
import { Refusal } from '../platform/refusal';

type Departments = Pick<Structure, 'departments'>;

export const seesAllRows = (user: User, { departments }: Departments): boolean =>
	may(user, 'see schedules', departments) || coversAll(user, departments);

const readsOne = (user: User, { departments }: Departments, codes: readonly string[]): boolean =>
	codes.some((d) => departments.get(d) !== undefined && mayRead(user, d, departments));

/** Whether a row counts in a department that the user reads. */
export const seesRow = (
	user: User,
	structure: Departments,
	definition: ScheduleDefinition,
	row: ScheduleRow
): boolean => readsOne(user, structure, departmentsOf(definition, row));

/**
 * In which other departments a row counts is told to who reads there, so where it stands is opened by who sees all rows.
 * @throws Refusal 403
 */
export function mustReadColumn(
	user: User,
	structure: Departments,
	{ columns }: ScheduleDefinition,
	line: string
): void {
	if (columns.find((c) => c.code === line)?.kind === 'department' && !seesAllRows(user, structure))
		throw new Refusal(403, 'Where rows stand is looked into by those who see all of them.');
}

/**
 * @param block of the schedule: its rows as they are, or as they count in departments
 * @throws Refusal 403 for a row, or a part of one, that counts in no department that the user reads
 */
export function mustReadRow(
	user: User,
	structure: Departments,
	{ definition, rows }: ScenarioSchedule,
	block: Block,
	row: string
): void {
	if (seesAllRows(user, structure)) return;
	const at = block.rowAt(row);
	const counts =
		at < 0
			? []
			: block.code === ownerOf(block.code)
				? departmentsOf(definition, rows[at])
				: [block.rows[at].at(-1) ?? ''];
	if (!readsOne(user, structure, counts))
		throw new Refusal(403, `This row of ${definition.name} counts in no department that you read.`);
}
