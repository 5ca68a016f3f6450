/** Designing driver models: making one, changing its lines, formulas, postings and proofs, taking it out again. */
import { z } from 'zod';
import type { Knex } from 'knex';
import type { CalendarSpec } from '../../core/calendar/spec';
import { ModelDefinition, type Line } from '../../core/blocks/driver-model/schema';
import { rowKey } from '../../core/engine/row-key';
import type { Account, Department, Dimension } from '../../core/company/schema';
import type { AdjustmentDefinition } from '../../core/inputs/schema';
import { codeFor, RESERVED_CODES } from '../../core/company/code';
import { linesOf, MODEL_TEMPLATES } from '../../core/blocks/driver-model/templates';
import type { BlockNames } from '../../core/formula/check';
import { definitionFaults } from '../../core/blocks/driver-model/check-definition';
import { takesTyping } from '../../core/blocks/driver-model/scope';
import { readAdjustmentsOf } from '../company/subjects/scenario/adjustments';
import { writeCells, type SavedAs } from '../scenarios/cells';
import type { CellEdit } from '../../core/inputs/cell';
import { formId, keepForm } from '../company/subjects/forms-in-use';
import { readSeries, insertSeries } from '../company/subjects/scenario/values';
import { newBatch, note } from '../company/journal';
import { allCombinations, storedRows, storeRows } from './rows';
import { nameSources } from './models';
import { changesReason, sharedWith } from '../scenarios/form-sharing';
import { notFound, Refusal } from '../platform/refusal';
import { scenarioModels } from '../scenarios/plan-data';
import { keepingToThoseWhoSee } from '../scenarios/rests-on';
import { planOf } from '../scenarios/plans';
import {
	getScenario,
	mustSee,
	touchScenario,
	visibleScenarios,
	writableScenario
} from '../scenarios/scenarios';
import { companyState, companyFor } from '../company/structure';
import * as stored from '../platform/db/stored';
import { Definition, MODEL_FORMS } from '../company/subjects/models';
import { asOne, type Context, type Within } from '../platform/context';

export interface NewModel {
	/** Scenarios that get it. */
	scenarios: readonly string[];
	name: string;
	description: string;
	from:
		/** `calendar` is absent for a model in the company’s periods. */
		| { kind: 'blank'; dimensions: readonly string[]; calendar?: CalendarSpec }
		| { kind: 'template'; template: string; dimensions: readonly string[]; calendar?: CalendarSpec }
		| { kind: 'copy'; model: string; withValues: boolean };
	/** Its rows: every combination, those of another model, or none yet. A copy has those of what it is copied from. */
	rows: { kind: 'all' } | { kind: 'none' } | { kind: 'like'; model: string };
}

const blankLine: Line = {
	code: 'amount',
	label: 'Amount',
	unit: '',
	format: 'number',
	rollup: { time: 'sum', members: 'sum' },
	closed: 'blank',
	extend: 'year-ago'
};

/**
 * Makes a driver model in scenarios.
 * @returns its code
 * @throws Refusal 422 for what cannot be calculated, 409 for a name in use
 */
export async function createModel(context: Context, wanted: NewModel): Promise<string> {
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const state = await companyFor(within, 'change driver models');
		const { structure } = state;
		const [first] = wanted.scenarios;
		for (const code of wanted.scenarios) {
			await mustSee(within, code);
			await writableScenario(trx, code);
			const models = await scenarioModels(trx, code);
			if (models.some((m) => m.definition.name === wanted.name))
				throw new Refusal(409, `There is a driver model named “${wanted.name}” already.`);
		}
		const taken = [
			...RESERVED_CODES,
			...structure.dimensions.keys(),
			...(await stored.texts(trx('model').pluck('code')))
		];
		const code = codeFor(wanted.name, '_', taken, 'model');
		const { name, description, from } = wanted;
		let definition: ModelDefinition;
		if (from.kind === 'copy') {
			const source = (await scenarioModels(trx, first)).find((m) => m.definition.code === from.model);
			if (!source) throw notFound(`The driver model “${from.model}”`);
			definition = copyOf(source.definition, { code, name, description });
		} else {
			const template =
				from.kind === 'template' ? MODEL_TEMPLATES.find((t) => t.code === from.template) : undefined;
			if (from.kind === 'template' && !template) throw notFound(`The template “${from.template}”`);
			definition = ModelDefinition.parse({
				code,
				name,
				description: description || template?.description || '',
				...(from.calendar ? { calendar: from.calendar } : {}),
				dimensions: from.dimensions,
				lines: template ? linesOf(template, structure.currency) : [blankLine]
			});
		}
		const { position } = await stored.one(
			stored.lastPlace,
			trx('model').max({ position: 'position' }).first()
		);
		await trx('model').insert({ code, position: (position ?? -1) + 1 });
		if (definition.dimensions.length)
			await storeRows(trx, code, await rowsFor(within, state, definition, wanted));
		for (const scenario of wanted.scenarios) {
			await mustBeDefinition(within, scenario, definition);
			await put(within, scenario, definition, { before: '', why: name, batch: newBatch() });
			if (from.kind === 'copy' && from.withValues) await copyValues(trx, scenario, from.model, definition);
			await planOf(trx, scenario);
		}
		return code;
	});
}

