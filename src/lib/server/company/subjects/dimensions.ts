/** Dimensions beside the department, with their members and the attributes of these. */
import { z } from 'zod';
import type { Knex } from 'knex';
import { buildStructure, type Structure } from '../../../core/company/structure';
import type { Dimension, Member } from '../../../core/company/schema';
import { isNoKey, ownValue } from '../../../core/text';
import { insertRows, numbered } from '../../platform/db/rows';
import { oncePer, type Reading } from '../reading';
import { tableForm } from '../form';
import type { Subject } from '../subject';
import * as cell from '../table';
import { ACCOUNTS } from './accounts';
import { COMPANY } from './company';
import { DEPARTMENTS, ENTITIES } from './departments';
import * as stored from '../../platform/db/stored';

const FORM = tableForm({
	path: 'dimensions.csv',
	columns: { code: cell.code, name: cell.name },
	says: '`department` is built in',
	unique: ['code']
});
const MEMBERS = tableForm({
	path: 'dimensions/<code>.csv',
	columns: { code: cell.code, name: cell.name, parent: cell.optional, retired: cell.orNull(cell.yesNo) },
	notes: { retired: 'kept, and offered no more' },
	later: { retired: 'no member is retired' },
	says: 'any further columns are attributes',
	needed: true
});
const membersFile = (dimension: string) => `dimensions/${dimension}.csv`;

export const DIMENSIONS: Subject<'dimensions', Dimension[]> = {
	name: 'dimensions',
	files: [FORM, MEMBERS],
	read: (folder) =>
		folder.table(FORM).map(({ code, name, rowNumber }) => {
			folder.expect(code !== 'department', FORM.path, rowNumber, 'code', '“department” is built in');
			return { code, name, members: readMembersOf(folder, membersFile(code)) };
		}),
	write(dimensions, folder) {
		folder.table(FORM, dimensions);
		for (const { code, members } of dimensions) {
			const attributes = [...new Set(members.flatMap((m) => Object.keys(m.attributes)))];
			folder.table(
				MEMBERS,
				members.map((m) => ({ ...m, more: attributes.map((a) => ownValue(m.attributes, a) ?? '') })),
				membersFile(code),
				attributes
			);
		}
	},
	async store(trx, dimensions) {
		await insertRows(trx, 'dimension', numbered(dimensions.map(({ code, name }) => ({ code, name }))));
		for (const { code, members } of dimensions) {
			const rows = members.map((m) => ({
				dimension: code,
				...m,
				retired: Number(m.retired),
				attributes: JSON.stringify(m.attributes)
			}));
			await insertRows(trx, 'member', numbered(rows));
		}
	},
	load: readDimensions
};

function readMembersOf(folder: Reading, file: string): Member[] {
	const rows = folder.table(MEMBERS, file, { more: true });
	for (const attribute of Object.keys(rows[0]?.more ?? {}))
		folder.expect(
			attribute !== '' && !isNoKey(attribute),
			file,
			1,
			attribute,
			'an attribute has another name'
		);
	return folder.tree(file, rows).map(({ code, name, parent, retired, more }) => ({
		code,
		name,
		parent,
		retired: retired ?? false,
		attributes: Object.fromEntries(Object.entries(more).filter(([, v]) => v !== ''))
	}));
}

/** Accounts, departments and members as those subjects that name them see them. */
export const structureOf: (folder: Reading) => Structure = oncePer((folder) =>
	buildStructure(
		folder.calendar,
		folder.of(ACCOUNTS),
		folder.of(DEPARTMENTS),
		folder.of(DIMENSIONS),
		folder.of(COMPANY).currency,
		folder.of(ENTITIES)
	)
);

/** Whether a department takes figures: it is there and has none under it. */
export const takesFigures = (structure: Structure, department: string): boolean =>
	structure.departmentRow.has(department);

const DimensionRow = z.object({ code: stored.text, name: stored.text });
const MemberRow = DimensionRow.extend({
	dimension: stored.text,
	parent: stored.textOrNone,
	retired: stored.flag,
	attributes: stored.json(z.record(z.string(), z.string()))
});

export async function readDimensions(db: Knex): Promise<Dimension[]> {
	const dimensions = await stored.rows(DimensionRow, db('dimension').orderBy('position'));
	const members = await stored.rows(MemberRow, db('member').orderBy('position'));
	return dimensions.map((d) => ({
		...d,
		members: members
			.filter((m) => m.dimension === d.code)
			.map(({ code, name, parent, retired, attributes }) => ({ code, name, parent, retired, attributes }))
	}));
}
