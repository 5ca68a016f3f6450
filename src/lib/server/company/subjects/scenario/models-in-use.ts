/** The driver models of a scenario, in the form it uses. */
import type { Knex } from 'knex';
import type { ScenarioModel } from '../../../../core/blocks/driver-model/schema';
import { sameWhile } from '../../../platform/db/kept';
import { formsSpeakingOfOthers } from '../forms-in-use';
import { Definition, MODEL_FORMS, readModelRows } from '../models';
import * as stored from '../../../platform/db/stored';

/** Models of so many scenarios are kept. */
const same = sameWhile<readonly ScenarioModel[]>(24);

/** Which nobody changes; the same ones as long as they read the same. */
export async function readScenarioModels(db: Knex, code: string): Promise<readonly ScenarioModel[]> {
	const rows = await stored.many(
		{ model: 'text', content: 'text' },
		db('scenario_model')
			.join('definition', 'definition.id', 'scenario_model.definition')
			.where({ scenario: code })
			.select('scenario_model.model', 'definition.content')
	);
	const content = new Map(rows.map((r) => [r.model, r.content]));
	const used = (await readModelRows(db)).filter((m) => content.has(m.code));
	const form = JSON.stringify(used.map((m) => [content.get(m.code), m.rows]));
	return same(db, code, form, () =>
		used.map((m) => frozen({ definition: Definition.parse(content.get(m.code)), rows: m.rows }))
	);
}

/** Driver models whose formulas may read other scenarios, without their rows, which say nothing of that. */
export async function modelsSpeakingOfOthers(db: Knex): Promise<{ scenario: string; form: ScenarioModel }[]> {
	const speaking = await formsSpeakingOfOthers(db, MODEL_FORMS);
	return speaking.map(({ scenario, content }) => ({ scenario, form: { definition: content, rows: [] } }));
}

/** Whoever would change what others read too is stopped. */
function frozen<T>(value: T): T {
	if (typeof value !== 'object' || value === null || Object.isFrozen(value)) return value;
	Object.values(value).forEach(frozen);
	return Object.freeze(value);
}
