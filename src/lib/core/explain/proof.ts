/** Proofs: expected figures kept with a model, compared with what it gives. */
import type { Calendar, Period } from '../calendar/calendar';
import { periodNamed } from '../calendar/onto';
import { rollUp } from '../engine/rollup';
import { cellAt, type Cell } from '../engine/values';
import type { ModelDefinition, Proof } from '../blocks/driver-model/schema';
import { rollupLines } from '../views/model-view';
import type { Plan } from '../scenario/plan';
import { modelCalendar } from '../blocks/driver-model/periods';
import { isUnder } from '../blocks/driver-model/rows';

export interface ProofResult {
	name: string;
	line: string;
	/** Why it could not be compared; empty when it was. */
	problem: string;
	compared: number;
	/** Where what the model gives lies further from what is expected than the tolerance. */
	differences: { period: Period; expected: number | null; actual: Cell }[];
}

/** Compares all proofs of a model. One that holds has no difference and no problem. */
export function checkProofs(plan: Plan, model: string): ProofResult[] {
	const definition = plan.models.get(model)?.definition;
	return (definition?.proofs ?? []).map((proof) => checkProof(plan, definition!, proof));
}

function checkProof(plan: Plan, definition: ModelDefinition, proof: Proof): ProofResult {
	const { calculation, structure } = plan;
	const axis = calculation.axisOf(definition.code);
	const result: ProofResult = {
		name: proof.name,
		line: proof.line,
		problem: '',
		compared: 0,
		differences: []
	};
	const first = periodNamed(modelCalendar(definition, structure.calendar), proof.first);
	if (first === null) return { ...result, problem: `“${proof.first}” is no period of the calendar.` };
	if (!definition.lines.some((l) => l.code === proof.line))
		return { ...result, problem: `There is no line “${proof.line}”.` };
	const { rows } = calculation.block(definition.code);
	const group = Int32Array.from(rows, (row) => (isUnder(proof.where, definition, row, structure) ? 0 : -1));
	if (!group.includes(0)) return { ...result, problem: 'No row lies under the members named.' };
	const totals = rollUp((code) => calculation.matrix(definition.code, code), rollupLines(definition), {
		rows: group,
		groups: 1,
		periods: Int32Array.from({ length: axis.length }, (_, t) => t),
		buckets: axis.length
	}).get(proof.line)!;
	const periodAt = periodsFrom(modelCalendar(definition, structure.calendar), proof.first, first);
	proof.expected.forEach((expected, i) => {
		const period = periodAt(i);
		if (period === null) return;
		const t = period - axis.first;
		const actual = t >= 0 && t < axis.length ? cellAt(totals, 0, t) : null;
		result.compared++;
		const same =
			expected === null || actual === null
				? expected === actual
				: typeof actual === 'number' && Math.abs(actual - expected) <= proof.tolerance;
		if (!same) result.differences.push({ period, expected, actual });
	});
	return result;
}

/**
 * The periods that figures are expected for, one after the other. Where months are named and later years are coarser, a
 * month in one of those is no period that could be compared.
 */
function periodsFrom(calendar: Calendar, named: string, first: Period): (i: number) => Period | null {
	const { months } = calendar;
	const month = months?.parse(named) ?? null;
	if (!months || month === null) return (i) => first + i;
	return (i) => calendar.parse(months.key(month + i));
}
