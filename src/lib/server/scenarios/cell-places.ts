/** Whether a cell is there at all: notes, items and attachments hang on none that is not. */
import { yearBefore } from '../../core/calendar/last-year';
import { spanOnto } from '../../core/calendar/onto';
import type { Knex } from 'knex';
import type { CellAddress } from '../../core/inputs/cell';
import { notFound, Refusal } from '../platform/refusal';
import { scenarioBlocks } from './plan-data';
import { getScenario } from './scenarios';
import { companyState } from '../company/structure';

/** @throws Refusal 404 for a line, row or department that is not there, 422 for a month that the scenario does not show */
export async function mustBeCell(db: Knex, scenario: string, cell: CellAddress): Promise<void> {
	const block = (await scenarioBlocks(db, scenario)).get(cell.block);
	const missing = block ? block.missing(cell.line, cell.row) : `The driver model “${cell.block}”`;
	if (missing) throw notFound(missing);
	if (block?.line(cell.line)?.timeless) return;
	const { calendar: company, actuals } = await companyState(db);
	const own = await getScenario(db, scenario);
	const calendar = block?.calendar ?? company;
	const { from, to: last } = spanOnto(calendar, company, {
		from: Math.min(yearBefore(company, own.first), actuals.first),
		to: own.last
	});
	if (cell.period < from || cell.period > last)
		throw new Refusal(
			422,
			`${calendar.longLabel(cell.period)} is no ${calendar.words.one} of this scenario, which shows ${calendar.longLabel(from)} to ${calendar.longLabel(last)}.`
		);
}
