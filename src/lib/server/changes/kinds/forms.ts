/** Forms of driver models: a formula, or a form as a whole, by its identity. */
import type { Knex } from 'knex';
import type { Within } from '../../platform/context';
import type { ModelDefinition } from '../../../core/blocks/driver-model/schema';
import { formById, keepForm } from '../../company/subjects/forms-in-use';
import { MODEL_FORMS } from '../../company/subjects/models';
import { changeModel } from '../../models/design';
import { saveFormula } from '../../models/models';
import { Refusal } from '../../platform/refusal';
import { scenarioModels } from '../../scenarios/plan-data';
import { changedSince, type ChangeKind, type Entry, type Undoing } from './kind';

type Form = Entry<'formula' | 'model'>;
const isFormula = (entry: Form): entry is Entry<'formula'> => entry.about.what === 'formula';

export const FORMS: ChangeKind<'formula' | 'model'> = {
	what: ['formula', 'model'],
	words(entry, names) {
		if (!isFormula(entry)) return { place: names.model(entry.about.model), before: '', after: '' };
		const { before, after, about } = entry;
		const { model, line } = about;
		return { place: `${names.model(model)}: ${names.line(model, line)}`, before, after };
	},
	async undo(within, by, entries) {
		for (const entry of entries)
			if (isFormula(entry)) await undoFormula(within, by, entry);
			else await undoModel(within, by, entry);
	},
	// One after the other: a formula may have been changed in a form that came later.
	async rewind(trx, { scenario }, entries) {
		for (const entry of entries) {
			const { model } = entry.about;
			if (!isFormula(entry)) await putForm(trx, scenario, model, entry.before);
			else await putFormula(trx, scenario, model, entry.about.line, entry.before);
		}
	}
};

async function undoFormula(
	within: Within,
	{ scenario }: Undoing,
	{ about: { model, line }, before, after }: Entry<'formula'>
): Promise<void> {
	const models = await scenarioModels(within.db, scenario);
	const own = models.find((m) => m.definition.code === model)?.definition.lines.find((l) => l.code === line);
	if (own?.formula !== after) throw changedSince('The formula');
	await saveFormula(within, { scenario, model, line, formula: before, also: [] });
}

async function undoModel(
	within: Within,
	{ scenario, as }: Undoing,
	{ about: { model }, before, after }: Form
): Promise<void> {
	const definition = await formById(within.db, MODEL_FORMS, before);
	if (before !== '' && !definition) throw notKept('the model had');
	const change = { scenarios: [scenario], model, version: after || null, definition, drop: false };
	await changeModel(within, change, as);
}

async function putFormula(
	trx: Knex.Transaction,
	scenario: string,
	model: string,
	line: string,
	formula: string
): Promise<void> {
	const now = (await scenarioModels(trx, scenario)).find((m) => m.definition.code === model);
	if (!now) return;
	const changed: ModelDefinition = {
		...now.definition,
		lines: now.definition.lines.map((l) => (l.code === line ? { ...l, formula } : l))
	};
	await putForm(trx, scenario, model, await keepForm(trx, changed));
}

async function putForm(trx: Knex.Transaction, scenario: string, model: string, definition: string) {
	if (definition !== '' && !(await formById(trx, MODEL_FORMS, definition))) throw notKept('a model had then');
	await trx('scenario_model').where({ scenario, model }).delete();
	if (definition) await trx('scenario_model').insert({ scenario, model, definition });
}

const notKept = (which: string) =>
	new Refusal(
		422,
		`The form that ${which} is not kept: it was not in the folder from which the company was loaded.`
	);
