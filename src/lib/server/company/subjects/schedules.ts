/** Schedules: their order, and the form that most scenarios use. Rows, and forms of their own, are part of scenarios. */
import { z } from 'zod';
import type { BlockNames } from '../../../core/formula/check';
import { scheduleFaults } from '../../../core/blocks/schedule/check-definition';
import { scheduleNames, sharesNames } from '../../../core/blocks/schedule/names';
import { departmentColumn, ScheduleDefinition } from '../../../core/blocks/schedule/schema';
import type { MoneyUnits } from '../../../core/formula/units';
import { insertRows, numbered } from '../../platform/db/rows';
import * as stored from '../../platform/db/stored';
import { tableForm, type FileForm } from '../form';
import type { Reading } from '../reading';
import type { Subject } from '../subject';
import * as cell from '../table';
import { formSources } from './form-sources';
import { mostUsed, type FormKind } from './forms-in-use';

const LIST = tableForm({
	path: 'schedules.csv',
	columns: { code: cell.required },
	says: 'in order',
	unique: ['code']
});
const FORM: FileForm = {
	path: 'schedules/<code>.json',
	needed: true,
	says: 'the schedule, in the form that most scenarios use; see below'
};
export const scheduleFile = (schedule: string) => `schedules/${schedule}.json`;

export const SCHEDULES: Subject<'schedules', ScheduleDefinition[]> = {
	name: 'schedules',
	files: [LIST, FORM],
	read: (folder) =>
		folder.table(LIST).flatMap(({ code }) => {
			const file = scheduleFile(code);
			const definition = readScheduleForm(folder, file);
			if (!definition) return [];
			const same = definition.code === code;
			folder.expect(same, file, undefined, 'code', `“${code}” was expected, as in schedules.csv`);
			return [definition];
		}),
	write(schedules, folder) {
		if (!schedules.length) return;
		folder.table(
			LIST,
			schedules.map(({ code }) => ({ code }))
		);
		for (const definition of schedules) folder.json(scheduleFile(definition.code), definition);
	},
	async store(trx, schedules) {
		await insertRows(trx, 'schedule', numbered(schedules.map(({ code }) => ({ code }))));
	},
	async load(db) {
		const forms = await mostUsed(db, SCHEDULE_KIND);
		const codes = await stored.texts(db('schedule').orderBy('position').pluck('code'));
		// One that no scenario has any more has no form either.
		return codes.flatMap((code) => forms.get(code) ?? []);
	}
};

/** Forms of schedules as they are kept, known by their text. */
export const SCHEDULE_KIND: FormKind<ScheduleDefinition> = {
	of: 'schedule',
	form: stored.jsonAsItStands(ScheduleDefinition)
};

export const readScheduleForm = (folder: Reading, file: string): ScheduleDefinition | null =>
	folder.json(file, ScheduleDefinition as z.ZodType<ScheduleDefinition>);

/** What formulas call the blocks of schedules. */
export const namesOfSchedules = (schedules: readonly ScheduleDefinition[], money: MoneyUnits): BlockNames[] =>
	schedules.flatMap((s) => [
		scheduleNames(s, money),
		...(departmentColumn(s) ? [sharesNames(s, money)] : [])
	]);

/**
 * Tells what is wrong with a form.
 * @param models names of the driver models beside it @param all the schedules beside it
 */
export function checkScheduleForm(
	folder: Reading,
	file: string,
	definition: ScheduleDefinition,
	all: readonly ScheduleDefinition[],
	models: readonly BlockNames[],
	scenarios: readonly string[]
): void {
	const sources = formSources(folder, scenarios);
	const others = namesOfSchedules(
		all.filter((s) => s.code !== definition.code),
		sources.money
	);
	for (const fault of scheduleFaults(definition, [...models, ...others], sources))
		folder.faults.push({ file, ...fault });
}
