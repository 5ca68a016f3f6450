/**
 * Where each kind of block has its forms in a scenario. A new kind of block is put in here and in
 * `core/blocks/kinds.ts`; nowhere else.
 */
import type { Knex } from 'knex';
import type { Forms } from '../../../../core/blocks/kinds';
import type { Reading } from '../../reading';
import type { ScenarioFolder } from '../../subject';
import { readOnce, type Tables } from '../../../platform/db/kept';
import { MODELS } from '../models';
import { FORMS } from './forms';
import { modelsSpeakingOfOthers, readScenarioModels } from './models-in-use';
import { SCHEDULE_FORMS } from './schedule-forms';
import { SCHEDULE_ROWS } from './schedule-rows';
import { readScenarioSchedules, schedulesSpeakingOfOthers } from './schedules-in-use';

interface FormsOf<Form> {
	/** As they stand in the database; the same value as long as they read the same. */
	read(db: Knex, scenario: string): Promise<readonly Form[]>;
	/** Those whose formulas may read other scenarios; no others are looked into. */
	speaking(db: Knex): Promise<{ scenario: string; form: Form }[]>;
	/** As a folder that is being read has them. */
	held(folder: Reading, at: ScenarioFolder): readonly Form[];
}

const KINDS: { [K in keyof Forms]: FormsOf<Forms[K][number]> } = {
	models: {
		read: readScenarioModels,
		speaking: modelsSpeakingOfOthers,
		held(folder, at) {
			const rowsOf = new Map(folder.of(MODELS).map((m) => [m.definition.code, m.rows]));
			return at.of(FORMS).map((definition) => ({ definition, rows: rowsOf.get(definition.code)! }));
		}
	},
	schedules: {
		read: readScenarioSchedules,
		speaking: schedulesSpeakingOfOthers,
		held(_folder, at) {
			const rowsOf = new Map(at.of(SCHEDULE_ROWS).map((h) => [h.schedule, h.rows]));
			return at.of(SCHEDULE_FORMS).map((definition) => ({ definition, rows: rowsOf.get(definition.code)! }));
		}
	}
};
/** The parts of a scenario in which forms stand; they come first, for others speak of them. */
export const FORM_PARTS = [FORMS, SCHEDULE_FORMS, SCHEDULE_ROWS] as const;

type Kinds = [keyof Forms, FormsOf<Forms[keyof Forms][number]>][];
const each = Object.entries(KINDS) as Kinds;
const allOf = (list: readonly (readonly [string, readonly unknown[]])[]) =>
	Object.fromEntries(list) as unknown as Forms;

export const noForms = (): Forms => allOf(each.map(([kind]) => [kind, []]));
export const heldForms = (folder: Reading, at: ScenarioFolder): Forms =>
	allOf(each.map(([kind, { held }]) => [kind, held(folder, at)]));
/** All that forms and their rows are read from. */
const FORM_TABLES: Tables = [
	'definition',
	'model',
	'model_row',
	'scenario_model',
	'schedule',
	'scenario_schedule',
	'schedule_row'
];
/** The same ones, which nobody changes, as long as they read the same. */
export const readForms = (db: Knex, scenario: string): Promise<Forms> =>
	readOnce(
		db,
		`forms of ${scenario}`,
		async () =>
			allOf(
				await Promise.all(each.map(async ([kind, { read }]) => [kind, await read(db, scenario)] as const))
			),
		FORM_TABLES
	);

/** Forms whose formulas may read other scenarios, by scenario. */
export const speakingForms = (db: Knex): Promise<ReadonlyMap<string, Forms>> =>
	readOnce(db, 'forms that speak of scenarios', () => readSpeaking(db), FORM_TABLES);

async function readSpeaking(db: Knex): Promise<Map<string, Forms>> {
	const found = new Map<string, Forms>();
	for (const [kind, { speaking }] of each)
		for (const { scenario, form } of await speaking(db)) {
			const forms = found.get(scenario) ?? noForms();
			found.set(scenario, { ...forms, [kind]: [...forms[kind], form] });
		}
	return found;
}
