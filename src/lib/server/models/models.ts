/** Driver models: reading values with totals, typing inputs, changing formulas. */
import { z } from 'zod';
import { checkFormula, type Names } from '../../core/formula/check';
import { checkRollups } from '../../core/blocks/driver-model/check';
import { ROW_SEPARATOR, rowKey } from '../../core/engine/row-key';
import type { ModelDefinition } from '../../core/blocks/driver-model/schema';
import { membersAt } from '../../core/inputs/combinations';
import { rowName } from '../../core/blocks/driver-model/rows';
import { modelCalendar } from '../../core/blocks/driver-model/periods';
import { isTypedCell } from '../../core/blocks/driver-model/scope';
import type { Plan } from '../../core/scenario/plan';
import { treeOf, type Structure } from '../../core/company/structure';
import { checkProofs, type ProofResult } from '../../core/explain/proof';
import type { DefinitionSources } from '../../core/blocks/definition';
import { lineQuantity, namesFor } from '../../core/blocks/driver-model/names';
import { endOnto, spanOnto } from '../../core/calendar/onto';
import type { AnyCalendarSpec } from '../../core/calendar/spec';
import { periodsOf, quartersOf, type Span } from '../../core/calendar/spans';
import { attributesOf } from '../../core/company/attributes';
import { ownValue } from '../../core/text';
import type { Arrangement } from '../../core/views/arrangement';
import { modelFigures, type ModelFigures, type ModelQuery } from '../../core/views/model-view';
import { check } from '../platform/check';
import { inOrder, Window } from '../platform/schemas';
import type { CellEdit } from '../../core/inputs/cell';
import { writeCells, type SavedAs } from '../scenarios/cells';
import { MODEL_FORMS } from '../company/subjects/models';
import { namesOfSchedules } from '../company/subjects/schedules';
import { changesReason, sharedWith } from '../scenarios/form-sharing';
import { formId, keepForm } from '../company/subjects/forms-in-use';
import { note } from '../company/journal';
import { keptLayout } from './layouts';
import { notFound, Refusal } from '../platform/refusal';
import { calendarsIn } from '../scenarios/block-periods';
import { scenarioForms, scenarioModels } from '../scenarios/plan-data';
import { keepingToThoseWhoSee } from '../scenarios/rests-on';
import { planOf } from '../scenarios/plans';
import { ACTUALS, mustSee, touchScenario, visibleScenarios, writableScenario } from '../scenarios/scenarios';
import { type CompanyState, companyFor } from '../company/structure';
import { asOne, type Context } from '../platform/context';

export interface ModelView extends ModelFigures {
	definition: ModelDefinition;
	dimensions: DimensionView[];
	/** What the cells of an entry across stand for: months, quarters, the whole window. */
	spans: Span[];
	/** Expected figures kept with the model, compared with what it gives. */
	proofs: ProofResult[];
	/** What formulas of this model may refer to. */
	names: Names;
	/** In whose periods it is kept; `spans`, `open` and `last` are its. */
	calendar: AnyCalendarSpec;
	open: number;
	last: number;
	editable: boolean;
	reason: string;
	/** Rows that may hold no data, with the rule that says so. */
	blocked: Record<string, string>;
	/** Identity of the definition: to be changed only as it was read. */
	version: string;
	/** Other open scenarios that use the same form of this model. */
	alsoUsedBy: { code: string; name: string }[];
}

export interface DimensionView {
	code: string;
	name: string;
	/** Members in use, and what is above them. */
	members: { code: string; name: string; depth: number }[];
	attributes: { code: string; values: string[] }[];
}

/** What is wanted of a model: a window of the company’s periods, and how it is arranged. */
export interface ModelRequest extends Partial<Arrangement> {
	scenario: string;
	model: string;
	from: number;
	to: number;
	/** The same window in the model’s own periods, where it is asked for in those. */
	own?: Span;
	hideEmpty?: boolean;
	/** Only so many rows come with figures. */
	rowsWithCells?: number;
}

export async function listModels(context: Context, scenario: string) {
	const { db } = context;
	const { structure } = await companyFor(context, 'see driver models');
	await mustSee(context, scenario);
	return (await scenarioModels(db, scenario)).map(({ definition, rows }) => ({
		code: definition.code,
		name: definition.name,
		description: definition.description,
		dimensions: definition.dimensions.map((d) =>
			d === 'department' ? 'Department' : (structure.dimensions.get(d)?.dimension.name ?? d)
		),
		dimensionCodes: definition.dimensions,
		/** What its periods are called, where they are not the company’s. */
		keptIn: definition.calendar ? modelCalendar(definition, structure.calendar).words.many : '',
		lines: definition.lines.length,
		inputs: definition.lines.filter((l) => l.formula === undefined).length,
		rows: definition.dimensions.length ? rows.length : 1,
		postings: [
			...new Set(
				definition.postings.map((p) => definition.lines.find((l) => l.code === p.line)?.label ?? p.line)
			)
		]
	}));
}

