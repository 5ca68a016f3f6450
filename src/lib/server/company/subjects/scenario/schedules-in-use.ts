/** The schedules of a scenario with their rows, as its calculation takes them. */
import type { Knex } from 'knex';
import type { ScenarioSchedule } from '../../../../core/blocks/schedule/schema';
import { sameWhile } from '../../../platform/db/kept';
import { formsOf, formsSpeakingOfOthers } from '../forms-in-use';
import { SCHEDULE_KIND } from '../schedules';
import { readScheduleRows } from './schedule-rows';

/** Schedules of so many scenarios are kept. */
const same = sameWhile<readonly ScenarioSchedule[]>(24);
const NONE: readonly ScenarioSchedule[] = [];

/** Which nobody changes; the same ones as long as they read the same. */
export async function readScenarioSchedules(db: Knex, code: string): Promise<readonly ScenarioSchedule[]> {
	const forms = await formsOf(db, SCHEDULE_KIND, code);
	if (!forms.length) return NONE;
	const rows = await readScheduleRows(db, code);
	const schedules = forms.map((definition) => ({ definition, rows: rows.get(definition.code) ?? [] }));
	return same(db, code, JSON.stringify(schedules), () => schedules);
}

/** Schedules whose formulas may read other scenarios, without their rows, which say nothing of that. */
export async function schedulesSpeakingOfOthers(
	db: Knex
): Promise<{ scenario: string; form: ScenarioSchedule }[]> {
	const speaking = await formsSpeakingOfOthers(db, SCHEDULE_KIND);
	return speaking.map(({ scenario, content }) => ({ scenario, form: { definition: content, rows: [] } }));
}
