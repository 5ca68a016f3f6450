/** The schedules of a scenario with their rows, as its calculation takes them. */
import type { Knex } from 'knex';
import type { ScenarioSchedule } from '../../../../core/blocks/schedule/schema';
import { sameWhile } from '../../../platform/db/kept';
import { formsFrom, formsSpeakingOfOthers, formTextsOf } from '../forms-in-use';
import { SCHEDULE_KIND } from '../schedules';
import { rowsFromStored, storedRows } from './schedule-rows';

/** Schedules of so many scenarios are kept. */
const same = sameWhile<readonly ScenarioSchedule[]>(24);
const NONE: readonly ScenarioSchedule[] = [];

/** Which nobody changes; the same ones as long as they read the same. */
export async function readScenarioSchedules(db: Knex, code: string): Promise<readonly ScenarioSchedule[]> {
	const forms = await formTextsOf(db, SCHEDULE_KIND, code);
	if (!forms.length) return NONE;
	const rows = await storedRows(db, code);
	const text = JSON.stringify([forms, rows.map((r) => [r.schedule, r.id, r.content])]);
	return same(db, code, text, () => {
		const held = rowsFromStored(rows);
		return formsFrom(SCHEDULE_KIND, forms).map((definition) => ({
			definition,
			rows: held.get(definition.code) ?? []
		}));
	});
}

/** Schedules whose formulas may read other scenarios, without their rows, which say nothing of that. */
export async function schedulesSpeakingOfOthers(
	db: Knex
): Promise<{ scenario: string; form: ScenarioSchedule }[]> {
	const speaking = await formsSpeakingOfOthers(db, SCHEDULE_KIND);
	return speaking.map(({ scenario, content }) => ({ scenario, form: { definition: content, rows: [] } }));
}
