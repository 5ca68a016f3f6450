/** Legal entities, and the departments that belong to them, as a tree. */
import { z } from 'zod';
import type { Knex } from 'knex';
import { buildTree } from '../../../core/company/tree';
import type { Department, Entity } from '../../../core/company/schema';
import { insertRows, numbered } from '../../platform/db/rows';
import { oncePer, plainRows } from '../reading';
import { tableForm } from '../form';
import type { Subject } from '../subject';
import { COMPANY } from './company';
import * as cell from '../table';
import * as stored from '../../platform/db/stored';

const ENTITY_FORM = tableForm({
	path: 'entities.csv',
	columns: { code: cell.code, name: cell.name, currency: cell.orNull(cell.currency) },
	notes: { currency: 'in which its departments plan and its books are kept; empty: the company’s' },
	later: { currency: 'every legal entity counts in the company’s currency' },
	unique: ['code'],
	needed: true
});

const Named = z.object({ code: stored.text, name: stored.text });
const EntityRow = Named.extend({ currency: stored.text });
const DepartmentRow = Named.extend({ parent: stored.textOrNone, entity: stored.text });

export const ENTITIES: Subject<'entities', Entity[]> = {
	name: 'entities',
	files: [ENTITY_FORM],
	read: (folder) =>
		plainRows(folder.table(ENTITY_FORM)).map((e) => ({
			...e,
			currency: e.currency ?? folder.of(COMPANY).currency
		})),
	write: (entities, folder) => folder.table(ENTITY_FORM, entities),
	store: (trx, entities) => insertRows(trx, 'entity', numbered(entities)),
	load: readEntities
};

export async function readEntities(db: Knex): Promise<Entity[]> {
	return stored.rows(EntityRow, db('entity').orderBy('position'));
}

const FORM = tableForm({
	path: 'departments.csv',
	columns: { code: cell.code, name: cell.name, parent: cell.optional, entity: cell.required },
	needed: true
});

export const DEPARTMENTS: Subject<'departments', Department[]> = {
	name: 'departments',
	files: [FORM],
	read(folder) {
		const entities = new Set(folder.of(ENTITIES).map((e) => e.code));
		const rows = folder.tree(FORM.path, folder.table(FORM));
		for (const { entity, rowNumber } of rows)
			folder.expect(
				entities.has(entity),
				FORM.path,
				rowNumber,
				'entity',
				`the entity “${entity}” is not in entities.csv`
			);
		return plainRows(rows);
	},
	write: (departments, folder) => folder.table(FORM, departments),
	store: (trx, departments) => insertRows(trx, 'department', numbered(departments)),
	load: readDepartments
};

export const departmentTreeOf = oncePer((folder) => buildTree(folder.of(DEPARTMENTS)));

export async function readDepartments(db: Knex): Promise<Department[]> {
	return stored.rows(DepartmentRow, db('department').orderBy('position'));
}
