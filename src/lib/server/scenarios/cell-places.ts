/** Whether a cell is there at all: notes, items and attachments hang on none that is not. */
import type { Knex } from 'knex';
import { LEDGER_BLOCK } from '../../core/blocks/accounts/schema';
import { rowKey } from '../../core/engine/row-key';
import { notFound, Refusal } from '../platform/refusal';
import { scenarioModels } from './plan-data';
import { getScenario } from './scenarios';
import { companyState } from '../company/structure';

/** A cell: an account's month in a department (block `ledger`), or a line's month in a row of a driver model. */
export interface CellAddress {
	block: string;
	line: string;
	row: string;
	period: number;
}

/** @throws Refusal 404 for a line, row or department that is not there, 422 for a month that the scenario does not show */
export async function mustBeCell(db: Knex, scenario: string, cell: CellAddress): Promise<void> {
	const { structure, calendar, actuals } = await companyState(db);
	if (cell.block === LEDGER_BLOCK) {
		if (!structure.accounts.get(cell.line)) throw notFound(`The account “${cell.line}”`);
		if (!structure.departments.get(cell.row)) throw notFound(`The department “${cell.row}”`);
	} else {
		const model = (await scenarioModels(db, scenario)).find((m) => m.definition.code === cell.block);
		if (!model) throw notFound(`The driver model “${cell.block}”`);
		const { definition, rows } = model;
		if (!definition.lines.some((l) => l.code === cell.line))
			throw notFound(`The line “${cell.line}” of ${definition.name}`);
		const known = definition.dimensions.length ? rows.some((r) => rowKey(r) === cell.row) : cell.row === '';
		if (!known) throw notFound(`The row “${cell.row}” of ${definition.name}`);
	}
	const { first, last } = await getScenario(db, scenario);
	const from = Math.min(first - calendar.periodsPerYear, actuals.first);
	if (cell.period < from || cell.period > last)
		throw new Refusal(
			422,
			`${calendar.longLabel(cell.period)} is no month of this scenario, which shows ${calendar.longLabel(from)} to ${calendar.longLabel(last)}.`
		);
}
