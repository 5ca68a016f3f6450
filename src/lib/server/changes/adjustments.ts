/** What-if: a scenario's adjustments, and writing them into its inputs. */
import type { Knex } from 'knex';
import { z } from 'zod';
import { calculateScenario } from '../../core/scenario/assemble';
import { adjustmentsFrom, type Adjustment } from '../../core/inputs/adjust';
import type { ScenarioData } from '../../core/scenario/data';
import type { Plan } from '../../core/scenario/plan';
import { AdjustmentDefinition } from '../../core/inputs/schema';
import { blocksOf } from '../../core/blocks/kinds';
import type { Adopting, RowValueEdit } from '../../core/blocks/block';
import { saveCells } from './save-cells';
import { saveRows } from '../schedules/rows';
import type { SavedAs } from '../scenarios/cells';
import { insertAdjustments, readAdjustmentsOf } from '../company/subjects/scenario/adjustments';
import { fromJournal, newBatch, note } from '../company/journal';
import { notFound, Refusal } from '../platform/refusal';
import { dataOf, planOf } from '../scenarios/plans';
import { mustBeAdjustments } from '../scenarios/soundness';
import { rememberTyped } from '../scenarios/typed-since';
import { adjustsClosed, closedToIn, mustAdjustOpenly } from '../scenarios/individual-pay';
import { mustSee, touchScenario, writableScenario } from '../scenarios/scenarios';
import { type CompanyState, companyFor } from '../company/structure';
import { asOne, type Context, type Within } from '../platform/context';
import { timestamp } from '../platform/settings';

export type AdjustmentChange =
	/** A new one, or another form of the one with its code. */
	| { action: 'put'; adjustment: AdjustmentDefinition }
	| { action: 'switch'; code: string; on: boolean }
	/** To another place in the order. */
	| { action: 'move'; code: string; to: number }
	| { action: 'remove'; code: string };

/** An adjustment with its place in the order, as the journal holds it. */
export const adjustmentWords = (list: readonly AdjustmentDefinition[], code: string): string => {
	const place = list.findIndex((a) => a.code === code);
	return place < 0 ? '' : JSON.stringify({ place, ...list[place] });
};

async function open(context: Within, scenario: string): Promise<CompanyState> {
	const { db: trx } = context;
	const state = await companyFor(context, 'change driver models');
	await mustSee(context, scenario);
	await writableScenario(trx, scenario);
	return state;
}

/** A scenario's adjustments, also those that were adopted, without those that change what is kept from the user. */
export async function readAdjustments(context: Context, scenario: string): Promise<AdjustmentDefinition[]> {
	const { db } = context;
	await companyFor(context, 'see driver models');
	await mustSee(context, scenario);
	const closed = await closedToIn(context, scenario);
	return (await readAdjustmentsOf(db, scenario)).filter((a) => !adjustsClosed(a, closed));
}

/**
 * Changes a scenario's adjustments; it is calculated before anything is kept.
 * @throws Refusal 422 for one that changes what is computed or not there
 */
