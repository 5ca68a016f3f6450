/**
 * Driver models: their order, the form that most scenarios use, and the combinations of members that hold data. A
 * scenario's own forms are part of it.
 */
import type { Knex } from 'knex';
import { z } from 'zod';
import { definitionFaults } from '../../../core/blocks/driver-model/check-definition';
import { rowFaults } from '../../../core/blocks/driver-model/check-rows';
import { ModelDefinition } from '../../../core/blocks/driver-model/schema';
import { ROW_SEPARATOR, rowKey } from '../../../core/engine/row-key';
import { ownValue } from '../../../core/text';
import { insertRows, numbered } from '../../platform/db/rows';
import type { Reading } from '../reading';
import { tableForm, type FileForm } from '../form';
import type { Subject } from '../subject';
import * as cell from '../table';
import type { BlockNames } from '../../../core/formula/check';
import { structureOf } from './dimensions';
import { formSources } from './form-sources';
import { mostUsed, type FormKind } from './forms-in-use';
import * as stored from '../../platform/db/stored';

const LIST = tableForm({
	path: 'models.csv',
	columns: { code: cell.required },
	says: 'in order',
	unique: ['code']
});
const FORM: FileForm = {
	path: 'models/<code>.json',
	needed: true,
	says: 'the driver model, in the form that most scenarios use; see below'
};
const ROWS = tableForm({
	path: 'models/<code>.rows.csv',
	columns: {},
	says: 'a column per dimension: the combinations of members that hold data; none for a table of assumptions',
	needed: true
});
export const formFile = (model: string) => `models/${model}.json`;
const rowsFile = (model: string) => `models/${model}.rows.csv`;

/** A model in the form that most scenarios use, with its combinations of members. */
export interface ModelRecord {
	definition: ModelDefinition;
	rows: string[][];
}

export const MODELS: Subject<'models', ModelRecord[]> = {
	name: 'models',
	files: [LIST, FORM, ROWS],
	read: (folder) =>
		folder.table(LIST).flatMap(({ code }) => {
			const file = formFile(code);
			const definition = readForm(folder, file);
			if (!definition) return [];
			const same = definition.code === code;
			folder.expect(same, file, undefined, 'code', `“${code}” was expected, as in models.csv`);
			return [{ definition, rows: readRows(folder, definition) }];
		}),
	write(models, folder) {
		folder.table(
			LIST,
			models.map((m) => ({ code: m.definition.code }))
		);
		for (const { definition, rows } of models) {
			const { code, dimensions } = definition;
			folder.json(formFile(code), definition);
			if (dimensions.length)
				folder.table(
					ROWS,
					rows.map((more) => ({ more })),
					rowsFile(code),
					dimensions
				);
		}
	},
	async store(trx, models) {
		await insertRows(trx, 'model', numbered(models.map((m) => ({ code: m.definition.code }))));
		for (const { definition, rows } of models) {
			const own = rows.map((r) => ({ model: definition.code, row: rowKey(r) }));
			await insertRows(trx, 'model_row', numbered(own));
		}
	},
	async load(db) {
		const forms = await mostUsed(db, MODEL_FORMS);
		return (await readModelRows(db)).flatMap(({ code, rows }) => {
			const definition = forms.get(code);
			// A model that no scenario has any more has no form either.
			return definition ? [{ definition, rows }] : [];
		});
	}
};

export const readForm = (folder: Reading, file: string): ModelDefinition | null =>
	folder.json(file, ModelDefinition as z.ZodType<ModelDefinition>);

function readRows(folder: Reading, definition: ModelDefinition): string[][] {
	const { code, dimensions } = definition;
	if (!dimensions.length) return [];
	const file = rowsFile(code);
	const read = folder.table(ROWS, file, { needs: dimensions });
	const rows = read.map((row) => dimensions.map((d) => ownValue(row.more, d)!));
	for (const { row, dimension, message } of rowFaults(definition, rows, structureOf(folder)))
		folder.faults.push({
			file,
			row: read[row].rowNumber,
			column: dimension ?? dimensions[0],
			message
		});
	return rows;
}

/**
 * Tells what is wrong with a form.
 * @param all the forms beside it @param blocks names of other blocks beside it @param scenarios codes that formulas may name
 */
export function checkForm(
	folder: Reading,
	file: string,
	definition: ModelDefinition,
	all: readonly ModelDefinition[],
	blocks: readonly BlockNames[],
	scenarios: readonly string[]
): void {
	const sources = { ...formSources(folder, scenarios), blocks };
	for (const fault of definitionFaults(definition, all, sources, folder.calendar))
		folder.faults.push({ file, ...fault });
}

/** A model's form as it is kept, known by its text. */
export const Definition = stored.jsonAsItStands(ModelDefinition);
export const MODEL_FORMS: FormKind<ModelDefinition> = { of: 'model', form: Definition };

/** The combinations of members each model holds, in order. */
export async function readModelRows(db: Knex): Promise<{ code: string; rows: string[][] }[]> {
	const models = await stored.texts(db('model').orderBy('position').pluck('code'));
	const rows = await stored.many(
		{ model: 'text', row: 'text' },
		db('model_row').orderBy(['model', 'position']).select('model', 'row')
	);
	return models.map((code) => ({
		code,
		rows: rows.filter((r) => r.model === code).map((r) => r.row.split(ROW_SEPARATOR))
	}));
}
