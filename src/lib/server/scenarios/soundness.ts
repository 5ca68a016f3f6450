/**
 * Whether scenarios can be put together from what is stored: by the same rules by which a company folder is read. Asked
 * before something is kept that may not fit today's members, models and accounts.
 */
import type { Knex } from 'knex';
import { ModelError } from '../../core/engine/spec';
import { structureIn } from '../../core/scenario/calendar';
import { buildScenario } from '../../core/scenario/assemble';
import { adjustmentFaults } from '../../core/scenario/check-adjustment';
import { blocksOf } from '../../core/blocks/kinds';
import { basisFaults } from '../../core/blocks/accounts/check-basis';
import { definitionFaults } from '../../core/blocks/driver-model/check-definition';
import { rowFaults } from '../../core/blocks/driver-model/check-rows';
import { scheduleFaults } from '../../core/blocks/schedule/check-definition';
import { scheduleRowFaults } from '../../core/blocks/schedule/check-rows';
import { sharesCode } from '../../core/blocks/schedule/schema';
import { namesOfSchedules } from '../company/subjects/schedules';
import { foreignReferences, linesOf } from '../../core/scenario/foreign';
import type { OtherLines } from '../../core/scenario/data';
import type { Plan } from '../../core/scenario/plan';
import type { AdjustmentDefinition } from '../../core/inputs/schema';
import type { Structure } from '../../core/company/structure';
import { readAdjustmentsOf } from '../company/subjects/scenario/adjustments';
import { readSeries } from '../company/subjects/scenario/values';
import { readBases } from '../company/subjects/scenario/bases';
import { Refusal, type Fault } from '../platform/refusal';
import { scenarioBlocks, scenarioData, scenarioForms } from './plan-data';
import { ACTUALS, getScenario, listScenarios, namedFor, visibleScenarios } from './scenarios';
import { companyState } from '../company/structure';
import type { Within } from '../platform/context';

/** What stands in a scenario and fits nothing that is there today, as sentences. */
export async function unsoundIn(db: Knex, code: string): Promise<Fault[]> {
	const { structure, calendar } = await companyState(db);
	const forms = await scenarioForms(db, code);
	const { models, schedules } = forms;
	const definitions = models.map((m) => m.definition);
	const blocks = blocksOf(structure, forms);
	const sources = {
		accounts: structure.accounts,
		departments: structure.departments,
		dimensions: [...structure.dimensions.values()].map((d) => d.dimension),
		money: structure.money,
		scenarios: [ACTUALS, ...(await listScenarios(db)).map((s) => s.code)],
		blocks: namesOfSchedules(
			schedules.map((s) => s.definition),
			structure.money
		)
	};
	const ids = new Map(schedules.map((s) => [s.definition.code, new Set(s.rows.map((r) => r.id))]));
	const bases = await readBases(db, code);
	const adjustments = (await readAdjustmentsOf(db, code)).filter((a) => a.adopted === null);
	const faults: Fault[] = [
		...models.flatMap(({ definition, rows }) => [
			...definitionFaults(definition, definitions, sources, calendar).map((f) => ({
				...f,
				message: `${definition.name}: ${f.message}`
			})),
			...rowFaults(definition, definition.dimensions.length ? rows : [], structure).map((f) => ({
				message: `${definition.name}: ${f.message}`
			}))
		]),
		...schedules.flatMap(({ definition, rows }) => [
			...scheduleFaults(
				definition,
				[...blocks.values()].flatMap((b) =>
					b.code === definition.code || b.code === sharesCode(definition.code) ? [] : (b.names() ?? [])
				),
				sources
			).map((f) => ({ ...f, message: `${definition.name}: ${f.message}` })),
			...scheduleRowFaults(definition, rows, structure, ids).map((f) => ({
				message: `${definition.name}, “${rows[f.row].id}”: ${f.message}`
			}))
		]),
		...bases.flatMap((b) => basisFaults(b, structure, definitions)),
		...adjustments.flatMap((a) =>
			adjustmentFaults(a, structure, blocks).map((f) => ({ message: `“${a.name}”: ${f.message}` }))
		)
	];
	for (const { block, line, row } of await readSeries(db, code))
		if (blocks.get(block)?.typingFaults(line, row).length !== 0)
			faults.push({ message: `figures typed for ${block}.${line} in “${row}” have no place` });
	return faults;
}

/** @throws Refusal 422 with each step that changes what is computed, not planned, or not there */
export async function mustBeAdjustments(
	db: Knex,
	scenario: string,
	structure: Structure,
	adjustments: readonly AdjustmentDefinition[]
): Promise<void> {
	const blocks = await scenarioBlocks(db, scenario);
	for (const adjustment of adjustments) {
		const faults = adjustmentFaults(adjustment, structure, blocks);
		if (faults.length) throw new Refusal(422, `“${adjustment.name}”: ${faults[0].message}.`, faults);
	}
}

/** @throws Refusal 422 with everything that does not fit */
export async function mustBeSound(db: Knex, code: string): Promise<void> {
	const faults = await unsoundIn(db, code);
	if (faults.length)
		throw new Refusal(
			422,
			`“${(await getScenario(db, code)).name}” does not fit what the company is today: ${faults[0].message}`,
			faults
		);
}

/** @throws Refusal 422 when a change would leave scenarios that cannot be calculated; hidden ones are not named */
export async function mustStillBuild(context: Within): Promise<void> {
	const broken = await brokenScenarios(context.db);
	if (!broken.length) return;
	const named = await namedFor(
		context,
		broken.map((b) => b.scenario)
	);
	const seen = new Set((await visibleScenarios(context)).map((s) => s.code));
	const told = broken.find((b) => seen.has(b.scenario));
	throw new Refusal(
		422,
		`${named} could not be calculated any more${told ? `: ${told.fault.message}` : '.'} Nothing was saved.`
	);
}

/** Scenarios that cannot be put together, each with the mistake; nothing is calculated. */
export async function brokenScenarios(db: Knex): Promise<{ scenario: string; fault: Fault }[]> {
	const state = await companyState(db);
	const codes = (await listScenarios(db)).map((s) => s.code);
	const built = new Map<string, Plan | Fault>();
	const build = async (code: string, waiting: readonly string[]): Promise<Plan | Fault> => {
		const done = built.get(code);
		if (done) return done;
		if (waiting.includes(code)) {
			const path = [...waiting.slice(waiting.indexOf(code)), code].join(' → ');
			return { message: `these scenarios need each other's figures: ${path}` };
		}
		const forms = await scenarioForms(db, code);
		const references = foreignReferences(forms);
		const others = new Map<string, OtherLines>();
		for (const other of new Set(references.map((r) => r.scenario))) {
			if (!codes.includes(other)) continue;
			const plan = await build(other, [...waiting, code]);
			if ('message' in plan) return plan;
			const wanted = references.filter((r) => r.scenario === other);
			others.set(other, linesOf(plan, wanted));
		}
		const made = await (async () => {
			try {
				const scenario = await getScenario(db, code);
				return buildScenario(
					structureIn(state.structure, scenario),
					await scenarioData(db, scenario, state, null, forms, others)
				);
			} catch (e) {
				if (e instanceof ModelError) return { message: e.message, file: e.block, column: e.line };
				throw e;
			}
		})();
		built.set(code, made);
		return made;
	};
	const broken = [];
	for (const scenario of codes) {
		const plan = await build(scenario, []);
		if ('message' in plan) broken.push({ scenario, fault: plan });
	}
	return broken;
}