/** @throws Refusal 404 */
export function modelOf(plan: Plan, code: string) {
	const model = plan.models.get(code);
	if (!model) throw notFound(`The driver model “${code}”`);
	return model;
}

/** A model’s own periods in a plan: which are open, and the last. */
function periodsIn({ blocks, calculation, structure, scenario }: Plan, model: string) {
	const { calendar } = blocks.get(model)!;
	return {
		calendar,
		open: calculation.openOf(model),
		last: endOnto(calendar, structure.calendar, scenario.last)
	};
}

/** A window as a request writes it. */
interface WrittenWindow {
	from: string;
	to: string;
	/** Whose periods these are. */
	periods: 'company' | 'model';
}

/** A request for a model with its window as it is written. */
export type WrittenRequest = Omit<ModelRequest, 'from' | 'to' | 'own'> & WrittenWindow;

/** @throws Refusal 400 for what is no period of that calendar, or a window that is too long */
export const readWrittenModel = async (context: Context, request: WrittenRequest): Promise<ModelView> =>
	readModel(context, await requestRead(context, request));

/** @throws Refusal 400 for what is no period of that calendar, or a window that is too long */
export async function requestRead(
	context: Context,
	{ from, to, periods, ...query }: WrittenRequest
): Promise<ModelRequest> {
	const { db } = context;
	const { calendar: company } = await companyFor(context, 'see driver models');
	await mustSee(context, query.scenario);
	const own = (await calendarsIn(db, query.scenario))(query.model);
	const calendar = periods === 'model' ? own : company;
	const inCompany = (span: Span) => spanOnto(company, calendar, span);
	const window = check(
		{ from, to },
		z.object(Window(calendar)).superRefine((w, context) => inOrder(w.to < w.from ? w : inCompany(w), context))
	);
	return { ...query, ...inCompany(window), ...(periods === 'model' ? { own: window } : {}) };
}

/** What a request shows of a model that the plan has. */
export function shownOf(plan: Plan, { own, ...query }: ModelRequest): ModelQuery {
	const { structure } = plan;
	const { calendar } = periodsIn(plan, query.model);
	const window = own ?? spanOnto(calendar, structure.calendar, query);
	return { ...query, spans: [...periodsOf(window), ...quartersOf(calendar, window), window] };
}

export async function readModel(context: Context, query: ModelRequest): Promise<ModelView> {
	const { db, user } = context;
	const state = await companyFor(context, 'see driver models');
	const { structure } = state;
	await mustSee(context, query.scenario);
	const plan = await planOf(db, query.scenario);
	const { definition } = modelOf(plan, query.model);
	const { calculation } = plan;
	const { rows } = calculation.block(query.model);
	const { calendar, open, last } = periodsIn(plan, query.model);
	const wanted = shownOf(plan, query);
	const figures = modelFigures(plan, wanted, keptLayout(plan, wanted));

	const reason = changesReason(user, plan.scenario, 'Driver models');
	return {
		definition,
		dimensions: definition.dimensions.map((d) => dimensionView(plan, definition, rows, d)),
		...figures,
		spans: [...wanted.spans],
		proofs: checkProofs(plan, query.model),
		names: namesFor(
			definition,
			[...plan.models.values()].map((m) => m.definition),
			await nameSources(context, structure, query.scenario)
		),
		calendar: calendar.spec,
		open,
		last,
		editable: reason === '',
		reason,
		blocked: blockedRows(state, definition, rows),
		version: formId(definition),
		alsoUsedBy: await sharedWith(context, MODEL_FORMS, query.scenario, definition.code)
	};
}

function blockedRows(
	{ rules, blocking }: CompanyState,
	{ dimensions }: ModelDefinition,
	rows: readonly (readonly string[])[]
): Record<string, string> {
	if (!rules.some((r) => r.on)) return {};
	return Object.fromEntries(
		rows.flatMap((row) => {
			const rule = blocking(membersAt(dimensions, row));
			return rule ? [[rowKey(row), rule.name]] : [];
		})
	);
}

function dimensionView(
	plan: Plan,
	definition: ModelDefinition,
	rows: readonly (readonly string[])[],
	code: string
): DimensionView {
	const { structure } = plan;
	const at = definition.dimensions.indexOf(code);
	const used = new Set(rows.map((r) => r[at]));
	const tree = treeOf(structure, code)!;
	const inUse = new Set([...used].flatMap((m) => tree.ancestors(m).map((a) => a.code)));
	const dimension = structure.dimensions.get(code)?.dimension;
	return {
		code,
		name: dimension?.name ?? 'Department',
		members: tree.all
			.filter((m) => inUse.has(m.code))
			.map((m) => ({ code: m.code, name: m.name, depth: tree.depth(m.code) })),
		attributes: (dimension ? attributesOf(dimension) : []).map((attribute) => ({
			code: attribute,
			values: [
				...new Set(
					dimension!.members.flatMap((m) =>
						inUse.has(m.code) ? ownValue(m.attributes, attribute) || [] : []
					)
				)
			].sort()
		}))
	};
}

