/** Periods of a scenario's blocks, which may have others than the company. */
import type { Knex } from 'knex';
import type { Calendar, Period } from '../../core/calendar/calendar';
import { scenarioCalendar } from '../../core/scenario/calendar';
import { Period as PeriodIn } from '../platform/schemas';
import { Refusal } from '../platform/refusal';
import { companyState } from '../company/structure';
import { scenarioBlocks } from './plan-data';
import { getScenario, mustSee } from './scenarios';
import type { Context } from '../platform/context';

/** The scenario’s periods: the company’s, or coarser ones in later years. */
export const calendarIn = async (db: Knex, scenario: string): Promise<Calendar> =>
	scenarioCalendar((await companyState(db)).calendar, await getScenario(db, scenario));

/** In which periods a block’s figures stand; what is no block has the scenario’s. */
export async function calendarsIn(db: Knex, scenario: string): Promise<(block: string) => Calendar> {
	const calendar = await calendarIn(db, scenario);
	const blocks = await scenarioBlocks(db, scenario);
	return (block) => blocks.get(block)?.calendar ?? calendar;
}

/**
 * Cells as a request writes them, each in the periods of its block.
 * @throws Refusal 404 for a scenario that the user may not see, 400 for what is no period of the block
 */
export async function cellsRead<T extends { block: string; period: string }>(
	context: Context,
	scenario: string,
	written: readonly T[]
): Promise<(Omit<T, 'period'> & { period: Period })[]> {
	await mustSee(context, scenario);
	const calendarOf = await calendarsIn(context.db, scenario);
	const periods = readPeriods(
		written.map(({ block, period: text }, i) => ({
			calendar: calendarOf(block),
			text,
			column: `edits.${i}.period`
		}))
	);
	return written.map((cell, i) => ({ ...cell, period: periods[i] }));
}

/**
 * Reads periods as requests write them.
 * @param column where in the request each stands
 * @throws Refusal 400 for what is no period of that calendar
 */
export function readPeriods(
	periods: readonly { calendar: Calendar; text: string; column: string }[]
): Period[] {
	const faults: { column: string; message: string }[] = [];
	const found = periods.map(({ calendar, text, column }) => {
		const read = PeriodIn(calendar).safeParse(text);
		if (!read.success) faults.push({ column, message: read.error.issues[0].message });
		return read.data ?? 0;
	});
	if (faults.length) throw new Refusal(400, 'The request is not as expected.', faults.slice(0, 50));
	return found;
}