export async function changeAdjustments(
	context: Context,
	scenario: string,
	change: AdjustmentChange
): Promise<void> {
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const { structure } = await open(within, scenario);
		const plan = change.action === 'put' ? await planOf(trx, scenario) : null;
		const list = await readAdjustmentsOf(trx, scenario);
		const code = change.action === 'put' ? change.adjustment.code : change.code;
		const at = list.findIndex((a) => a.code === code);
		if (at < 0 && change.action !== 'put') throw notFound(`The adjustment “${code}”`);
		const before = list[at];
		const was = adjustmentWords(list, code);
		const closed = await closedToIn(within, scenario);
		if (before) mustAdjustOpenly(before, closed);
		switch (change.action) {
			case 'put':
				mustAdjustOpenly(change.adjustment, closed);
				await mustBeAdjustments(trx, scenario, structure, [change.adjustment]);
				if (list.some((a) => a.code !== code && a.name === change.adjustment.name))
					throw new Refusal(409, `There is an adjustment named “${change.adjustment.name}” already.`);
				list.splice(at < 0 ? list.length : at, at < 0 ? 0 : 1, { ...change.adjustment, adopted: null });
				break;
			case 'switch':
				if (before.adopted !== null)
					throw new Refusal(422, `“${before.name}” is written into the inputs and cannot be switched.`);
				list[at] = { ...before, on: change.on };
				break;
			case 'move': {
				list.splice(at, 1);
				// Places are counted among those that the user sees; it goes before the one that stands there.
				const seen = list.filter((a) => !adjustsClosed(a, closed));
				const next = seen[Math.max(0, change.to)];
				list.splice(next ? list.indexOf(next) : list.length, 0, before);
				break;
			}
			case 'remove':
				list.splice(at, 1);
		}
		await store(trx, scenario, list);
		await note(trx, [
			{
				user: context.user.email,
				kind: 'adjustment',
				scenario,
				about: { what: 'adjustment', code },
				before: was,
				after: adjustmentWords(list, code),
				why: ''
			}
		]);
		rememberTyped(trx, scenario, await touchScenario(trx, scenario), { adjustments: list });
		// Built for all of its adjustments, a scenario can be calculated with any of them switched, moved or taken out.
		if (plan && !takes(plan, list)) await planOf(trx, scenario);
	});
}
/** Whether the scenario can be calculated with these adjustments as it is put together now. */
const takes = ({ inputs, structure }: Plan, list: readonly AdjustmentDefinition[]): boolean =>
	inputs.takes(adjustmentsFrom(list, structure.calendar));

const Placed = AdjustmentDefinition.extend({ place: z.int().min(0) });

/** Puts an adjustment back into a list as the journal's words have it, in its place; empty words take it out. */
export function putBack(list: AdjustmentDefinition[], code: string, words: string): void {
	const at = list.findIndex((a) => a.code === code);
	if (at >= 0) list.splice(at, 1);
	if (words === '') return;
	const { place, ...former } = fromJournal(words, Placed);
	list.splice(Math.min(place, list.length), 0, former);
}

/** Keeps a scenario's adjustments in this order. */
export async function store(
	trx: Knex.Transaction,
	scenario: string,
	list: readonly AdjustmentDefinition[]
): Promise<void> {
	await trx('adjustment').where({ scenario }).delete();
	await insertAdjustments(trx, scenario, list);
}

/**
 * Those that are written in together with one: it and, because the order counts, every earlier one that is on and
 * changes the same lines.
 */
export function adoptedWith(list: readonly AdjustmentDefinition[], code: string): AdjustmentDefinition[] {
	const last = list.findIndex((a) => a.code === code);
	const chosen = new Set([last]);
	const lines = (i: number) => list[i].steps.flatMap((s) => s.lines.map((l) => `${l.block}.${l.line}`));
	for (let grown = true; grown;) {
		grown = false;
		const named = new Set([...chosen].flatMap(lines));
		for (let i = 0; i < last; i++) {
			const { on, adopted } = list[i];
			if (chosen.has(i) || !on || adopted !== null || !lines(i).some((l) => named.has(l))) continue;
			chosen.add(i);
			grown = true;
		}
	}
	return list.filter((_, i) => chosen.has(i));
}

/**
 * Writes adjustments into the inputs: typed lines and rows of schedules get their adjusted values, accounts get what they
 * come to as typed figures. The scenario's figures stay as they are.
 * @param codes those to adopt; earlier ones that change the same lines go with them
 * @returns how many cells and values of rows were written, which adjustments went in, and the name of the change for
 * undoing it
 */
