/** People who sign in, what they may do, and for which departments. Passwords and sessions are not of the company. */
import { scenariosRead } from '../../../core/scenario/foreign';
import { insertRows, numbered } from '../../platform/db/rows';
import { Role } from '../../platform/auth/roles';
import { UserRow, type User } from '../../platform/auth/sessions';
import { shownThrough } from '../../platform/auth/shown-through';
import { plainRows, type Reading } from '../reading';
import { tableForm } from '../form';
import type { Subject } from '../subject';
import * as cell from '../table';
import { departmentTreeOf } from './departments';
import { heldForms } from './scenario/block-forms';
import { folderOf, rowOfScenario, SCENARIOS } from './scenarios';
import * as stored from '../../platform/db/stored';

/** A user of the company, with whether they may sign in. */
export type UserRecord = User & { disabled?: boolean };
const StoredUser = UserRow.extend({ disabled: stored.flag });

const email: cell.CellReader<string> = (t) => {
	if (!/^[^\s@]+@[^\s@]+$/.test(t)) throw 'an e-mail address';
	return t.toLowerCase();
};

const FORM = tableForm({
	path: 'users.csv',
	columns: {
		email,
		name: cell.name,
		role: cell.oneOf(Role.options),
		departments: cell.list,
		pay: cell.orNull(cell.oneOf(['yes', 'no'])),
		state: cell.orNull(cell.oneOf(['disabled']))
	},
	later: { state: 'nobody is disabled', pay: 'analysts see individual pay, and nobody else' },
	notes: {
		role: Role.options.join(', '),
		departments: 'codes joined by `;`',
		pay: '`yes` for who sees what single people earn, `no` for who does not; empty: analysts do',
		state: '`disabled`, or empty for who may sign in'
	},
	unique: ['email'],
	needed: true
});

export const USERS: Subject<'users', UserRecord[]> = {
	name: 'users',
	files: [FORM],
	read(folder) {
		const tree = departmentTreeOf(folder);
		const rows = folder.table(FORM);
		for (const { departments, rowNumber } of rows) {
			const expect = (good: boolean, message: string) =>
				folder.expect(good, FORM.path, rowNumber, 'departments', message);
			expect(departments.length > 0, 'at least one department was expected');
			for (const d of departments) expect(tree.get(d) !== undefined, `there is no department “${d}”`);
		}
		const users = plainRows(rows).map(({ state, pay, ...user }): UserRecord =>
			withState({ ...user, pay: pay === null ? user.role === 'analyst' : pay === 'yes' }, state !== null)
		);
		keepHidden(
			folder,
			users.filter((u) => !u.disabled)
		);
		return users;
	},
	write: (users, folder) =>
		folder.table(
			FORM,
			users.map(({ disabled, ...u }) => ({
				...u,
				departments: u.departments.join(';'),
				pay: u.pay ? 'yes' : 'no',
				state: disabled ? 'disabled' : ''
			}))
		),
	store: (trx, users) =>
		insertRows(
			trx,
			'user',
			numbered(
				users.map((u) => ({
					...u,
					departments: u.departments.join(';'),
					pay: u.pay ? 1 : 0,
					disabled: u.disabled ? 1 : 0
				}))
			)
		),
	load: async (db) =>
		(await stored.rows(StoredUser, db('user').orderBy('position'))).map(({ disabled, ...user }) =>
			withState(user, disabled)
		)
};

const withState = (user: User, disabled: boolean): UserRecord => (disabled ? { ...user, disabled } : user);

/** Nobody sees a scenario whose figures rest on one that they may not see. */
function keepHidden(folder: Reading, users: readonly UserRecord[]): void {
	const records = folder.of(SCENARIOS);
	const reads = new Map(records.map((r) => [r.scenario.code, scenariosRead(heldForms(folder, folderOf(r)))]));
	const list = records.map((r) => r.scenario);
	for (const { scenario, through, user } of shownThrough(list, reads, users, departmentTreeOf(folder)))
		folder.faults.push({
			file: 'scenarios.csv',
			row: rowOfScenario(folder, scenario),
			column: 'visibility',
			message: `its figures rest on “${through}”, which ${user} may not see; show that one to all who see this one`
		});
}
