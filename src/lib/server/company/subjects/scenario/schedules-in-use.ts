/** The schedules of a scenario with their rows, as its calculation takes them. */
import type { Knex } from 'knex';
import type { ScenarioSchedule } from '../../../../core/blocks/schedule/schema';
import { formulasOfSchedule } from '../../../../core/blocks/schedule/schema';
import { sharedBy } from '../../../platform/db/kept';
import { readScheduleForms } from './schedule-forms';
import { readScheduleRows } from './schedule-rows';
import * as stored from '../../../platform/db/stored';

interface Kept {
	/** What they were made from. */
	form: string;
	schedules: readonly ScenarioSchedule[];
}
const kept = new WeakMap<object, Map<string, Kept>>();
/** Schedules of so many scenarios are kept. */
const MOST_KEPT = 24;
const NONE: readonly ScenarioSchedule[] = [];

/** Which nobody changes; the same ones as long as they read the same. */
export async function readScenarioSchedules(db: Knex, code: string): Promise<readonly ScenarioSchedule[]> {
	const forms = await readScheduleForms(db, code);
	if (!forms.length) return NONE;
	const rows = await readScheduleRows(db, code);
	const schedules = forms.map((definition) => ({ definition, rows: rows.get(definition.code) ?? [] }));
	const form = JSON.stringify(schedules);
	const list = kept.get(sharedBy(db)) ?? new Map<string, Kept>();
	kept.set(sharedBy(db), list);
	const have = list.get(code);
	if (have?.form === form) return have.schedules;
	if (list.size >= MOST_KEPT) list.delete(list.keys().next().value!);
	list.set(code, { form, schedules });
	return schedules;
}

/** Schedules whose formulas may read other scenarios, without their rows, which say nothing of that. */
export async function schedulesSpeakingOfOthers(
	db: Knex
): Promise<{ scenario: string; form: ScenarioSchedule }[]> {
	const scenarios = await stored.texts(db('scenario_schedule').distinct().pluck('scenario'));
	const found: { scenario: string; form: ScenarioSchedule }[] = [];
	for (const scenario of scenarios)
		for (const definition of await readScheduleForms(db, scenario))
			if (formulasOfSchedule(definition).some((f) => f.includes('scenario')))
				found.push({ scenario, form: { definition, rows: [] } });
	return found;
}