/** @throws Refusal 422 with each mistake in a definition, among the other models of the scenario */
async function mustBeDefinition(
	context: Within,
	scenario: string,
	definition: ModelDefinition
): Promise<void> {
	const { db: trx } = context;
	const { structure, calendar } = await companyState(trx);
	const others = (await scenarioModels(trx, scenario)).map((m) => m.definition);
	const faults = definitionFaults(
		definition,
		[...others.filter((d) => d.code !== definition.code), definition],
		await nameSources(context, structure, scenario),
		calendar
	);
	if (faults.length)
		throw new Refusal(
			422,
			`${faults.length === 1 ? 'One place has' : `${faults.length} places have`} to be mended.`,
			faults
		);
}

/** A copy posts nothing: two models that post the same would count twice. */
function copyOf(
	source: ModelDefinition,
	{ code, name, description }: Pick<ModelDefinition, 'code' | 'name' | 'description'>
): ModelDefinition {
	return {
		...source,
		code,
		name,
		description: description || source.description,
		lines: source.lines.map((l) => (l.closed === 'actuals' ? { ...l, closed: 'blank' as const } : l)),
		postings: []
	};
}

async function rowsFor(
	context: Within,
	state: Awaited<ReturnType<typeof companyState>>,
	{ dimensions }: ModelDefinition,
	{ from, rows }: NewModel
): Promise<string[][]> {
	const { db: trx } = context;
	if (from.kind === 'copy') return storedRows(trx, from.model);
	if (rows.kind === 'none') return [];
	if (rows.kind === 'all') return allCombinations(state, dimensions);
	const seen = (await visibleScenarios(context)).map((s) => s.code);
	const form = await stored.row(
		z.object({ content: Definition }),
		trx('scenario_model')
			.join('definition', 'definition.id', 'scenario_model.definition')
			.where({ model: rows.model })
			.whereIn('scenario', seen)
			.first('content')
	);
	if (!form) throw notFound(`The driver model “${rows.model}”`);
	const other = form.content;
	const places = dimensions.map((d) => other.dimensions.indexOf(d));
	if (places.includes(-1))
		throw new Refusal(
			422,
			`“${other.name}” has not all of these dimensions. Choose another way to get rows.`
		);
	const found = new Map<string, string[]>();
	for (const row of await storedRows(trx, rows.model)) {
		const own = places.map((p) => row[p]);
		found.set(rowKey(own), own);
	}
	return [...found.values()];
}

async function copyValues(
	trx: Knex.Transaction,
	scenario: string,
	from: string,
	{ code, lines }: ModelDefinition
): Promise<void> {
	const typed = new Set(lines.filter(takesTyping).map((l) => l.code));
	const series = (await readSeries(trx, scenario)).filter((s) => s.block === from && typed.has(s.line));
	await insertSeries(
		trx,
		scenario,
		series.map((s) => ({ ...s, block: code }))
	);
}

/** Puts a form of a model into a scenario, or takes the model out, and notes it. */
async function put(
	context: Within,
	scenario: string,
	definition: ModelDefinition | { code: string; gone: true },
	as: { before: string; why: string; batch: string; kind?: string }
): Promise<void> {
	const { db: trx, user } = context;
	const model = definition.code;
	let after = '';
	if ('gone' in definition) await trx('scenario_model').where({ scenario, model }).delete();
	else {
		after = await keepForm(trx, definition);
		await keepingToThoseWhoSee(context, () =>
			trx('scenario_model')
				.insert({ scenario, model, definition: after })
				.onConflict(['scenario', 'model'])
				.merge(['definition'])
		);
	}
	await note(
		trx,
		[
			{
				user: user.email,
				kind: as.kind ?? 'model',
				scenario,
				about: { what: 'model', model },
				before: as.before,
				after,
				why: as.why
			}
		],
		as.batch
	);
	await touchScenario(trx, scenario);
}

