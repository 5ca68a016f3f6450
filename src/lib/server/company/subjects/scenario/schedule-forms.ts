/** The schedules that a scenario has, each in its form; a file only where it differs from the one that most scenarios use. */
import type { ScheduleDefinition } from '../../../../core/blocks/schedule/schema';
import { modelNames } from '../../../../core/blocks/driver-model/names';
import type { ScenarioPart } from '../../subject';
import { structureOf } from '../dimensions';
import { copyForms, formsOf, storeForms } from '../forms-in-use';
import { checkScheduleForm, readScheduleForm, SCHEDULE_KIND, scheduleFile, SCHEDULES } from '../schedules';
import { FORMS } from './forms';

/** A scenario has a schedule whose rows stand in its folder. */
export const rowsFile = (folder: string, schedule: string) => `${folder}/schedules/${schedule}.csv`;

export const SCHEDULE_FORMS: ScenarioPart<'scheduleForms', ScheduleDefinition[]> = {
	name: 'scheduleForms',
	files: [
		{
			path: 'scenarios/<code>/schedules/<schedule>.json',
			says: 'only where the scenario’s form of a schedule differs from `schedules/`'
		}
	],
	travels: 'always',
	read(folder, at) {
		const { money } = structureOf(folder);
		const own = (code: string) => `${at.folder}/${scheduleFile(code)}`;
		const forms = folder
			.of(SCHEDULES)
			.filter((s) => folder.files.has(rowsFile(at.folder, s.code)))
			.map((standard) => {
				const file = own(standard.code);
				const form = folder.files.has(file) ? readScheduleForm(folder, file) : null;
				if (!form) return standard;
				folder.expect(
					form.code === standard.code,
					file,
					undefined,
					'code',
					`“${standard.code}” was expected, as in schedules/${standard.code}.json`
				);
				return form;
			});
		const models = at.of(FORMS).map((m) => modelNames(m, money));
		for (const form of forms)
			if (folder.files.has(own(form.code)))
				checkScheduleForm(folder, own(form.code), form, forms, models, at.scenarios);
		return forms;
	},
	write(forms, at, folder) {
		const standard = new Map(folder.of(SCHEDULES).map((s) => [s.code, JSON.stringify(s)]));
		for (const form of forms)
			if (JSON.stringify(form) !== standard.get(form.code))
				folder.json(`${at.folder}/${scheduleFile(form.code)}`, form);
	},
	store: (trx, scenario, forms) => storeForms(trx, SCHEDULE_KIND, scenario, forms),
	load: (db, scenario) => formsOf(db, SCHEDULE_KIND, scenario),
	copy: (trx, from, to) => copyForms(trx, SCHEDULE_KIND, from, to)
};
