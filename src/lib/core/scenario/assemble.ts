/** Puts a scenario together: its blocks, of whatever kind, as one calculation. */
import type { Calendar, Period } from '../calendar/calendar';
import { calendarOf } from '../calendar/calendar-of';
import type { AnyCalendarSpec } from '../calendar/spec';
import { yearBefore } from '../calendar/last-year';
import { Exchange } from '../currency/exchange';
import { companyCalendar } from './calendar';
import { axisCovering, axisOf, type Axis } from '../engine/axis';
import { Calculation } from '../engine/calculation';
import { ModelError, type BlockSpec } from '../engine/spec';
import type { Block, Parts } from '../blocks/block';
import { openBlocks } from '../blocks/kinds';
import { namesAmong } from '../blocks/names';
import { formulasOf } from '../blocks/driver-model/schema';
import { atOnce } from '../steps';
import { treeOf, type Structure } from '../company/structure';
import type { Series } from '../inputs/series';
import { adjustBlocks } from './adjusted-inputs';
import { givenBlocks } from './calculated-lines';
import type { ScenarioData } from './data';
import { foreignBlocks } from './foreign';
import type { Plan } from './plan';
import type { Scenario } from './schema';

/** First period that is plan: after the actuals, and not before the scenario's own first. */
export function firstOpen(scenario: Scenario): Period {
	return scenario.actualsThrough === null
		? scenario.first
		: Math.max(scenario.first, scenario.actualsThrough + 1);
}

/**
 * Builds and calculates a scenario.
 * @throws ModelError for a model that cannot be calculated
 */
export function calculateScenario(structure: Structure, data: ScenarioData): Plan {
	const plan = buildScenario(structure, data);
	plan.calculation.calculate();
	return plan;
}

/**
 * Builds a scenario without calculating it.
 * @throws ModelError for a model that cannot be calculated
 */
export const buildScenario = (structure: Structure, data: ScenarioData): Plan =>
	atOnce(buildingScenario(structure, data));

/** The same in steps, between which other work may be done. */
export function* buildingScenario(structure: Structure, data: ScenarioData): Generator<void, Plan> {
	const { calendar, accounts } = structure;
	const { scenario, history } = data;
	const open = firstOpen(scenario);
	const first = Math.min(history.first, yearBefore(calendar, scenario.first));
	const axis = axisOf(calendar, first, scenario.last - first + 1, open - first);
	mustBeReadable(data);
	const { all, accounts: planned } = openBlocks(structure, data);
	const named = new Map([...all].map(([code, block]) => [code, block.names()] as const));
	const spoken = [...named.values()].filter((n) => n !== null);
	const sources = {
		accounts,
		dimensions: [...structure.dimensions.values()].map((d) => d.dimension),
		money: structure.money,
		scenarios: [...(data.others?.keys() ?? [])]
	};
	const rates = data.rates ?? [];
	const exchange = new Exchange(structure.currency, rates, companyCalendar(calendar));
	const parts: Omit<Parts, 'axis'> = {
		exchange,
		typed: seriesByLine(data.series),
		derived: seriesByLine(data.derived ?? []),
		names: (block) => namesAmong(named.get(block)!, spoken, sources)
	};
	const within = (dimension: string, member: string, under: string) =>
		treeOf(structure, dimension)?.within(member, under) ?? member === under;
	/** One for all that have the same calendar. */
	const nameOf = (own: Calendar) => JSON.stringify(own.spec);
	const axes = new Map([[nameOf(calendar), axis]]);
	const periodsOf = (own: Calendar): Axis => {
		const have = axes.get(nameOf(own)) ?? axisCovering(own, axis);
		axes.set(nameOf(own), have);
		return have;
	};
	const wanted = [...all.values()].filter(({ code }) => data.part?.includes(code) ?? true);
	yield;
	const compiled: { block: Block; spec: BlockSpec }[] = [];
	for (const block of wanted) {
		const own = periodsOf(block.calendar);
		const spec = block.compile({ ...parts, axis: own });
		compiled.push({ block, spec: own === axis ? spec : { ...spec, axis: own } });
		yield;
	}
	const { blocks, inputs } = adjustBlocks(compiled, data.adjustments ?? [], axis, calendar, within);
	const periods = (spec: AnyCalendarSpec) => periodsOf(calendarOf(spec));
	const foreign = foreignBlocks(structure, data.others ?? new Map(), periods);
	const given = givenBlocks(data.given?.blocks ?? new Map(), structure, exchange, periods);
	yield;
	const calculation = new Calculation({ axis, within }, [...blocks, ...given, ...foreign]);
	return {
		structure,
		exchange,
		rates,
		ledgerFirst: history.first,
		scenario,
		calculation,
		blocks: all,
		accounts: planned,
		models: new Map(data.models.map((m) => [m.definition.code, m])),
		schedules: new Map((data.schedules ?? []).map((s) => [s.definition.code, s])),
		open,
		inputs
	};
}

/** Series of a block's line. */
function seriesByLine(series: readonly Series[]): (block: string, line: string) => readonly Series[] {
	const found = new Map<string, Series[]>();
	const keyOf = (block: string, line: string) => `${block}\u0000${line}`;
	for (const s of series) {
		const key = keyOf(s.block, s.line);
		const list = found.get(key);
		if (list) list.push(s);
		else found.set(key, [s]);
	}
	return (block, line) => found.get(keyOf(block, line)) ?? [];
}

/** Most characters of all formulas of a scenario: reading them must not keep others waiting. */
export const MOST_FORMULA_TEXT = 300_000;

/** @throws ModelError when there is too much to read */
function mustBeReadable({ models }: ScenarioData): void {
	let text = 0;
	for (const { definition } of models)
		for (const line of definition.lines)
			for (const formula of formulasOf(line)) {
				text += formula.length;
				if (text > MOST_FORMULA_TEXT)
					throw new ModelError(
						definition.code,
						line.code,
						`All formulas together have more than ${MOST_FORMULA_TEXT} characters.`
					);
			}
}
