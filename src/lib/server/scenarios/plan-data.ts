/** What a scenario is calculated from, as it stands in the database. */
import type { Knex } from 'knex';
import type { Calendar } from '../../core/calendar/calendar';
import { beginOnto } from '../../core/calendar/onto';
import { BLANK, cellAt, marksOf, newMatrix, setCell, type Matrix } from '../../core/engine/values';
import type { History } from '../../core/blocks/accounts/schema';
import { ACCOUNTS_BLOCK } from '../../core/engine/spec';
import type { Block } from '../../core/blocks/block';
import { blocksOf, sameForms, type Forms } from '../../core/blocks/kinds';
import type { Structure } from '../../core/company/structure';
import { noForms, readForms } from '../company/subjects/scenario/block-forms';
import { modelCalendar } from '../../core/blocks/driver-model/periods';
import type { ScenarioModel } from '../../core/blocks/driver-model/schema';
import type { Scenario } from '../../core/scenario/schema';
import type { Series } from '../../core/inputs/series';
import { adjustmentsFrom } from '../../core/inputs/adjust';
import { inOwnPeriods, scenarioCalendar, structureIn } from '../../core/scenario/calendar';
import { firstOpen } from '../../core/scenario/assemble';
import { derivedSeries, derivesActuals, followedSeries } from '../../core/scenario/derive';
import { Exchange } from '../../core/currency/exchange';
import { setFor, type CurrencyRates } from '../../core/currency/rates';
import type { OtherLines, ScenarioData } from '../../core/scenario/data';
import type { Plan } from '../../core/scenario/plan';
import { readSeries } from '../company/subjects/scenario/values';
import { readAdjustmentsOf } from '../company/subjects/scenario/adjustments';
import { readBases } from '../company/subjects/scenario/bases';
import { ACTUALS, getScenario } from './scenarios';
import type { Footing } from '../company/footing';
import { companyState, taggedActuals, type CompanyState } from '../company/structure';

/** The forms of the scenario's blocks, which nobody changes; the same ones as long as they read the same. */
export async function scenarioForms(db: Knex, code: string): Promise<Forms> {
	return code === ACTUALS ? NONE : readForms(db, code);
}
const NONE: Forms = noForms();
export const scenarioModels = async (db: Knex, code: string): Promise<readonly ScenarioModel[]> =>
	(await scenarioForms(db, code)).models;

/** Its blocks, of every kind, as they are formed; nothing is calculated. */
export async function scenarioBlocks(db: Knex, code: string): Promise<ReadonlyMap<string, Block>> {
	const structure = structureIn((await companyState(db)).structure, await getScenario(db, code));
	const forms = await scenarioForms(db, code);
	const made = blocksMade.get(structure) ?? [];
	blocksMade.set(structure, made);
	const have = made.find((m) => sameForms(m.forms, forms));
	if (have) return have.blocks;
	const blocks = blocksOf(structure, forms);
	if (made.push({ forms, blocks }) > MOST_BLOCKS) made.shift();
	return blocks;
}
/** As they were made last, by the structure and the forms that they are made of. */
const blocksMade = new WeakMap<Structure, { forms: Forms; blocks: ReadonlyMap<string, Block> }[]>();
const MOST_BLOCKS = 12;

export async function scenarioData(
	db: Knex,
	scenario: Scenario,
	state: CompanyState,
	before: Plan | null,
	forms: Forms,
	others: ReadonlyMap<string, OtherLines>
): Promise<ScenarioData> {
	const adjustments = await readAdjustmentsOf(db, scenario.code);
	const rates = setFor(state.rateSets, scenario.rates)?.rates ?? [];
	return {
		scenario: inOwnPeriods(scenario, state.calendar),
		...forms,
		series: scenario.kind === 'actuals' ? [] : await readSeries(db, scenario.code),
		bases: await readBases(db, scenario.code),
		adjustments: adjustmentsFrom(adjustments, scenarioCalendar(state.calendar, scenario)),
		rates,
		derived: await derivedOf(db, state, scenario, forms.models, before, rates),
		history: historyBefore(scenario, state, before),
		others
	};
}

/** What the ledger says for models, as long as these, the ledger and the closed months are the same. */
const derivedBefore = new WeakMap<
	readonly ScenarioModel[],
	{ footing: Footing; through: number; rates: readonly CurrencyRates[]; series: Series[] }
>();

/** What lines of models hold in closed months: by the ledger's tags, and after it by the followed scenario. */
async function derivedOf(
	db: Knex,
	state: CompanyState,
	scenario: Scenario,
	models: readonly ScenarioModel[],
	before: Plan | null,
	rates: readonly CurrencyRates[]
): Promise<Series[]> {
	if (!models.some((m) => derivesActuals(m.definition))) return [];
	const through = scenario.actualsThrough ?? scenario.first - 1;
	const have = derivedBefore.get(models);
	const actual =
		have?.footing === state.footing && have.through === through && have.rates === rates
			? have.series
			: await actualSeries(db, state, models, through, rates);
	derivedBefore.set(models, { footing: state.footing, through, rates, series: actual });
	const followed = before ? followedSeries(models, before, through + 1, firstOpen(scenario) - 1) : [];
	return [...actual, ...followed];
}

/** By the ledger, each model in its own periods: up to the last that is closed as a whole. */
async function actualSeries(
	db: Knex,
	state: CompanyState,
	models: readonly ScenarioModel[],
	through: number,
	rates: readonly CurrencyRates[]
): Promise<Series[]> {
	const found: Series[] = [];
	const exchange = new Exchange(state.structure.currency, rates, state.calendar);
	for (const [calendar, own] of byCalendar(models, state.calendar)) {
		const last = beginOnto(calendar, state.calendar, through + 1) - 1;
		const booked = await taggedActuals(db, state, calendar);
		found.push(...derivedSeries(own, state.structure, booked, last, exchange));
	}
	return found;
}

function byCalendar(models: readonly ScenarioModel[], company: Calendar): Map<Calendar, ScenarioModel[]> {
	const found = new Map<Calendar, ScenarioModel[]>();
	for (const model of models) {
		const calendar = modelCalendar(model.definition, company);
		const list = found.get(calendar);
		if (list) list.push(model);
		else found.set(calendar, [model]);
	}
	return found;
}

/** Actuals, and between them and the plan's first month what the followed scenario says. */
function historyBefore(
	scenario: Scenario,
	{ actuals, structure }: CompanyState,
	before: Plan | null
): History {
	const open = firstOpen(scenario);
	const through = scenario.actualsThrough ?? scenario.first - 1;
	if (before === null || through >= open - 1) return actuals;
	const first = Math.min(actuals.first, through + 1);
	const accounts = new Map<string, Matrix>();
	for (const account of structure.accounts.all) {
		if (!structure.accounts.isLeaf(account.code)) continue;
		const matrix = newMatrix(structure.departmentRows.length, open - first);
		marksOf(matrix).fill(BLANK);
		const actual = actuals.accounts.get(account.code);
		for (let t = 0; t < matrix.periods; t++)
			for (let r = 0; r < matrix.rows; r++) {
				const p = first + t;
				const cell =
					p > through
						? before.calculation.cell(ACCOUNTS_BLOCK, account.code, r, p)
						: actual && p >= actuals.first && p <= actuals.last
							? cellAt(actual, r, p - actuals.first)
							: null;
				if (typeof cell === 'number') setCell(matrix, r, t, cell);
			}
		accounts.set(account.code, matrix);
	}
	return { first, accounts };
}