export interface ModelChange {
	scenarios: readonly string[];
	model: string;
	/** The definition's identity when it was read; null: it was not there. */
	version: string | null;
	/** Null takes the model out of the scenarios. */
	definition: ModelDefinition | null;
	/** Typed values that no longer have a place are taken out; otherwise they are a reason to refuse. */
	drop: boolean;
}

/** Typed values that a change leaves without a place. */
export interface Displaced {
	scenario: string;
	line: string;
	label: string;
	cells: number;
}

/**
 * Changes a model's definition in scenarios, all of them or none; each is calculated before anything is kept.
 * @throws Refusal 409 when it has been changed since it was read; 422 with each mistake, or with the values that would
 * be displaced
 */
export async function changeModel(
	context: Context,
	change: ModelChange,
	as: SavedAs = { kind: 'model', batch: newBatch() }
): Promise<void> {
	const { user } = context;
	await asOne(context, async (within) => {
		const { db: trx } = within;
		await companyFor(within, 'change driver models');
		const displaced: Displaced[] = [];
		const edits = new Map<string, CellEdit[]>();
		const olds = new Map<string, ModelDefinition | null>();
		for (const scenario of change.scenarios) {
			await mustSee(within, scenario);
			await writableScenario(trx, scenario);
			const models = (await scenarioModels(trx, scenario)).map((m) => m.definition);
			const old = models.find((d) => d.code === change.model) ?? null;
			if ((old && formId(old)) !== change.version)
				throw new Refusal(
					409,
					`The model has been changed in “${(await getScenario(trx, scenario)).name}” since you opened it. Nothing was saved. Open it anew, or leave that scenario out.`
				);
			olds.set(scenario, old);
			const { definition } = change;
			if (definition) {
				if (definition.code !== change.model)
					throw new Refusal(422, 'A model’s code stays what it is; names may change.');
				if (old && old.dimensions.join() !== definition.dimensions.join())
					throw new Refusal(422, 'A model’s dimensions stay what they are. Make a new model for others.');
				if (models.some((d) => d.code !== change.model && d.name === definition.name))
					throw new Refusal(409, `There is a driver model named “${definition.name}” already.`);
				await mustBeDefinition(within, scenario, definition);
			}
			const gone = await displacedBy(trx, scenario, old, definition);
			for (const g of gone) displaced.push(g.words);
			edits.set(
				scenario,
				gone.flatMap((g) => g.edits)
			);
			await mustFitAdjustments(trx, scenario, change.model, definition);
		}
		if (displaced.length && !change.drop)
			throw new Refusal(
				422,
				'Typed figures would have no place any more and would be taken out.',
				[],
				displaced
			);
		for (const scenario of change.scenarios) {
			const old = olds.get(scenario)!;
			const cells = edits.get(scenario)!;
			if (cells.length) await writeCells(trx, scenario, cells, user.email, as);
			await put(within, scenario, change.definition ?? { code: change.model, gone: true }, {
				...as,
				before: old ? formId(old) : '',
				why: changeInWords(old, change.definition)
			});
			await mustFitBases(trx, scenario);
			await planOf(trx, scenario);
		}
	});
}

/** Typed values of lines that are gone or calculated now, and all where the model’s periods are others. */
async function displacedBy(
	trx: Knex.Transaction,
	scenario: string,
	old: ModelDefinition | null,
	definition: ModelDefinition | null
): Promise<{ words: Displaced; edits: CellEdit[] }[]> {
	if (!old) return [];
	// Figures of other periods have no place either.
	const samePeriods = JSON.stringify(old.calendar) === JSON.stringify(definition?.calendar);
	const lines = samePeriods ? (definition?.lines ?? []) : [];
	const typed = new Set(lines.filter(takesTyping).map((l) => l.code));
	const by = new Map<string, { words: Displaced; edits: CellEdit[] }>();
	for (const s of await readSeries(trx, scenario)) {
		if (s.block !== old.code || typed.has(s.line)) continue;
		const label = old.lines.find((l) => l.code === s.line)?.label ?? s.line;
		const found = by.get(s.line) ?? { words: { scenario, line: s.line, label, cells: 0 }, edits: [] };
		by.set(s.line, found);
		s.values.forEach((value, i) => {
			if (Number.isNaN(value)) return;
			found.words.cells++;
			found.edits.push({
				block: s.block,
				line: s.line,
				row: s.row,
				period: s.first + i,
				before: value,
				value: null
			});
		});
	}
	return [...by.values()];
}