/** Saves typed inputs of one model; answers how many cells changed. */
export async function saveModelCells(
	context: Context,
	scenario: string,
	model: string,
	edits: readonly CellEdit[],
	as: SavedAs
): Promise<number> {
	const { user } = context;
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const state = await companyFor(within, 'change driver models');
		await mustSee(within, scenario);
		await writableScenario(trx, scenario);
		const plan = await planOf(trx, scenario);
		const { definition } = modelOf(plan, model);
		const { calendar, open, last } = periodsIn(plan, model);
		const keys = new Set(plan.calculation.block(model).rows.map(rowKey));
		const blocked = (c: readonly string[]) => state.blocking(membersAt(definition.dimensions, c));
		for (const e of edits) {
			const line = definition.lines.find((l) => l.code === e.line);
			if (!keys.has(e.row)) throw new Refusal(422, `“${e.row}” is no row of ${definition.name}.`);
			const coordinate = definition.dimensions.length ? e.row.split(ROW_SEPARATOR) : [];
			if (!line || !isTypedCell(line, definition, coordinate, e.period, state.structure))
				throw new Refusal(422, `“${line?.label ?? e.line}” is calculated and cannot be typed.`);
			// What stands in a blocked cell may be taken out, and nothing else put in.
			const rule = e.value === null ? null : blocked(coordinate);
			if (rule)
				throw new Refusal(
					422,
					`${rowName(state.structure, definition, e.row)} may hold no data, by the combination rule “${rule.name}”. Nothing was saved.`
				);
			if (e.period < open || e.period > last)
				throw new Refusal(
					422,
					`${calendar.longLabel(e.period)} is ${e.period < open ? 'closed' : `beyond the scenario’s last ${calendar.words.one}`} and cannot be typed.`
				);
		}
		return writeCells(trx, scenario, edits, user.email, as);
	});
}

/** What formulas of a scenario's models may refer to beyond the models. */
export async function nameSources(
	context: Context,
	structure: Structure,
	scenario: string
): Promise<DefinitionSources> {
	// A scenario that is hidden from somebody is not read by their formulas either.
	const others = (await visibleScenarios(context)).filter((s) => s.code !== scenario);
	return {
		accounts: structure.accounts,
		departments: structure.departments,
		dimensions: [...structure.dimensions.values()].map((d) => d.dimension),
		money: structure.money,
		scenarios: [...new Set([ACTUALS, ...others.map((s) => s.code)])],
		blocks: namesOfSchedules(
			(await scenarioForms(context.db, scenario)).schedules.map((s) => s.definition),
			structure.money
		)
	};
}

/**
 * Changes a line's formula in a scenario and in those others named; all of them are calculated before anything is kept.
 * @throws Refusal 422 with the place in the formula, or the circle of lines it would close
 */
export async function saveFormula(
	context: Context,
	input: { scenario: string; model: string; line: string; formula: string; also: readonly string[] }
): Promise<void> {
	const { user } = context;
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const { structure } = await companyFor(within, 'change driver models');
		for (const code of [input.scenario, ...input.also]) {
			await mustSee(within, code);
			await writableScenario(trx, code);
			const models = await scenarioModels(trx, code);
			const model = models.find((m) => m.definition.code === input.model);
			const line = model?.definition.lines.find((l) => l.code === input.line);
			if (!model || !line) throw notFound(`The line “${input.line}” of “${input.model}”`);
			if (line.formula === undefined)
				throw new Refusal(422, `“${line.label}” is typed in; it has no formula.`);
			const names = namesFor(
				model.definition,
				models.map((m) => m.definition),
				await nameSources(within, structure, code)
			);
			const { errors } = checkFormula(input.formula, names, lineQuantity(line, structure.money));
			if (errors.length)
				throw new Refusal(
					422,
					errors[0].message,
					errors.map((e) => ({ message: e.message, column: line.code, span: e.span }))
				);
			if (line.formula === input.formula) continue;
			const changed: ModelDefinition = {
				...model.definition,
				lines: model.definition.lines.map((l) =>
					l.code === line.code ? { ...l, formula: input.formula } : l
				)
			};
			const [rollup] = checkRollups(changed);
			if (rollup) throw new Refusal(422, `${line.label}: ${rollup.message}.`);
			const definition = await keepForm(trx, changed);
			await keepingToThoseWhoSee(within, () =>
				trx('scenario_model').where({ scenario: code, model: input.model }).update({ definition })
			);
			await note(trx, [
				{
					user: user.email,
					kind: 'formula',
					scenario: code,
					about: { what: 'formula', model: input.model, line: input.line },
					before: line.formula,
					after: input.formula,
					why: ''
				}
			]);
			await touchScenario(trx, code);
			await planOf(trx, code);
		}
	});
}
