/** Many rows at once, past the query builder: the one place that talks to the driver itself. */
import type { Knex } from 'knex';

interface Statement {
	run(...values: unknown[]): unknown;
}
interface RawConnection {
	prepare(sql: string): Statement;
}

/** Inserts rows given as arrays in the order of `columns`, inside the transaction. */
export async function insertMany(
	trx: Knex.Transaction,
	table: string,
	columns: readonly string[],
	rows: Iterable<readonly unknown[]>
): Promise<void> {
	// Inside a transaction this hands out the transaction's own connection.
	const connection = (await trx.client.acquireConnection()) as RawConnection;
	const names = columns.map((c) => `"${c}"`).join(', ');
	const statement = connection.prepare(
		`INSERT INTO "${table}" (${names}) VALUES (${columns.map(() => '?').join(', ')})`
	);
	for (const row of rows) statement.run(...row);
}

/** References between rows are checked when the transaction ends, not row by row. */
export async function deferForeignKeys(trx: Knex.Transaction): Promise<void> {
	await trx.raw('PRAGMA defer_foreign_keys = ON');
}

/** A series' values as stored: doubles or whole numbers, little endian. */
export function toBlob(values: Float64Array | Int32Array): Buffer {
	return Buffer.from(values.buffer, values.byteOffset, values.byteLength);
}

export function fromBlob(blob: Uint8Array): Float64Array {
	// Copied, because the driver's buffer need not be aligned to 8 bytes.
	const values = new Float64Array(blob.byteLength / 8);
	new Uint8Array(values.buffer).set(blob);
	return values;
}

export function wholesFromBlob(blob: Uint8Array): Int32Array {
	const values = new Int32Array(blob.byteLength / 4);
	new Uint8Array(values.buffer).set(blob);
	return values;
}
