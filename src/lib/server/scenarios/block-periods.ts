/** Periods of a scenario's blocks, which may have others than the company. */
import type { Knex } from 'knex';
import type { Calendar, Period } from '../../core/calendar/calendar';
import { Period as PeriodIn } from '../platform/schemas';
import { Refusal } from '../platform/refusal';
import { companyState } from '../company/structure';
import { scenarioBlocks } from './plan-data';

/** In which periods a block's figures stand; what is no block has the company's. */
export async function calendarsIn(db: Knex, scenario: string): Promise<(block: string) => Calendar> {
	const { calendar } = await companyState(db);
	const blocks = await scenarioBlocks(db, scenario);
	return (block) => blocks.get(block)?.calendar ?? calendar;
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
