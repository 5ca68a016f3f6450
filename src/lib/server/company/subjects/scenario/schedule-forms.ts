/** The schedules that a scenario has, each in its form; a file only where it differs from the one that most scenarios use. */
import { z } from 'zod';
import type { Knex } from 'knex';
import type { ScheduleDefinition } from '../../../../core/blocks/schedule/schema';
import { modelNames } from '../../../../core/blocks/driver-model/names';
import { copyRows } from '../../../platform/db/rows';
import * as stored from '../../../platform/db/stored';
import type { ScenarioPart } from '../../subject';
import { structureOf } from '../dimensions';
import { keepForm } from '../forms-in-use';
import { checkScheduleForm, KeptSchedule, readScheduleForm, scheduleFile, SCHEDULES } from '../schedules';
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
	async store(trx, scenario, forms) {
		for (const form of forms)
			await trx('scenario_schedule').insert({
				scenario,
				schedule: form.code,
				definition: await keepForm(trx, form)
			});
	},
	load: readScheduleForms,
	copy: (trx, from, to) => copyRows(trx, 'scenario_schedule', ['schedule', 'definition'], from, to)
};

const FormRow = z.object({ content: KeptSchedule });

/** In the order of schedules. */
export async function readScheduleForms(db: Knex, scenario: string): Promise<ScheduleDefinition[]> {
	const rows = await stored.rows(
		FormRow,
		db('scenario_schedule')
			.join('definition', 'definition.id', 'scenario_schedule.definition')
			.join('schedule', 'schedule.code', 'scenario_schedule.schedule')
			.where({ scenario })
			.orderBy('schedule.position')
			.select('content')
	);
	return rows.map((r) => r.content);
}
