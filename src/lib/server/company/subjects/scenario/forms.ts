/** A scenario's own form of each model; a file only where it differs from the one that most scenarios use. */
import type { ModelDefinition } from '../../../../core/blocks/driver-model/schema';
import type { ScenarioPart } from '../../subject';
import { copyForms, formsOf, storeForms } from '../forms-in-use';
import { checkForm, formFile, MODEL_FORMS, MODELS, readForm } from '../models';
import { namesOfSchedules, SCHEDULES } from '../schedules';
import { structureOf } from '../dimensions';

export const FORMS: ScenarioPart<'definitions', ModelDefinition[]> = {
	name: 'definitions',
	files: [
		{
			path: 'scenarios/<code>/models/<model>.json',
			says: 'only where the scenario’s form of a model differs from `models/`'
		}
	],
	travels: 'always',
	read(folder, at) {
		const models = folder.of(MODELS).map((m) => m.definition);
		for (const code of at.without)
			folder.expect(
				models.some((m) => m.code === code),
				'scenarios.csv',
				at.row,
				'without',
				`the model “${code}” is not in models.csv`
			);
		const own = (code: string) => `${at.folder}/${formFile(code)}`;
		const forms = models
			.filter((m) => !at.without.includes(m.code))
			.map((standard) => {
				const file = own(standard.code);
				const definition = folder.files.has(file) ? readForm(folder, file) : null;
				if (!definition) return standard;
				for (const part of ['code', 'dimensions'] as const)
					folder.expect(
						String(definition[part]) === String(standard[part]),
						file,
						undefined,
						part,
						`“${standard[part]}” was expected, as in models/${standard.code}.json`
					);
				return definition;
			});
		for (const form of forms)
			if (folder.files.has(own(form.code)))
				checkForm(
					folder,
					own(form.code),
					form,
					forms,
					namesOfSchedules(folder.of(SCHEDULES), structureOf(folder).money),
					at.scenarios
				);
		return forms;
	},
	write(definitions, at, folder) {
		const standard = new Map(folder.of(MODELS).map((m) => [m.definition.code, JSON.stringify(m.definition)]));
		for (const definition of definitions)
			if (JSON.stringify(definition) !== standard.get(definition.code))
				folder.json(`${at.folder}/${formFile(definition.code)}`, definition);
	},
	store: (trx, scenario, definitions) => storeForms(trx, MODEL_FORMS, scenario, definitions),
	load: (db, scenario) => formsOf(db, MODEL_FORMS, scenario),
	copy: (trx, from, to) => copyForms(trx, MODEL_FORMS, from, to)
};
