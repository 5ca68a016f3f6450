/** The schedules of a scenario with their rows, as its calculation takes them. */
import type { Knex } from 'knex';
import type {
	ScenarioSchedule,
	ScheduleDefinition,
	ScheduleRow
} from '../../../../core/blocks/schedule/schema';
import { sharedBy } from '../../../platform/db/kept';
import { formsFrom, formsSpeakingOfOthers, formTextsOf } from '../forms-in-use';
import { SCHEDULE_KIND } from '../schedules';
import { rowFromStored, storedRows, type StoredRow } from './schedule-rows';

type Schedules = readonly ScenarioSchedule[];
/** As they were read last, by scenario. */
const formerly = new WeakMap<object, Map<string, Schedules>>();
/** Schedules of so many scenarios are kept. */
const MOST_KEPT = 24;
const NONE: Schedules = [];

/** The texts that these were read from. */
const formText = new WeakMap<ScheduleDefinition, string>();
const rowText = new WeakMap<ScheduleRow, string>();

/** Which nobody changes; the same ones as long as they read the same, each schedule and each of its rows for itself. */
export async function readScenarioSchedules(db: Knex, code: string): Promise<Schedules> {
	const forms = await formTextsOf(db, SCHEDULE_KIND, code);
	if (!forms.length) return NONE;
	const rows = await storedRows(db, code);
	const kept = formerly.get(sharedBy(db)) ?? new Map<string, Schedules>();
	formerly.set(sharedBy(db), kept);
	const former = kept.get(code);
	const schedules = inOneWith(former, forms, rows);
	if (schedules === former) return former;
	kept.delete(code);
	kept.set(code, schedules);
	if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
	return schedules;
}

/** Schedules from their texts, with as much of the former ones as reads the same. */
function inOneWith(
	former: Schedules | undefined,
	forms: readonly string[],
	stored: readonly StoredRow[]
): Schedules {
	const bySchedule = new Map<string, StoredRow[]>();
	for (const row of stored) {
		const list = bySchedule.get(row.schedule);
		if (list) list.push(row);
		else bySchedule.set(row.schedule, [row]);
	}
	const were = new Map(former?.map((s) => [formText.get(s.definition)!, s]));
	const schedules = forms.map((text): ScenarioSchedule => {
		const was = were.get(text);
		const definition = was?.definition ?? formFrom(text);
		const rows = rowsLike(was?.rows ?? [], bySchedule.get(definition.code) ?? []);
		return was && rows === was.rows ? was : { definition, rows };
	});
	const same = former?.length === schedules.length && schedules.every((s, i) => s === former[i]);
	return same ? former : schedules;
}

function formFrom(text: string): ScheduleDefinition {
	const [definition] = formsFrom(SCHEDULE_KIND, [text]);
	formText.set(definition, text);
	return definition;
}

/** Rows from their texts, each the former one where it reads the same; the former list where all do. */
function rowsLike(former: readonly ScheduleRow[], stored: readonly StoredRow[]): readonly ScheduleRow[] {
	const were = new Map(former.map((row) => [row.id, row]));
	const rows = stored.map((own): ScheduleRow => {
		const was = were.get(own.id);
		if (was && rowText.get(was) === own.content) return was;
		const row = rowFromStored(own);
		rowText.set(row, own.content);
		return row;
	});
	return rows.length === former.length && rows.every((row, i) => row === former[i]) ? former : rows;
}

/** Schedules whose formulas may read other scenarios, without their rows, which say nothing of that. */
export async function schedulesSpeakingOfOthers(
	db: Knex
): Promise<{ scenario: string; form: ScenarioSchedule }[]> {
	const speaking = await formsSpeakingOfOthers(db, SCHEDULE_KIND);
	return speaking.map(({ scenario, content }) => ({ scenario, form: { definition: content, rows: [] } }));
}
