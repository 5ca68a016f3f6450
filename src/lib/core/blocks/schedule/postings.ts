/** Which lines of a schedule post to which accounts and departments. */
import type { Structure } from '../../company/structure';
import { ModelError } from '../../engine/spec';
import { currencyOfUnit, LOCAL } from '../../formula/units';
import type { Inflow } from '../block';
import { lineQuantity } from './columns';
import { departmentColumn, sharesCode, type ScenarioSchedule, type SchedulePosting } from './schema';
import { codeIn, sharesShape } from './shape';

/**
 * By account: rows by department where rows have one, else as they are, to the department that the posting names.
 * @throws ModelError where a posting leads to no account or department that takes figures
 */
export function schedulePostings(schedule: ScenarioSchedule, structure: Structure): Map<string, Inflow[]> {
	const { definition, rows } = schedule;
	const { rowCurrency, departmentRow, money } = structure;
	const placed = departmentColumn(definition) !== undefined;
	const shares = placed ? sharesShape(schedule) : null;
	const block = placed ? sharesCode(definition.code) : definition.code;
	const of = shares ? shares.of : rows.map((_, r) => r);
	const found = new Map<string, Inflow[]>();
	for (const posting of definition.postings) {
		const line = definition.lines.find((l) => l.code === posting.line);
		const currency = line ? currencyOfUnit(lineQuantity(definition, line, money)) : null;
		const own = new Map<string, Inflow>();
		of.forEach((r, i) => {
			const account = accountOf(posting, schedule, r);
			const department = shares ? shares.rows[i].at(-1)! : (posting.department ?? '');
			const at = `The posting of “${rows[r].id}” leads to`;
			const fail = (message: string) => {
				throw new ModelError(definition.code, posting.line, message);
			};
			if (!structure.accounts.get(account) || !structure.accounts.isLeaf(account))
				fail(`${at} “${account}”, which is no account that takes figures.`);
			const place = departmentRow.get(department);
			if (place === undefined)
				return fail(`${at} “${department}”, which is no department that takes figures.`);
			let inflow = own.get(account);
			if (!inflow) {
				inflow = {
					block,
					line: posting.line,
					rowsOf: new Map(),
					index: new Int32Array(of.length).fill(-1),
					currencies:
						currency === null
							? null
							: of.map((_, j) =>
									currency === LOCAL ? rowCurrency[departmentRow.get(shares!.rows[j].at(-1)!)!] : currency
								)
				};
				own.set(account, inflow);
				const list = found.get(account);
				if (list) list.push(inflow);
				else found.set(account, [inflow]);
			}
			inflow.index[i] = place;
			const list = inflow.rowsOf.get(department);
			if (list) list.push(i);
			else inflow.rowsOf.set(department, [i]);
		});
	}
	return found;
}

const accountOf = ({ account }: SchedulePosting, { rows }: ScenarioSchedule, row: number): string =>
	'code' in account ? account.code : codeIn(rows[row], account.column);

/** Accounts and departments to which rows are posted, as `account\u0000department`; whether these take figures is not asked. */
export function placesPosted(schedule: ScenarioSchedule, structure: Structure): Set<string> {
	const { definition, rows } = schedule;
	const shares = departmentColumn(definition) === undefined ? null : sharesShape(schedule);
	const found = new Set<string>();
	for (const posting of definition.postings)
		(shares ? shares.of : rows.map((_, r) => r)).forEach((r, i) => {
			const account = accountOf(posting, schedule, r);
			const department = shares ? shares.rows[i].at(-1)! : (posting.department ?? '');
			if (structure.departmentRow.has(department)) found.add(`${account}\u0000${department}`);
		});
	return found;
}