export async function adoptAdjustments(
	context: Context,
	scenario: string,
	codes: readonly string[]
): Promise<{ saved: number; adopted: string[]; batch: string }> {
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const state = await open(within, scenario);
		const list = await readAdjustmentsOf(trx, scenario);
		const chosen = new Set<string>();
		for (const code of codes) {
			const own = list.find((a) => a.code === code);
			if (!own || own.adopted !== null) throw notFound(`The adjustment “${code}”`);
			for (const a of adoptedWith(list, code)) chosen.add(a.code);
		}
		const closed = await closedToIn(within, scenario);
		for (const a of list) if (chosen.has(a.code)) mustAdjustOpenly(a, closed);
		const data = await dataOf(trx, scenario);
		const { cells, values } = adopting(state, data, chosen);
		const as = { kind: 'adopt', batch: newBatch() };
		const saved =
			(await saveCells(within, scenario, cells, as)) + (await saveValues(within, scenario, values, as));
		const { batch } = as;
		const at = timestamp();
		const after = list.map((a) => (chosen.has(a.code) ? { ...a, on: false, adopted: at } : a));
		await store(trx, scenario, after);
		await note(
			trx,
			list.flatMap((a) =>
				chosen.has(a.code)
					? [
							{
								user: context.user.email,
								kind: 'adopt',
								scenario,
								about: { what: 'adjustment' as const, code: a.code },
								before: adjustmentWords(list, a.code),
								after: adjustmentWords(after, a.code),
								why: ''
							}
						]
					: []
			),
			batch
		);
		await touchScenario(trx, scenario);
		await planOf(trx, scenario);
		return { saved, adopted: list.filter((a) => chosen.has(a.code)).map((a) => a.name), batch };
	});
}

/** Puts values into rows of schedules. @returns how many */
async function saveValues(
	within: Within,
	scenario: string,
	values: readonly RowValueEdit[],
	as: SavedAs
): Promise<number> {
	let saved = 0;
	for (const schedule of new Set(values.map((v) => v.block))) {
		const changes = values
			.filter((v) => v.block === schedule)
			.map(({ row, column, before, value }) => ({ kind: 'set' as const, id: row, column, before, value }));
		saved += await saveRows(within, { scenario, schedule, changes }, as);
	}
	return saved;
}

/** What holds something else once these adjustments are in it. */
function adopting({ structure }: CompanyState, data: ScenarioData, chosen: ReadonlySet<string>): Adopting {
	const all = data.adjustments ?? [];
	const named = new Map<string, NamedLine>();
	for (const a of all)
		if (chosen.has(a.code))
			for (const step of a.steps) for (const l of step.lines) named.set(`${l.block}.${l.line}`, l);
	/** The scenario without the chosen ones and with them, among some of the others. */
	const both = (others: readonly Adjustment[]) =>
		[false, true].map((on) => {
			const adjustments = all.flatMap((a) =>
				chosen.has(a.code) ? [{ ...a, on }] : others.filter((o) => o.code === a.code)
			);
			return calculateScenario(structure, { ...data, adjustments });
		});
	const blocks = blocksOf(structure, data);
	const [over, under] = [true, false].map((is) =>
		[...named.values()].filter((l) => blocks.get(l.block)?.typedOverAdjusted === is)
	);
	const edits = (lines: readonly NamedLine[], others: readonly Adjustment[]): Adopting[] => {
		if (!lines.length) return [];
		const [without, with_] = both(others);
		return lines.map((l) => with_.blocks.get(l.block)!.adopting(without, with_, l.line));
	};
	const found = [
		...edits(under, []),
		// Typed as it stands under the others that are on; what they do to the line itself stays on top of it.
		...edits(
			over,
			all.map((a) => sparing(a, over))
		)
	];
	return { cells: found.flatMap((f) => f.cells), values: found.flatMap((f) => f.values) };
}

interface NamedLine {
	block: string;
	line: string;
}

/** An adjustment without what it does to some lines. */
function sparing(a: Adjustment, lines: readonly NamedLine[]): Adjustment {
	const spared = new Set(lines.map((l) => `${l.block}.${l.line}`));
	const steps = a.steps.map((s) => ({
		...s,
		lines: s.lines.filter((l) => !spared.has(`${l.block}.${l.line}`))
	}));
	return { ...a, steps };
}