async function mustFitAdjustments(
	trx: Knex.Transaction,
	scenario: string,
	model: string,
	definition: ModelDefinition | null
): Promise<void> {
	const fits = (a: AdjustmentDefinition) =>
		a.steps.every((step) =>
			step.lines.every(
				(l) => l.block !== model || definition?.lines.some((x) => x.code === l.line && takesTyping(x))
			)
		);
	const bad = (await readAdjustmentsOf(trx, scenario)).find((a) => a.adopted === null && !fits(a));
	if (bad)
		throw new Refusal(
			422,
			`The adjustment “${bad.name}” changes a line that would be gone or calculated. Remove or adopt it first.`
		);
}

/** A basis of driver × rate needs its line. */
async function mustFitBases(trx: Knex.Transaction, scenario: string): Promise<void> {
	const drivers = await stored.texts(
		trx('basis').where({ scenario }).whereNotNull('driver').distinct('driver').pluck('driver')
	);
	const models = await scenarioModels(trx, scenario);
	for (const driver of drivers) {
		const [model, line] = driver.split('.');
		if (!models.find((m) => m.definition.code === model)?.definition.lines.some((l) => l.code === line))
			throw new Refusal(
				422,
				`An account is planned as ${driver} times a rate. Give it another basis before its line goes.`
			);
	}
}

/** What is other in a definition, in words for the history. */
export function changeInWords(before: ModelDefinition | null, after: ModelDefinition | null): string {
	if (!after) return `${before?.name ?? 'Model'} taken out`;
	if (!before) return `${after.name} added`;
	const was = new Map(before.lines.map((l) => [l.code, l]));
	const is = new Map(after.lines.map((l) => [l.code, l]));
	const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
	const words = [
		...after.lines.filter((l) => !was.has(l.code)).map((l) => `line ${l.label} added`),
		...before.lines.filter((l) => !is.has(l.code)).map((l) => `line ${l.label} removed`),
		...after.lines
			.filter((l) => was.has(l.code) && !same(was.get(l.code), l))
			.map((l) => `line ${l.label} changed`),
		...(same(before.postings, after.postings) ? [] : ['postings changed']),
		...(same(before.proofs ?? [], after.proofs ?? []) ? [] : ['proofs changed']),
		...(before.name === after.name && before.description === after.description
			? []
			: ['name or description']),
		...(same(
			[...was.keys()],
			[...is.keys()].filter((c) => was.has(c))
		)
			? []
			: ['order of lines'])
	];
	return words.join(', ');
}

/** A model's definition with all that is needed to change it. */
export interface ModelDesign {
	definition: ModelDefinition;
	version: string;
	/** The scenario's other models. */
	others: ModelDefinition[];
	accounts: Account[];
	departments: Department[];
	dimensions: Dimension[];
	/** Scenarios that formulas may read. */
	readable: string[];
	/** Schedules that formulas may read, as they call them. */
	schedules: BlockNames[];
	editable: boolean;
	reason: string;
	alsoUsedBy: { code: string; name: string }[];
}

export async function designOf(context: Context, scenario: string, model: string): Promise<ModelDesign> {
	const { db, user } = context;
	const { structure } = await companyFor(context, 'see driver models');
	await mustSee(context, scenario);
	const definitions = (await scenarioModels(db, scenario)).map((m) => m.definition);
	const definition = definitions.find((d) => d.code === model);
	if (!definition) throw notFound(`The driver model “${model}”`);
	const sources = await nameSources(context, structure, scenario);
	const reason = changesReason(user, await getScenario(db, scenario), 'Driver models');
	return {
		definition,
		version: formId(definition),
		others: definitions.filter((d) => d.code !== model),
		accounts: structure.accounts.all,
		departments: structure.departments.all,
		dimensions: [...sources.dimensions],
		readable: [...sources.scenarios],
		schedules: [...(sources.blocks ?? [])],
		editable: reason === '',
		reason,
		alsoUsedBy: await sharedWith(context, MODEL_FORMS, scenario, definition.code)
	};
}
