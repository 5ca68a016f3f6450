/** The driver models of a scenario, in the form it uses. */
import { z } from 'zod';
import type { Knex } from 'knex';
import type { ScenarioModel } from '../../../../core/blocks/driver-model/schema';
import { sharedBy } from '../../../platform/db/kept';
import { Definition, readModelRows } from '../models';
import * as stored from '../../../platform/db/stored';

interface KeptModels {
	/** What they were made from. */
	form: string;
	models: readonly ScenarioModel[];
}
/** Models of so many scenarios are kept. */
const MOST_MODELS = 24;
const keptModels = new WeakMap<object, Map<string, KeptModels>>();

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
	const list = keptModels.get(sharedBy(db)) ?? new Map<string, KeptModels>();
	keptModels.set(sharedBy(db), list);
	const have = list.get(code);
	if (have?.form === form) return have.models;
	const models = used.map((m) => frozen({ definition: Definition.parse(content.get(m.code)), rows: m.rows }));
	if (list.size >= MOST_MODELS) list.delete(list.keys().next().value!);
	list.set(code, { form, models });
	return models;
}

const Speaking = z.object({ scenario: stored.text, content: Definition });

/** Driver models whose formulas may read other scenarios, without their rows, which say nothing of that. */
export async function modelsSpeakingOfOthers(db: Knex): Promise<{ scenario: string; form: ScenarioModel }[]> {
	const speaking = await stored.rows(
		Speaking,
		db('scenario_model')
			.join('definition', 'definition.id', 'scenario_model.definition')
			.whereLike('content', '%scenario%')
			.select('scenario', 'content')
	);
	return speaking.map(({ scenario, content }) => ({ scenario, form: { definition: content, rows: [] } }));
}

/** Whoever would change what others read too is stopped. */
function frozen<T>(value: T): T {
	if (typeof value !== 'object' || value === null || Object.isFrozen(value)) return value;
	Object.values(value).forEach(frozen);
	return Object.freeze(value);
}
