/** A schedule with what its open lines are worked out from, for those who see its rows and not what people earn. */
import { isPersonal, readsOf, withoutPersonal, type Personal } from '../blocks/schedule/personal';
import type { ScenarioSchedule } from '../blocks/schedule/schema';
import type { Structure } from '../company/structure';
import { formulasOf } from '../blocks/driver-model/schema';
import { buildScenario } from './assemble';
import type { ScenarioData } from './data';
import { partFor } from './part';

/**
 * Lines that tell nothing personal give the very figures that they give in the whole scenario.
 * @param block of a schedule
 * @returns null where an open line comes, by way of accounts or driver models, from something that is left out
 */
export function partWithoutPay(
	structure: Structure,
	data: ScenarioData,
	block: string,
	personal: Personal
): ScenarioData | null {
	const open = (of: string, line: string) => !isPersonal(personal, of, line);
	// Rows that are told apart by something personal cannot be told apart without it.
	const steps = data.adjustments?.flatMap((a) => (a.on ? a.steps : [])) ?? [];
	if (
		steps.some(({ lines, where }) =>
			lines.some(({ block: of }) => Object.keys(where).some((column) => !open(of, column)))
		)
	)
		return null;
	const blind: ScenarioData = {
		...data,
		schedules: data.schedules?.map((s) => emptied(s, personal)),
		series: data.series.filter((s) => open(s.block, s.line)),
		adjustments: data.adjustments?.map((adjustment) => ({
			...adjustment,
			steps: adjustment.steps.map((step) => ({
				...step,
				lines: step.lines.filter((l) => open(l.block, l.line))
			}))
		}))
	};
	const part = partFor(buildScenario(structure, blind), blind, block);
	if (!part.part) return null;
	const within = new Set(part.part);
	const reads = part.models
		.filter((m) => within.has(m.definition.code))
		.flatMap((m) => m.definition.lines.flatMap(formulasOf).flatMap(readsOf))
		.some((read) => read.block !== null && !open(read.block, read.line));
	if (reads) return null;
	const kept = new Map(data.schedules?.map((s) => [s.definition.code, withoutPersonal(s, personal)]));
	return {
		...part,
		schedules: part.schedules?.map(({ definition: { code }, rows }) =>
			rows.length ? kept.get(code)! : { ...kept.get(code)!, rows: [] }
		)
	};
}

/** With the names of all that it has, so that what reads them can be made, and nothing in what is personal. */
function emptied(schedule: ScenarioSchedule, personal: Personal): ScenarioSchedule {
	const { definition } = schedule;
	const hidden = personal.get(definition.code);
	if (!hidden) return schedule;
	const typed = <T extends { code: string; formula?: string }>(own: T): T => {
		if (!hidden.has(own.code) || own.formula === undefined) return own;
		const blank = { ...own };
		delete blank.formula;
		return blank;
	};
	return {
		definition: {
			...definition,
			columns: definition.columns.map(typed),
			lines: definition.lines.map(typed),
			postings: []
		},
		rows: withoutPersonal(schedule, personal).rows
	};
}
