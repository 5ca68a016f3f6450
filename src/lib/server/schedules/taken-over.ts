/** Figures that are typed where a schedule comes to post: they stay over what is posted, or go; whoever saves it says which. */
import { sharesCode, type ScenarioSchedule } from '../../core/blocks/schedule/schema';
import { placesPosted } from '../../core/blocks/schedule/postings';
import { ACCOUNTS_BLOCK } from '../../core/engine/spec';
import type { CellEdit } from '../../core/inputs/cell';
import { firstOpen } from '../../core/scenario/assemble';
import { inOwnPeriods } from '../../core/scenario/calendar';
import { saveAccounts } from '../accounts/department-plan';
import { readSeries } from '../company/subjects/scenario/values';
import { companyState } from '../company/structure';
import type { Within } from '../platform/context';
import { Refusal } from '../platform/refusal';
import type { SavedAs } from '../scenarios/cells';
import { scenarioBlocks } from '../scenarios/plan-data';
import { getScenario } from '../scenarios/scenarios';
import type { Kept } from './keep';

/** Kept over what is posted, or taken out. */
export const DECISIONS = ['keep', 'remove'] as const;
export type Decision = (typeof DECISIONS)[number];

/** What is typed for an account in a department to which a schedule comes to post. */
export interface TakenOver {
	scenario: string;
	account: string;
	department: string;
	/** Of both, in words. */
	name: string;
	/** How many periods are typed. */
	cells: number;
	/** What they come to, in the department's currency. */
	sum: number;
}

/**
 * Looks for typed figures under what a change of a schedule posts, and does with them what was decided.
 * @returns those that nothing was decided of
 * @throws Refusal 403 where a department's plan is submitted, and its figures are to go
 */
export async function settleTyped(
	within: Within,
	scenario: string,
	{ before, after }: Kept,
	decision: Decision | undefined,
	as: SavedAs
): Promise<TakenOver[]> {
	if (decision === 'keep' || !after) return [];
	const { structure, calendar } = await companyState(within.db);
	const now = placesPosted(without(after, before), structure);
	// Rows that are posted where they were are looked at by themselves: of all others nothing can be new.
	for (const was of before ? [without(before, after), before] : []) {
		if (!now.size) return [];
		for (const place of placesPosted(was, structure)) now.delete(place);
	}
	if (!now.size) return [];
	for (const [code, block] of await scenarioBlocks(within.db, scenario))
		if (code !== after.definition.code && code !== sharesCode(after.definition.code))
			for (const [account, inflows] of block.inflows())
				for (const { rowsOf } of inflows)
					for (const department of rowsOf.keys()) now.delete(placeOf(account, department));
	const open = firstOpen(inOwnPeriods(await getScenario(within.db, scenario), calendar));
	const found: TakenOver[] = [];
	const edits: CellEdit[] = [];
	for (const { block, line, row, first, values } of await readSeries(within.db, scenario)) {
		if (block !== ACCOUNTS_BLOCK || !now.has(placeOf(line, row))) continue;
		const typed = [...values.keys()].filter((i) => !Number.isNaN(values[i]) && first + i >= open);
		if (!typed.length) continue;
		const sum = typed.reduce((s, i) => s + values[i], 0);
		const name = `${structure.accounts.get(line)?.name ?? line}, ${structure.departments.get(row)?.name ?? row}`;
		found.push({ scenario, account: line, department: row, name, cells: typed.length, sum });
		edits.push(
			...typed.map((i) => ({ block, line, row, period: first + i, before: values[i], value: null }))
		);
	}
	if (decision !== 'remove' || !edits.length) return found;
	await saveAccounts(within, scenario, edits, as);
	return [];
}
/** A schedule with those of its rows that the other one does not have as they are. */
function without(schedule: ScenarioSchedule, other: ScenarioSchedule | null): ScenarioSchedule {
	if (schedule.definition !== other?.definition) return schedule;
	const there = new Set(other.rows);
	return { ...schedule, rows: schedule.rows.filter((row) => !there.has(row)) };
}
const placeOf = (account: string, department: string) => `${account}\u0000${department}`;

/** @throws Refusal 422 with what is typed there, where anything is */
export function mustBeSettled(typed: readonly TakenOver[]): void {
	if (typed.length)
		throw new Refusal(
			422,
			'Figures are typed where this would be posted. Nothing was saved: say whether they stay over what is posted, or go.',
			[],
			{ typed }
		);
}
