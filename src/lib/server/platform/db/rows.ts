/** Plain objects as rows of a table. */
import type { Knex } from 'knex';
import { insertMany } from './bulk';

/** Inserts objects of one shape; none is fine. */
export async function insertRows(
	trx: Knex.Transaction,
	table: string,
	rows: readonly object[]
): Promise<void> {
	if (!rows.length) return;
	const columns = Object.keys(rows[0]);
	const cells = rows.map((r) => columns.map((c) => (r as Record<string, unknown>)[c]));
	await insertMany(trx, table, columns, cells);
}

/**
 * All values of a column in a group, as one JSON array: many small rows cost more to hand over than to read. Lists of two
 * columns of one query have the same order; numbers have 15 digits.
 */
export const listOf = (db: Knex, column: string): Knex.Raw => db.raw('json_group_array(??)', [column]);

/** In their order. */
export const numbered = <T extends object>(rows: readonly T[]): (T & { position: number })[] =>
	rows.map((row, position) => ({ ...row, position }));

/** Copies rows of one scenario to another, inside the database. */
export async function copyRows(
	trx: Knex.Transaction,
	table: string,
	columns: readonly string[],
	from: string,
	to: string
): Promise<void> {
	await trx(
		trx.raw(`?? (??, ${columns.map(() => '??').join(', ')})`, [table, 'scenario', ...columns])
	).insert(
		trx(table)
			.where({ scenario: from })
			.select(trx.raw('?', [to]), ...columns)
	);
}
